import { toFrame } from '../../units';

/**
 * Low-discrepancy points: the first two Sobol dimensions, shuffled and Owen-scrambled by hashing, one independent pair
 * per use (Burley 2020, "Practical Hash-based Owen Scrambling"; the scramble is Laine & Karras 2011 as refined there).
 * Everything follows from the seed, so a texel gets the same points whoever gathers it.
 */

function reverseBits(x: number): number {
  x = ((x >>> 1) & 0x55555555) | ((x & 0x55555555) << 1);
  x = ((x >>> 2) & 0x33333333) | ((x & 0x33333333) << 2);
  x = ((x >>> 4) & 0x0f0f0f0f) | ((x & 0x0f0f0f0f) << 4);
  x = ((x >>> 8) & 0x00ff00ff) | ((x & 0x00ff00ff) << 8);
  return ((x >>> 16) | (x << 16)) >>> 0;
}

/** A hash under which each bit depends only on the bits below it (Burley 2020, listing 2, with its improved constants). */
function laineKarras(x: number, seed: number): number {
  x = (x ^ Math.imul(x, 0x3d20adea)) >>> 0;
  x = (x + seed) >>> 0;
  x = Math.imul(x, (seed >>> 16) | 1) >>> 0;
  x = (x ^ Math.imul(x, 0x05526c56)) >>> 0;
  x = (x ^ Math.imul(x, 0x53a22864)) >>> 0;
  return x;
}

const scramble = (x: number, seed: number) => reverseBits(laineKarras(reverseBits(x), seed));

/** A well-mixed 32-bit hash of two integers (the finaliser of MurmurHash3 over their sum with a golden-ratio step). */
export function hash32(a: number, b: number): number {
  let h = (a + Math.imul(b, 0x9e3779b9) + 0x85ebca6b) >>> 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/** Most maps of a level whose seeds are told apart. */
const MAPS = 1 << 16;

/** What the samples of a texel are scrambled by: another for each texel, map and `seed` of a bake. */
export const texelSeed = (texel: number, map: number, seed = 0): number => hash32(texel, map + 1 + seed * MAPS);

/**
 * The second Sobol dimension, its bits reversed. Its matrix is Pascal's triangle modulo 2: bit i of the outcome is the sum of those
 * bits j of the index whose number holds all of i's own bits, and such sums are five steps.
 */
function sobolSecondReversed(index: number): number {
  let x = index;
  x ^= (x >>> 1) & 0x55555555;
  x ^= (x >>> 2) & 0x33333333;
  x ^= (x >>> 4) & 0x0f0f0f0f;
  x ^= (x >>> 8) & 0x00ff00ff;
  x ^= (x >>> 16) & 0x0000ffff;
  return x >>> 0;
}

/**
 * Point `index` of the pair `pair` of the sequence `seed`: two numbers in [0, 1), into `out`.
 */
export function samplePair(index: number, pair: number, seed: number, out: Float64Array): void {
  const own = hash32(seed, pair);
  const shuffled = scramble(index, own);
  // Each dimension is scrambled: its bits reversed, hashed and turned back. The first is a reversal itself.
  out[0] = reverseBits(laineKarras(shuffled, hash32(own, 1))) / 2 ** 32;
  out[1] = reverseBits(laineKarras(sobolSecondReversed(shuffled), hash32(own, 2))) / 2 ** 32;
}

/**
 * Unit vector about the unit normal (nx, ny, nz), cosine-weighted from two numbers in [0, 1) (Shirley & Chiu's
 * concentric disc, lifted), into `out`. The frame is that of Duff et al. 2017.
 */
export function cosineDirection(nx: number, ny: number, nz: number, a: number, b: number, out: Float64Array): void {
  const x = 2 * a - 1;
  const y = 2 * b - 1;
  let radius = 0;
  let phi = 0;
  if (x !== 0 || y !== 0) {
    if (Math.abs(x) > Math.abs(y)) {
      radius = x;
      phi = (Math.PI / 4) * (y / x);
    } else {
      radius = y;
      phi = Math.PI / 2 - (Math.PI / 4) * (x / y);
    }
  }
  const up = Math.sqrt(Math.max(0, 1 - radius * radius));
  toFrame(nx, ny, nz, radius * Math.cos(phi), radius * Math.sin(phi), up, out);
}

/**
 * Unit vector within the disc of angular radius `radius` (its cosine given) about a unit axis, uniform over the solid
 * angle, from two numbers in [0, 1), into `out`.
 */
export function coneDirection(ax: number, ay: number, az: number, cosRadius: number, a: number, b: number, out: Float64Array): void {
  const up = 1 - a * (1 - cosRadius);
  const level = Math.sqrt(Math.max(0, 1 - up * up));
  const phi = 2 * Math.PI * b;
  toFrame(ax, ay, az, level * Math.cos(phi), level * Math.sin(phi), up, out);
}
