// By its own file: the whole of the library takes a second to load.
import { DataUtils } from 'three/src/extras/DataUtils.js';

const NUMBERS = Float32Array.from({ length: 1 << 16 }, (_, half) => DataUtils.fromHalfFloat(half));

/** The number that a half float stands for, of its 16 bits. */
export const fromHalf = (half: number): number => NUMBERS[half]!;

const float = new Float32Array(1);
const bits = new Uint32Array(float.buffer);

/**
 * The half float (IEEE 754 binary16) nearest to a number, ties to even, as its 16 bits. Numbers beyond its range become
 * infinite.
 */
export function toHalf(value: number): number {
  float[0] = value;
  return halfOfBits(bits[0]!);
}

/** {@link toHalf} for many numbers, each times a factor. */
export function writeHalves(values: Float32Array, factor: number, out: Uint16Array, at: number): void {
  const scaled = new Float32Array(Math.min(values.length, 1 << 16));
  const own = new Uint32Array(scaled.buffer);
  for (let from = 0; from < values.length; from += scaled.length) {
    const count = Math.min(scaled.length, values.length - from);
    for (let i = 0; i < count; i++) scaled[i] = values[from + i]! * factor;
    // Most of a map lies in no chart, and is nought.
    for (let i = 0; i < count; i++) out[at + from + i] = own[i] === 0 ? 0 : halfOfBits(own[i]!);
  }
}

/** {@link fromHalf} for many halves, each times a factor, into `out` from a place on. */
export function readHalves(halves: Uint16Array, factor: number, out: Float32Array, at: number): void {
  for (let i = 0; i < halves.length; i++) out[at + i] = NUMBERS[halves[i]!]! * factor;
}

/** The bits of a single float as those of a half. */
function halfOfBits(x: number): number {
  const sign = (x >>> 16) & 0x8000;
  const magnitude = x & 0x7fffffff;
  if (magnitude === 0) return sign;
  // From 65536 on it is infinite; what is no number stays none.
  if (magnitude >= 0x47800000) return sign | (magnitude > 0x7f800000 ? 0x7e00 : 0x7c00);
  if (magnitude < 0x38800000) {
    // Under the smallest normal half, steps are of 2^-24: those of a single float at a half, to which adding one half rounds.
    bits[0] = magnitude;
    float[0] = float[0]! + 0.5;
    return sign | (bits[0]! - 0x3f000000);
  }
  // Other exponent, and half of what is cut off added, less where the last digit that stays is even.
  return sign | ((magnitude - 0x38000000 + 0xfff + ((magnitude >>> 13) & 1)) >>> 13);
}
