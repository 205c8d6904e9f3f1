import type { LayoutOptions } from '../../level';
import type { Rig } from '../../rig';
import { tracedParts } from '../stems/stemParts';
import type { BakePlan } from './bakePlan';
import { leaving } from './left';
import { QUALITIES, planBake } from './planBake';
import { bakeChange } from './staleReasons';

/** Said among what is out of date of a bake whose parts were traced at rough. */
export const TRACED_ROUGH = 'what changed since was traced at rough';

/** A bake over another one: what it holds, and what of that is traced. */
export interface ToTrace {
  plan: BakePlan;
  trace: BakePlan;
}

/**
 * What is traced at rough for a rig that was edited, over the bake that is done: the parts that are out of date, and no others. They stay out of date
 * where the rig asks for more than rough. Null where there is nothing to trace.
 *
 * @param done null where nothing is baked yet
 */
export function keepUp(done: { plan: BakePlan; layout: LayoutOptions } | null, rig: Rig): ToTrace | null {
  // What was traced at rough before is not traced so again.
  const change = done && bakeChange({ ...done, plan: { ...done.plan, left: undefined } }, rig);
  if (change?.reasons.length === 0) return null;
  const wanted = planBake(rig);
  const trace = { ...(change?.trace ?? wanted), ...QUALITIES.rough };
  const plan = change?.plan ?? wanted;
  // A bake of everything leaves nothing of the one before.
  const before = trace.partly || trace.only ? done?.plan.left : undefined;
  const isRough = rig.bake.quality === 'rough';
  return { plan: leaving(plan, before, isRough ? [] : [TRACED_ROUGH], isRough ? [] : tracedParts(trace)), trace };
}
