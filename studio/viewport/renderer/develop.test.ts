import fc from 'fast-check';
import { halved, meanOfFour } from './develop';

/** A picture of twice a size, bottom row first, from a function of column and row from the top. */
function twice(width: number, height: number, at: (x: number, y: number) => number): Float32Array {
  const out = new Float32Array(width * height * 16);
  for (let y = 0; y < height * 2; y++)
    for (let x = 0; x < width * 2; x++) out.fill(at(x, height * 2 - 1 - y), (y * width * 2 + x) * 4, (y * width * 2 + x) * 4 + 4);
  return out;
}

describe('a picture that is drawn at twice its size', () => {
  it('is the mean of four points each, the right way up', () => {
    const even = meanOfFour(
      twice(3, 2, (x, y) => 10 * Math.floor(y / 2) + Math.floor(x / 2)),
      3,
      2,
    );
    expect(Array.from({ length: 6 }, (_, i) => even[i * 4])).toEqual([0, 1, 2, 10, 11, 12]);
    expect(even[3]).toBe(1);
  });

  it('keeps the mean of its light', () => {
    const size = fc.record({ width: fc.integer({ min: 1, max: 9 }), height: fc.integer({ min: 1, max: 9 }), seed: fc.integer() });
    fc.assert(
      fc.property(size, ({ width, height, seed }) => {
        const from = twice(width, height, (x, y) => ((x * 7919 + y * 104729 + seed) >>> 0) % 1000);
        const mean = (values: Float32Array, step: number) => {
          let sum = 0;
          for (let i = 0; i < values.length; i += step) sum += values[i]! / (values.length / step);
          return sum;
        };
        expect(mean(meanOfFour(from, width, height), 4)).toBeCloseTo(mean(from, 4), 2);
        const bytes = Uint8Array.from(from, (v) => v % 256);
        const half = halved(bytes, width, height);
        expect(half).toHaveLength(width * height * 4);
        expect(Math.abs(mean(Float32Array.from(half), 4) - mean(Float32Array.from(bytes), 4))).toBeLessThan(0.51);
      }),
    );
  });
});
