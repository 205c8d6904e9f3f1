/** Bytes for whether a texel was gathered, and for its noise: one for each kind of light. */
export const NOISE_BYTES = 3;

/** In the first byte. */
const GATHERED = 128;
/** Codes of noise: 0, and from 2^-10 up by steps of 2^(1/9). */
const MOST = 127;
const STEPS = 9;
const LEAST = -10;

const noiseOf = (code: number): number => (code === 0 ? 0 : 2 ** ((code - 1) / STEPS + LEAST));
const noiseCode = (noise: number): number =>
  noise > 0 ? Math.min(MOST, Math.max(1, Math.round((Math.log2(noise) - LEAST) * STEPS) + 1)) : 0;

/** The bytes of a texel, of its noise by kind. */
export const noiseBytes = (isGathered: boolean, noise: readonly number[]): number[] =>
  noise.map((v, kind) => noiseCode(v) | (kind === 0 && isGathered ? GATHERED : 0));

/** What bytes say: whether the texel was gathered, of the first; and the noise of its kind, of each. */
export const isGatheredIn = (first: number): boolean => (first & GATHERED) !== 0;
export const noiseIn = (byte: number): number => NOISES[byte & MOST]!;

const NOISES = Float64Array.from({ length: MOST + 1 }, (_, code) => noiseOf(code));
