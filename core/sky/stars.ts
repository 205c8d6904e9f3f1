import type { Vec3 } from '../units';

/** Stars of a sky of our own making, in a frame whose pole is +Y. */
export interface Stars {
  /** Unit vectors, 3 per star. */
  directions: Float32Array;
  /** Illuminance of each above the air, lux. */
  illuminances: Float32Array;
}

/** Illuminance of a star of magnitude 0 above the air, lux (Allen's Astrophysical Quantities, 4th ed., 15.3). */
const MAGNITUDE_ZERO_LUX = 2.54e-6;
/** How much more stars there are of each next magnitude, log10 (the slope of counts of naked-eye stars). */
const SLOPE = 0.51;
const BRIGHTEST = -1;
const FAINTEST = 6.2;

/** A computed catalogue: evenly spread, denser along a band, as many of each magnitude as the naked eye counts on Earth. */
export function makeStars(count = 2600, seed = 5): Stars {
  let state = seed;
  const next = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
  const directions = new Float32Array(count * 3);
  const illuminances = new Float32Array(count);
  const [low, high] = [10 ** (SLOPE * BRIGHTEST), 10 ** (SLOPE * FAINTEST)];
  for (let i = 0; i < count;) {
    const up = 2 * next() - 1;
    const phi = 2 * Math.PI * next();
    const level = Math.sqrt(1 - up * up);
    const d: Vec3 = [level * Math.cos(phi), up, level * Math.sin(phi)];
    const off = d[0] * 0.83 + d[1] * 0.46 + d[2] * 0.32;
    if (next() > 0.45 + 0.55 * Math.exp(-((off / 0.28) ** 2))) continue;
    const magnitude = Math.log10(low + (high - low) * next()) / SLOPE;
    directions.set(d, i * 3);
    illuminances[i] = MAGNITUDE_ZERO_LUX * 10 ** (-0.4 * magnitude);
    i++;
  }
  return { directions, illuminances };
}
