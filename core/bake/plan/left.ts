import type { BakePlan } from './bakePlan';

/** The plan of a bake that leaves more to be done than another did: reasons that are told, and keys of the parts that are stale for them. */
export function leaving(plan: BakePlan, before: BakePlan['left'], reasons: readonly string[], stale: readonly string[]): BakePlan {
  const left = {
    reasons: [...new Set([...(before?.reasons ?? []), ...reasons])],
    stale: [...new Set([...(before?.stale ?? []), ...stale])],
  };
  return { ...plan, left: left.reasons.length > 0 ? left : undefined };
}
