import { createWindowMeans, type WindowMeans } from './index';

/** Numbers in [0, 1) that have nothing to do with one another. */
const noise = (i: number) => (Math.imul(i ^ (i >>> 5), 0x9e3779b1) >>> 8) / 2 ** 24;

/** Windows over a row: each texel's own and those up to `reach` beside it, by shares that fall off. */
function rowWindows(means: WindowMeans, texels: number, reach: number): void {
  means.begin();
  for (let i = 0; i < texels; i++) {
    for (let j = Math.max(0, i - reach); j <= Math.min(texels - 1, i + reach); j++) means.add(j, 1 / (1 + Math.abs(i - j)));
    means.end();
  }
}

const shareOf = (i: number, j: number) => 1 / (1 + Math.abs(i - j));
const windowOf = (i: number, texels: number, reach: number) =>
  Array.from({ length: texels }, (_, j) => j).filter((j) => Math.abs(i - j) <= reach);

describe('means over windows', () => {
  it.each([1, 2, 3, 7, 64])('of %d texels are those of their members, each by its share and by how alike it is', (texels) => {
    const [reach, layers] = [3, 2];
    const means = createWindowMeans({ texels, windows: texels, members: 2 * reach + 1, layers });
    rowWindows(means, texels, reach);
    const values = Array.from({ length: texels }, (_, i) => 1 + noise(i));
    const variances = Array.from({ length: texels }, (_, i) => 0.02 + 0.05 * noise(i + 1000));
    const source = means.source(layers, texels);
    values.forEach((v, i) => {
      means.known.set([v, variances[i]!, v, variances[i]!], i * 4);
      source.set([v, 2 * v, 3 * v, 77 + i], i * 4);
      source.set([-v, 0, 0.5, i], (texels + i) * 4);
    });
    const out = means.average(0, texels, 0, layers, texels);
    for (let i = 0; i < texels; i++) {
      const weights = windowOf(i, texels, reach).map((j) => {
        const like = 1 - (values[i]! - values[j]!) ** 2 / (10 * (variances[i]! + variances[j]!));
        return { j, weight: shareOf(i, j) * Math.max(0, like) ** 4 };
      });
      const whole = weights.reduce((sum, { weight }) => sum + weight, 0);
      const wanted = weights.reduce((sum, { j, weight }) => sum + weight * values[j]!, 0) / whole;
      const left = weights.reduce((sum, { j, weight }) => sum + weight ** 2 * variances[j]!, 0) / whole ** 2;
      const [r, g, b, fourth] = out.values.subarray(i * 4, i * 4 + 4);
      expect(r).toBeCloseTo(wanted, 5);
      expect(g).toBeCloseTo(2 * wanted, 5);
      expect(b).toBeCloseTo(3 * wanted, 5);
      expect(fourth).toBe(77 + i);
      expect(out.values[(texels + i) * 4]).toBeCloseTo(-wanted, 5);
      expect(out.values[(texels + i) * 4 + 2]).toBeCloseTo(0.5, 6);
      expect(out.values[(texels + i) * 4 + 3]).toBe(i);
      expect(out.variances[i]).toBeCloseTo(left, 6);
    }
  });

  it('are compared by means of what was measured, whose variance is that of a mean', () => {
    const [texels, reach] = [21, 2];
    const means = createWindowMeans({ texels, windows: texels, members: 5, layers: 1 });
    rowWindows(means, texels, reach);
    for (let i = 0; i < texels; i++) means.known.set([noise(i), noise(i + 50), -1, -1], i * 4);
    means.compareMeans(0);
    for (let i = 0; i < texels; i++) {
      const window = windowOf(i, texels, reach);
      const whole = window.reduce((sum, j) => sum + shareOf(i, j), 0);
      const [measured, variance, mean, ofMean] = means.known.subarray(i * 4, i * 4 + 4);
      expect(measured).toBeCloseTo(noise(i), 6);
      expect(variance).toBeCloseTo(noise(i + 50), 6);
      expect(mean).toBeCloseTo(window.reduce((sum, j) => sum + shareOf(i, j) * noise(j), 0) / whole, 5);
      expect(ofMean).toBeCloseTo(window.reduce((sum, j) => sum + shareOf(i, j) ** 2 * noise(j + 50), 0) / whole ** 2, 5);
    }
  });

  it('leave to the bit what is certain, and what has no window', () => {
    const means = createWindowMeans({ texels: 3, windows: 3, members: 3, layers: 1 });
    means.begin();
    means.add(0, 1);
    means.add(1, 0.5);
    means.end();
    means.end();
    means.add(2, 1);
    means.add(0, 0.3);
    means.end();
    const source = means.source(1, 3);
    const values = Float32Array.of(0.1, 0.2, 0.3, 4, 5.5, 6, 7, 8, 1e-20, 3e7, 0, -1);
    source.set(values);
    means.known.set([0.1, 0, 0.1, 0, 5.5, 0, 5.5, 0, 1e-20, 0, 1e-20, 0]);
    const out = means.average(0, 3, 0, 1, 3);
    expect(Array.from(out.values)).toEqual(Array.from(values));
    expect(Array.from(out.variances)).toEqual([0, 0, 0]);
  });

  it('of some of the texels alone are those of all', () => {
    const [texels, reach] = [40, 2];
    const fill = (means: WindowMeans) => {
      rowWindows(means, texels, reach);
      const source = means.source(1, texels);
      for (let i = 0; i < texels; i++) {
        means.known.set([noise(i), 0.1, noise(i), 0.1], i * 4);
        source.set([noise(i), noise(i), noise(i), 0], i * 4);
      }
    };
    const means = createWindowMeans({ texels, windows: texels, members: 5, layers: 1 });
    fill(means);
    const all = means.average(0, texels, 0, 1, texels).values.slice();
    fill(means);
    const some = means.average(10, 7, 10, 1, texels).values;
    expect(Array.from(some)).toEqual(Array.from(all.subarray(40, 68)));
  });
});
