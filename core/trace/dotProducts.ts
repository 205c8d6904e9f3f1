import { instantiate, places, sharedMemory, type Kernel } from './instance';

/** Rows that the kernel takes at a time; it wants them even, and columns and lengths in fours. */
const AT_ONCE = 512;

const inFours = (count: number) => Math.ceil(count / 4) * 4;

/** A memory of the kernel's, for as many floats as were ever wanted at once. */
let room: { kernel: Kernel; all: Float32Array } | null = null;

function roomFor(bytes: number): { kernel: Kernel; all: Float32Array } {
  if (!room || room.all.byteLength < bytes) {
    const memory = sharedMemory(bytes);
    room = { kernel: instantiate(memory), all: new Float32Array(memory.buffer) };
  }
  return room;
}

/**
 * Dot products of vectors with vectors: those of a matrix with another one's transpose.
 *
 * @param a vectors one after another, `wide` numbers each
 * @param b others
 * @returns for each of `a` its products with all of `b`
 */
export function dotProducts(a: Float32Array, b: Float32Array, wide: number): Float32Array {
  const [rows, columns] = wide > 0 ? [a.length / wide, b.length / wide] : [0, 0];
  const out = new Float32Array(rows * columns);
  const [padded, stride] = [inFours(wide), inFours(columns)];
  const next = places(16);
  const [columnsAt, rowsAt, outAt] = [next(stride * padded * 4), next(AT_ONCE * padded * 4), next(AT_ONCE * stride * 4)];
  const { kernel, all } = roomFor(next(0));
  const copy = (vectors: Float32Array, first: number, count: number, to: number) => {
    for (let i = 0; i < count; i++) {
      const place = to / 4 + i * padded;
      all.set(vectors.subarray((first + i) * wide, (first + i + 1) * wide), place);
      all.fill(0, place + wide, place + padded);
    }
  };
  copy(b, 0, columns, columnsAt);
  for (let from = 0; from < rows; from += AT_ONCE) {
    const own = Math.min(AT_ONCE, rows - from);
    copy(a, from, own, rowsAt);
    kernel.dots(rowsAt, own + (own & 1), columnsAt, stride, padded, outAt);
    for (let i = 0; i < own; i++) {
      const at = outAt / 4 + i * stride;
      out.set(all.subarray(at, at + columns), (from + i) * columns);
    }
  }
  return out;
}
