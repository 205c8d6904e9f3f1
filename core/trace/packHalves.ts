import { instantiate, places, sharedMemory, type Kernel } from './instance';

/** Numbers that go through the kernel at a time. */
const AT_ONCE = 1 << 14;

let room: { kernel: Kernel; valuesAt: number; halvesAt: number; values: Float32Array; halves: Uint16Array } | null = null;

function openRoom() {
  const next = places(16);
  const [valuesAt, halvesAt] = [next(AT_ONCE * 4), next(AT_ONCE * 2)];
  const memory = sharedMemory(next(0));
  const values = new Float32Array(memory.buffer, valuesAt, AT_ONCE);
  const halves = new Uint16Array(memory.buffer, halvesAt, AT_ONCE);
  return { kernel: instantiate(memory), valuesAt, halvesAt, values, halves };
}

/**
 * The half floats (IEEE 754 binary16) nearest to many numbers, each times a factor, ties to even, as their 16 bits (see kernel/half.ts).
 * Numbers beyond the range of halves become infinite.
 *
 * @param factor a power of two
 */
export function packHalves(values: Float32Array, factor: number, out: Uint16Array): void {
  room ??= openRoom();
  for (let from = 0; from < values.length; from += AT_ONCE) {
    const count = Math.min(AT_ONCE, values.length - from);
    room.values.set(values.subarray(from, from + count));
    room.kernel.packHalves(room.valuesAt, Math.ceil(count / 8) * 8, factor, room.halvesAt);
    out.set(room.halves.subarray(0, count), from);
  }
}
