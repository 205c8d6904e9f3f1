import { DataUtils } from 'three/src/extras/DataUtils.js';
import { packHalves } from '.';

/** The nearest half by definition: of all halves the one that lies nearest, of two the one whose last digit is even. */
function nearestHalf(value: number): number {
  let best = 0;
  let off = Infinity;
  for (let half = 0; half < 0x7c00; half++) {
    const own = Math.abs(DataUtils.fromHalfFloat(half) - Math.abs(value));
    if (own < off || (own === off && half % 2 === 0)) [best, off] = [half, own];
  }
  return best | (value < 0 || Object.is(value, -0) ? 0x8000 : 0);
}

const halvesOf = (values: readonly number[], factor = 1): number[] => {
  const out = new Uint16Array(values.length);
  packHalves(Float32Array.from(values), factor, out);
  return [...out];
};

describe('numbers as halves', () => {
  it('are the nearest, ties to even: ordinary numbers, those under the smallest normal half, both signs, and nought', () => {
    const step = 2 ** -24;
    const values = [0, -0, 1, -1, 65504, -65504, 1 / 3, -1000.3, 1 + 2 ** -11, 1 + 3 * 2 ** -11, -(1 + 2 ** -11)];
    values.push(2 ** -14, 2 ** -14 - step / 3, 2 ** -15 * 1.37, step, -step, step / 2, step * 1.5, step * 2.5, step / 2.001, 1e-30, 1e-44);
    expect(halvesOf(values)).toEqual(values.map((v) => nearestHalf(Math.fround(v))));
  });

  it('give every half back that a half stands for', () => {
    const all = Array.from({ length: 0x10000 }, (_, half) => half).filter((half) => (half & 0x7c00) !== 0x7c00);
    expect(halvesOf(all.map((half) => DataUtils.fromHalfFloat(half)))).toEqual(all);
  });

  it('are taken times a factor, however many there are, and nothing is written beyond them', () => {
    for (const count of [0, 1, 7, 8, 9, 16384, 16387]) {
      const out = new Uint16Array(count + 3).fill(0xabc);
      packHalves(
        Float32Array.from({ length: count }, (_, i) => (i % 100) + 1),
        2 ** -3,
        out.subarray(0, count),
      );
      for (let i = 0; i < count; i++) expect(DataUtils.fromHalfFloat(out[i]!)).toBe(((i % 100) + 1) / 8);
      expect([...out.subarray(count)]).toEqual([0xabc, 0xabc, 0xabc]);
    }
  });
});
