import type { Quantity } from '../desk/quantity';

/** Steps of a ladder. */
export const STEPS = { least: 3, most: 7, preset: 5 } as const;
/** How far a ladder goes to each side of the present value at first, as a share of the slider. */
const REACH = 0.15;
/** The same where the value is in stops. */
const REACH_EV = 2;

/** Where a ladder about a value begins and ends: as far on both sides, within what the quantity may be. */
export function ladderRange(value: number, { unit, min, max, toScale, fromScale, snap }: Quantity): [from: number, to: number] {
  if (unit === 'EV') return [Math.max(min, value - REACH_EV), Math.min(max, value + REACH_EV)];
  const at = toScale(value);
  const reach = Math.min(REACH, Math.max(at, 1 - at));
  const [low, high] = [Math.max(0, at - reach), Math.min(1, at + reach)];
  return [snap(fromScale(low)), snap(fromScale(high))];
}

/** Values from one end to the other, evenly as the slider has them; each once. */
export function ladderValues(from: number, to: number, steps: number, { toScale, fromScale, snap }: Quantity): number[] {
  const [a, b] = [toScale(from), toScale(to)];
  return [...new Set(Array.from({ length: steps }, (_, k) => snap(fromScale(a + ((b - a) * k) / (steps - 1)))))];
}
