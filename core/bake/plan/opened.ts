import type { BakePlan } from './bakePlan';

/**
 * The plan of a bake in which some objects stand in no light's way, and send none back: over a bake with them, which it takes the light of all other
 * objects from.
 *
 * @param names of these objects
 */
export function opened(plan: BakePlan, names: readonly string[]): BakePlan {
  const gone = names.map((name) => ({ by: 'object' as const, name, traced: false, bothSides: null }));
  const over: BakePlan = { ...plan, roles: [...(plan.roles ?? []), ...gone] };
  for (const part of ['only', 'left', 'changed', 'partly'] as const) delete over[part];
  return over;
}
