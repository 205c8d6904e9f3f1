import { percent } from '../../units';
import { tracedParts } from '../stems/stemParts';
import type { BakePlan } from './bakePlan';
import { leaving } from './left';

/** How tiles are gathered once a bake is to be finished early: by the fewest paths from each texel, however noisy they leave it. */
export const byFewestPaths = (trace: BakePlan): BakePlan => ({ ...trace, most: 1 });

/**
 * The plan of a bake that was finished early: it says so among what is out of date, and all that was traced may be traced again.
 *
 * @param share of its texels that have the fewest paths, 0..1
 */
export const finishedEarly = (plan: BakePlan, trace: BakePlan, share: number): BakePlan =>
  leaving(plan, plan.left, [`it was finished early: ${percent(share)} of the texels have the fewest paths`], tracedParts(trace));
