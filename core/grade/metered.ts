import { ev100FromLuminance } from '../units';

/** Bounds within which exposure is automatic, EV at ISO 100, and what is added to what is metered; fixed where they are equal. */
export interface MeteringRange {
  lowEv: number;
  highEv: number;
  biasEv: number;
}

/** Luminances under this do not pull the mean down, cd/m2: the eye sees nothing there either. */
const FLOOR = 1e-6;

export const isFixed = ({ lowEv, highEv }: MeteringRange): boolean => lowEv === highEv;

/**
 * The EV100 that a picture is exposed at: what a reflected-light meter reads from the logarithmic mean of its luminances,
 * with the bias, kept within the bounds.
 *
 * @param luminances of the picture, cd/m2, evenly over it; not read where the exposure is fixed
 */
export function meteredEv(range: MeteringRange, luminances: ArrayLike<number>): number {
  if (isFixed(range)) return range.lowEv;
  let sum = 0;
  for (let i = 0; i < luminances.length; i++) sum += Math.log2(Math.max(FLOOR, luminances[i]!));
  const ev = luminances.length > 0 ? ev100FromLuminance(2 ** (sum / luminances.length)) : range.highEv;
  return Math.min(range.highEv, Math.max(range.lowEv, ev + range.biasEv));
}
