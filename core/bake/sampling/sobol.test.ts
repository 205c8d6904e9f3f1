import { DataUtils } from 'three';
import { toHalf } from '../../../tests/lib/half';
import { coneDirection, cosineDirection, samplePair } from './sobol';

const pairs = (count: number, pair: number, seed: number): [number, number][] =>
  Array.from({ length: count }, (_, i) => {
    const out = new Float64Array(2);
    samplePair(i, pair, seed, out);
    return [out[0]!, out[1]!];
  });

describe('the sample points', () => {
  it.each([1, 77, 4_000_000_000])('with seed %f leave no elementary interval of 1/64 of the square empty or twice filled', (seed) => {
    const points = pairs(64, 3, seed);
    for (const [columns, rows] of [
      [64, 1],
      [32, 2],
      [16, 4],
      [8, 8],
      [4, 16],
      [2, 32],
      [1, 64],
    ] as const) {
      const filled = new Set(points.map(([x, y]) => Math.floor(x * columns) * rows + Math.floor(y * rows)));
      expect(filled.size).toBe(64);
    }
  });

  it('are the same for the same seed, and others for another seed and another pair', () => {
    expect(pairs(16, 0, 9)).toEqual(pairs(16, 0, 9));
    expect(pairs(16, 0, 9)).not.toEqual(pairs(16, 0, 10));
    expect(pairs(16, 0, 9)).not.toEqual(pairs(16, 1, 9));
  });

  it('add a smooth function up far better than chance would', () => {
    const error = (n: number) => {
      const mean = pairs(n, 0, 5).reduce((sum, [x, y]) => sum + Math.sin(3 * x) * y * y, 0) / n;
      return Math.abs(mean - (1 - Math.cos(3)) / 9);
    };
    expect(error(1024)).toBeLessThan(5e-4);
  });
});

describe('directions', () => {
  const normal = [0.36, 0.48, 0.8] as const;

  it('about a normal are of unit length, on its side, and as dense as their cosine', () => {
    const out = new Float64Array(3);
    const points = pairs(4096, 0, 11);
    let [cosine, square] = [0, 0];
    for (const [a, b] of points) {
      cosineDirection(...normal, a, b, out);
      expect(Math.hypot(...out)).toBeCloseTo(1, 6);
      const c = out[0]! * normal[0] + out[1]! * normal[1] + out[2]! * normal[2];
      expect(c).toBeGreaterThanOrEqual(-1e-9);
      cosine += c / points.length;
      square += (c * c) / points.length;
    }
    // Moments of the density cos / pi: 2/3 and 1/2.
    expect(cosine).toBeCloseTo(2 / 3, 2);
    expect(square).toBeCloseTo(1 / 2, 2);
  });

  it('within a cone keep to it and fill it evenly', () => {
    const out = new Float64Array(3);
    const least = Math.cos(0.2);
    const points = pairs(4096, 1, 3);
    let sum = 0;
    for (const [a, b] of points) {
      coneDirection(...normal, least, a, b, out);
      expect(Math.hypot(...out)).toBeCloseTo(1, 6);
      const c = out[0]! * normal[0] + out[1]! * normal[1] + out[2]! * normal[2];
      expect(c).toBeGreaterThanOrEqual(least - 1e-9);
      sum += c / points.length;
    }
    // An even cap has its mean cosine half way between its rim and its middle.
    expect(sum).toBeCloseTo((1 + least) / 2, 4);
  });
});

describe('half floats', () => {
  it('are within half a step of what they stand for, from the smallest to the largest', () => {
    for (let e = -24; e <= 15; e++) {
      for (const m of [1, 1.0003, 1.2345, 1.4999, 1.9994]) {
        const value = m * 2 ** e;
        const step = Math.max(2 ** (e - 10), 2 ** -24);
        expect(Math.abs(DataUtils.fromHalfFloat(toHalf(value)) - value)).toBeLessThanOrEqual(step / 2 + 1e-30);
        expect(DataUtils.fromHalfFloat(toHalf(-value))).toBe(-DataUtils.fromHalfFloat(toHalf(value)));
      }
    }
  });

  it('keep whole numbers up to 2048, nought and both its ends', () => {
    for (let i = 0; i <= 2048; i++) expect(DataUtils.fromHalfFloat(toHalf(i))).toBe(i);
    expect(DataUtils.fromHalfFloat(toHalf(65_504))).toBe(65_504);
    expect(toHalf(0)).toBe(0);
  });
});
