import { filterLayers, type Group } from './denoise';
import type { Cover } from '../texels/mapCover';
import { LAYER } from '../stems/layers';

/** Numbers in [0, 1) that have nothing to do with one another. */
const noise = (i: number) => (Math.imul(i ^ (i >>> 5), 0x9e3779b1) >>> 8) / 2 ** 24;

/** A map that one flat sheet covers, a metre to a texel, but for what `change` says of its texels. */
function sheet(
  width: number,
  height: number,
  change: (x: number, y: number) => { chart?: number; lift?: number; hole?: boolean } = () => ({}),
): Cover {
  const at = Array.from({ length: width * height }, (_, i) => i).filter((i) => !change(i % width, Math.floor(i / width)).hole);
  const cover: Cover = {
    width,
    height,
    at: Uint32Array.from(at),
    placeOf: new Int32Array(width * height).fill(-1),
    chart: new Int32Array(at.length),
    position: new Float32Array(at.length * 3),
    normal: new Float32Array(at.length * 3),
  };
  at.forEach((texel, i) => {
    const [x, y] = [texel % width, Math.floor(texel / width)];
    const { chart = 0, lift = 0 } = change(x, y);
    cover.placeOf[texel] = i;
    cover.chart[i] = chart;
    cover.position.set([x, lift, y], i * 3);
    cover.normal.set([0, 1, 0], i * 3);
  });
  return cover;
}

/** Filters one layer of grey; answers its values. `valid` tells texels that were gathered. */
function filtered(
  cover: Cover,
  value: (i: number) => number,
  variance: (i: number) => number,
  valid: (i: number) => boolean = () => true,
): number[] {
  const count = cover.at.length;
  const layers = new Float32Array(count * LAYER);
  for (let i = 0; i < count; i++) layers.fill(value(i), i * LAYER, i * LAYER + 3);
  const groups: Group[] = [{ layers: [0], toGuide: 1, slot: 0 }];
  const noiseOf = { variance: Float32Array.from({ length: count }, (_, i) => variance(i)), slots: 1 };
  filterLayers(
    layers,
    cover,
    groups,
    noiseOf,
    Uint8Array.from({ length: count }, (_, i) => (valid(i) ? 1 : 0)),
  );
  return Array.from({ length: count }, (_, i) => layers[i * LAYER]!);
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
const deviation = (values: readonly number[]) => Math.sqrt(mean(values.map((v) => (v - mean(values)) ** 2)));

describe('the filter of a lightmap', () => {
  it('takes white noise down to less than a fifth, and keeps the mean', () => {
    const cover = sheet(64, 64);
    const after = filtered(
      cover,
      (i) => 1 + (noise(i) - 0.5),
      () => 1 / 12,
    );
    const inner = after.filter((_, i) => i % 64 > 8 && i % 64 < 55 && i > 8 * 64 && i < 55 * 64);
    expect(deviation(inner)).toBeLessThan(0.2 * Math.sqrt(1 / 12));
    expect(mean(after)).toBeCloseTo(1, 2);
  });

  it('lets nothing over from another chart, from off the plane, or from where nothing was gathered', () => {
    const right = (x: number) => x >= 16;
    const bright = (cover: Cover) => (i: number) => (right(cover.at[i]! % 32) ? 100 : 1);
    for (const cover of [sheet(32, 16, (x) => ({ chart: right(x) ? 1 : 0 })), sheet(32, 16, (x) => ({ lift: right(x) ? 5 : 0 }))]) {
      // As noisy as can be: nothing but the border keeps the two apart.
      const after = filtered(cover, bright(cover), () => 1e6);
      after.forEach((v, i) => expect(v).toBeCloseTo(right(cover.at[i]! % 32) ? 100 : 1, 3));
    }
    const cover = sheet(32, 16);
    const after = filtered(
      cover,
      bright(cover),
      () => 1e6,
      (i) => !right(i % 32),
    );
    after.forEach((v, i) => expect(v).toBeCloseTo(right(i % 32) ? 100 : 1, 3));
  });

  it('averages over a border that noise alone could have made', () => {
    const cover = sheet(32, 16);
    const after = filtered(
      cover,
      (i) => (i % 32 >= 16 ? 1.02 : 0.98),
      () => 0.1,
    );
    const row = after.slice(8 * 32, 9 * 32);
    expect(row[16]! - row[15]!).toBeLessThan(0.015);
    for (let x = 1; x < 32; x++) expect(row[x]!).toBeGreaterThanOrEqual(row[x - 1]! - 1e-6);
  });

  it('finds the same whatever part of a map it works at: in a wide map that it takes in many parts, too', () => {
    // What stands in a column repeats every 16 rows, so that what comes out does; parts are eight rows high.
    const [width, height] = [4096, 48];
    const cover = sheet(width, height);
    const after = filtered(
      cover,
      (i) => noise((i % width) + 7919 * (Math.floor(i / width) % 16)),
      () => 0.08,
    );
    for (let x = 0; x < width; x += 37) {
      for (let y = 10; y < 22; y++) expect(after[y * width + x]!).toBeCloseTo(after[(y + 16) * width + x]!, 5);
    }
  });

  it('leaves fourth numbers, layers of other groups, and what is certain as they are', () => {
    const cover = sheet(16, 16);
    const count = cover.at.length;
    const layers = Float32Array.from({ length: count * LAYER * 3 }, (_, i) => noise(i));
    const before = layers.slice();
    const variance = new Float32Array(count * 2);
    for (let i = 0; i < count; i++) variance[i * 2] = 0.1;
    const groups: Group[] = [
      { layers: [0], toGuide: 1, slot: 0 },
      { layers: [2], toGuide: 1, slot: 1 },
    ];
    filterLayers(layers, cover, groups, { variance, slots: 2 }, new Uint8Array(count).fill(1));
    const perLayer = count * LAYER;
    expect(layers.subarray(perLayer)).toEqual(before.subarray(perLayer));
    for (let i = 0; i < perLayer; i += LAYER) {
      expect(layers[i]).not.toBe(before[i]);
      expect(layers[i + 3]).toBe(before[i + 3]);
    }
  });

  it('averages all layers of a stem by the guide of its first', () => {
    const cover = sheet(24, 24);
    const count = cover.at.length;
    const layers = new Float32Array(count * LAYER * 2);
    for (let i = 0; i < count; i++) {
      layers.fill(noise(i), i * LAYER, i * LAYER + 3);
      layers.fill(5 * noise(i), (count + i) * LAYER, (count + i) * LAYER + 3);
    }
    const variance = new Float32Array(count).fill(1 / 12);
    filterLayers(layers, cover, [{ layers: [0, 1], toGuide: 1, slot: 0 }], { variance, slots: 1 }, new Uint8Array(count).fill(1));
    for (let i = 0; i < count; i++) expect(layers[(count + i) * LAYER]!).toBeCloseTo(5 * layers[i * LAYER]!, 4);
  });

  it('takes a map without texels, and one without noise', () => {
    const none = sheet(8, 8, () => ({ hole: true }));
    expect(
      filtered(
        none,
        () => 1,
        () => 1,
      ),
    ).toEqual([]);
    const cover = sheet(8, 8);
    const values = filtered(cover, noise, () => 0);
    expect(values).toEqual(Array.from({ length: 64 }, (_, i) => Math.fround(noise(i))));
  });
});
