/**
 * A colour in three bytes, beside the largest that its layer has: ten bits for the logarithm of the sum of its channels, seven for the red's
 * share of the sum, and seven for the green's.
 */
export const COLOR_BYTES = 3;

/** Doublings that ten bits are spread over: what is more of them darker than the largest counts as dark. */
const DOUBLINGS = 22;
const LAST = 1023;
const SHARES = 127;

/** The sum of channels that a code stands for, as a share of the largest. */
const sumOf = (code: number): number => (code === 0 ? 0 : 2 ** (((code - LAST) * DOUBLINGS) / LAST));

/** The code of a colour: 24 bits. Channels under 0 count as 0. */
export function colorCode(r: number, g: number, b: number, largest: number): number {
  const sum = Math.max(r, 0) + Math.max(g, 0) + Math.max(b, 0);
  if (!(sum > 0) || !(largest > 0)) return 0;
  const level = Math.min(LAST, Math.round(LAST + (Math.log2(sum / largest) * LAST) / DOUBLINGS));
  if (level <= 0) return 0;
  const red = Math.round((Math.max(r, 0) / sum) * SHARES);
  const green = Math.min(SHARES - red, Math.round((Math.max(g, 0) / sum) * SHARES));
  return level | (red << 10) | (green << 17);
}

/** Adds the colour of a code, times gains, to three numbers of `out`. */
export function addColor(code: number, largest: number, gains: readonly number[], out: Float32Array, at: number): void {
  const sum = SUMS[code & LAST]! * largest;
  if (sum === 0) return;
  const red = (code >> 10) & SHARES;
  const green = (code >> 17) & SHARES;
  const unit = sum / SHARES;
  out[at] = out[at]! + gains[0]! * red * unit;
  out[at + 1] = out[at + 1]! + gains[1]! * green * unit;
  out[at + 2] = out[at + 2]! + gains[2]! * (SHARES - red - green) * unit;
}

const SUMS = Float64Array.from({ length: LAST + 1 }, (_, code) => sumOf(code));

/** What each level of codes stands for: the sum of channels, as a share of all 127. */
export const levelsOf = (largest: number): Float32Array => Float32Array.from(SUMS, (sum) => (sum * largest) / SHARES);
