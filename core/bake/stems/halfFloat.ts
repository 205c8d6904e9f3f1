// By its own file: the whole of the library takes a second to load.
import { DataUtils } from 'three/src/extras/DataUtils.js';

const NUMBERS = Float32Array.from({ length: 1 << 16 }, (_, half) => DataUtils.fromHalfFloat(half));

/** The number that a half float stands for, of its 16 bits. */
export const fromHalf = (half: number): number => NUMBERS[half]!;

/** {@link fromHalf} for many halves, each times a factor, into `out` from a place on. */
export function readHalves(halves: Uint16Array, factor: number, out: Float32Array, at: number): void {
  for (let i = 0; i < halves.length; i++) out[at + i] = NUMBERS[halves[i]!]! * factor;
}
