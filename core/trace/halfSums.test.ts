import { DataUtils } from 'three';
import { createHalfSums } from './index';

/** Halves of all sizes, noughts and the smallest there are among them. */
const halvesOf = (count: number) =>
  Uint16Array.from({ length: count }, (_, i) => (Math.imul(i + 1, 0x9e3779b1) >>> 16) & 0xfbff & (i % 7 === 0 ? 0x83ff : 0xffff));

describe('weighted sums of layers of half floats', () => {
  it.each([1, 2, 5, 511, 1025])('of %d texels are those of their numbers', (texels) => {
    const layers = 5;
    const halves = halvesOf(texels * 4 * layers);
    const colors = Float32Array.from({ length: layers * 3 }, (_, i) => (i === 4 || i === 5 || i === 3 ? 0 : Math.sin(i) * 3));
    const fourths = Float32Array.from({ length: layers * 3 }, (_, i) => (i < 9 ? 0 : i / 4));
    const scales = Float32Array.from({ length: layers }, (_, i) => 2 ** (i - 8));
    const sums = createHalfSums(halves, texels).sum(colors, fourths, scales);
    const half = (layer: number, texel: number, c: number) =>
      DataUtils.fromHalfFloat(halves[(layer * texels + texel) * 4 + c]!) * scales[layer]!;
    for (let texel = 0; texel < texels; texel++) {
      for (let c = 0; c < 3; c++) {
        let [wanted, size] = [0, 0];
        for (let layer = 0; layer < layers; layer++) {
          const part = colors[layer * 3 + c]! * half(layer, texel, c) + fourths[layer * 3 + c]! * half(layer, texel, 3);
          wanted += part;
          size += Math.abs(colors[layer * 3 + c]! * half(layer, texel, c)) + Math.abs(fourths[layer * 3 + c]! * half(layer, texel, 3));
        }
        expect(Math.abs(sums[texel * 4 + c]! - wanted)).toBeLessThanOrEqual(size * 1e-6 + 1e-30);
      }
      expect(sums[texel * 4 + 3]).toBe(0);
    }
  });

  it('with other gains do not remember those of before, and of nothing are nought', () => {
    const sums = createHalfSums(halvesOf(8 * 4 * 2), 8);
    const [ones, none, scales] = [new Float32Array(6).fill(1), new Float32Array(6), new Float32Array(2).fill(1)];
    const first = sums.sum(ones, none, scales).slice();
    expect(sums.sum(none, none, scales).every((v) => v === 0)).toBe(true);
    expect(sums.sum(ones, none, scales).slice()).toEqual(first);
  });
});
