import { instantiate, places, sharedMemory } from './instance';

/** Layers of half floats that are summed up again and again with other gains. */
export interface HalfSums {
  /**
   * For each texel four floats: the sum over layers of gain x number, and of fourth gain x the layer's fourth number; the fourth is 0. What
   * comes out is written over by the next sum.
   *
   * @param colors 3 per layer, on its first three numbers
   * @param fourths 3 per layer, on its fourth
   * @param scales what the halves of each layer stand for times 1
   */
  sum(colors: Float32Array, fourths: Float32Array, scales: Float32Array): Float32Array;
}

/** Texels that the kernel takes at a time. */
const AT_ONCE = 8;
/** Bytes of the sums of a block, as the kernel wants room for them. */
const SUMS_BYTES = 3 * 1024 * 4;

/** Takes layers of four halves a texel, layer after layer, into a memory of the kernel's: there each of the four is a plane of its own. */
export function createHalfSums(halves: Uint16Array, texels: number): HalfSums {
  const wide = Math.ceil(texels / AT_ONCE) * AT_ONCE;
  const count = texels > 0 ? halves.length / 4 / texels : 0;
  const room = places(16);
  const planesAt = room(wide * 2 * 4 * count);
  const termsAt = room(count * 6 * 8);
  const sumsAt = room(SUMS_BYTES);
  const outAt = room(wide * 16);
  const memory = sharedMemory(room(0));
  const kernel = instantiate(memory);
  for (let layer = 0; layer < count; layer++) {
    for (let c = 0; c < 4; c++) {
      const plane = new Uint16Array(memory.buffer, planesAt + (layer * 4 + c) * wide * 2, texels);
      for (let i = 0, k = layer * texels * 4 + c; i < texels; i++, k += 4) plane[i] = halves[k]!;
    }
  }
  const places32 = new Int32Array(memory.buffer, termsAt, count * 12);
  const gains = new Float32Array(memory.buffer, termsAt, count * 12);
  const out = new Float32Array(memory.buffer, outAt, texels * 4);
  return {
    sum(colors, fourths, scales) {
      let used = 0;
      const term = (layer: number, channel: number, gain: number) => {
        if (gain === 0) return;
        places32[used * 2] = planesAt + (layer * 4 + channel) * wide * 2;
        gains[used++ * 2 + 1] = gain * scales[layer]!;
      };
      const ends = [0, 1, 2].map((c) => {
        for (let layer = 0; layer < count; layer++) {
          term(layer, c, colors[layer * 3 + c]!);
          term(layer, 3, fourths[layer * 3 + c]!);
        }
        return used;
      }) as [number, number, number];
      kernel.sumHalves(wide, termsAt, ends[0], ends[1] - ends[0], ends[2] - ends[1], sumsAt, outAt);
      return out;
    },
  };
}
