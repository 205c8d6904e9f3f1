import { hashed, smoothstep } from '../../units';
import type { Flicker } from '../document/types';

/** What is left of a failing tube's light while it drops out. */
const DROPPED = 0.05;
/** Octaves of a flame's noise, each twice as fast and half as strong. */
const OCTAVES = 3;

/** Gradient noise along a line (Perlin 1985, quintic blend of 2002), -1 to 1, mean 0. */
function noise(x: number, seed: number): number {
  const cell = Math.floor(x);
  const f = x - cell;
  const slope = (n: number) => hashed(n, seed) * 2 - 1;
  const blend = f * f * f * (f * (f * 6 - 15) + 10);
  const [a, b] = [slope(cell) * f, slope(cell + 1) * (f - 1)];
  return 2 * (a + (b - a) * blend);
}

/**
 * What a flickering circuit's light is multiplied by at a moment.
 *
 * - A flame: 1 + amount x noise at its rate, not under 0; its mean is 1.
 * - A failing tube: in each span of 60 / perMin seconds one drop-out to 0.05 at a place of its own, `offShare` of the span long.
 * - A pulse: 1 for `onShare` of its period and 0 for the rest, its edges softened by `softness` of half the time that it is on.
 *
 * @param seconds of the game's own time
 * @param seed of the circuit, by `seedOf` its id
 */
export function flickerGain(flicker: Flicker, seconds: number, seed: number): number {
  switch (flicker.as) {
    case 'flame': {
      let sum = 0;
      for (let k = 0; k < OCTAVES; k++) sum += noise(seconds * flicker.rateHz * 2 ** k, seed + k) / 2 ** k;
      return Math.max(0, 1 + flicker.amount * sum);
    }
    case 'failing': {
      const span = 60 / flicker.perMin;
      const slot = Math.floor(seconds / span);
      const at = seconds / span - slot;
      const begins = hashed(slot, seed) * (1 - flicker.offShare);
      return at >= begins && at < begins + flicker.offShare ? DROPPED : 1;
    }
    case 'pulse': {
      const at = (((seconds / flicker.periodS + hashed(0, seed)) % 1) + 1) % 1;
      // Distance from the middle of the pulse, as a share of half its length.
      const off = Math.abs(at - 0.5) / (flicker.onShare / 2);
      if (flicker.onShare >= 1) return 1;
      if (flicker.softness === 0) return off <= 1 ? 1 : 0;
      return 1 - smoothstep(1 - flicker.softness, 1, off);
    }
  }
}
