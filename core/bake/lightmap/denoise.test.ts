import { createDenoiser } from './denoise';
import type { BandCover } from '../texels/bandCover';
import { LAYER } from '../stems/layers';

/** Numbers in [0, 1) that have nothing to do with one another. */
const noise = (i: number) => (Math.imul(i ^ (i >>> 5), 0x9e3779b1) >>> 8) / 2 ** 24;

/** A map that one flat sheet covers, a metre to a texel, but for what `change` says of its texels. */
function sheet(
  width: number,
  height: number,
  change: (x: number, y: number) => { chart?: number; lift?: number; hole?: boolean } = () => ({}),
): BandCover {
  const at = Array.from({ length: width * height }, (_, i) => i).filter((i) => !change(i % width, Math.floor(i / width)).hole);
  const cover: BandCover = {
    width,
    height,
    at: Uint32Array.from(at),
    placeOf: new Int32Array(width * height).fill(-1),
    chart: new Uint32Array(at.length),
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

/** Denoises one layer of grey, some rows at a time; answers its values. `valid` tells texels that were gathered. */
function filtered(
  cover: BandCover,
  value: (i: number) => number,
  variance: (i: number) => number,
  valid: (i: number) => boolean = () => true,
  rows = cover.height,
): number[] {
  const count = cover.at.length;
  const gathered = Uint8Array.from({ length: count }, (_, i) => (valid(i) ? 1 : 0));
  const out: number[] = [];
  for (let top = 0; top < cover.height; top += rows) {
    const denoiser = createDenoiser(cover, gathered, 1, [top, Math.min(cover.height, top + rows)], 1);
    const [first, end] = denoiser.seen;
    const room = denoiser.room(1);
    for (let i = first; i < end; i++) room.fill(value(i), (i - first) * LAYER, (i - first) * LAYER + 3);
    const stem = {
      layers: 1,
      guides: [0],
      toGuide: 1,
      variance: Float32Array.from({ length: end - first }, (_, i) => variance(first + i)),
    };
    const denoised = denoiser.denoise(stem);
    for (let k = 0; k < denoised.length; k += LAYER) out.push(denoised[k]!);
  }
  return out;
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
const deviation = (values: readonly number[]) => Math.sqrt(mean(values.map((v) => (v - mean(values)) ** 2)));

describe('denoising', () => {
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
    const bright = (cover: BandCover) => (i: number) => (right(cover.at[i]! % 32) ? 100 : 1);
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

  it('moves no texel by more than two of its standard errors, or of those about it', () => {
    const cover = sheet(32, 32);
    const spot = 16 * 32 + 16;
    const value = (i: number) => (i === spot ? 5 : 1 + 0.2 * (noise(i) - 0.5));
    const sure = filtered(cover, value, () => 0.01);
    expect(sure[spot]).toBeGreaterThan(5 - 2 * 0.11);
    expect(sure[spot]).toBeLessThan(5);
    // One that missed what its neighbours found tells no error itself.
    const missed = filtered(
      cover,
      (i) => (i === spot ? 0 : 1 + (noise(i) - 0.5)),
      (i) => (i === spot ? 0 : 1 / 12),
    );
    expect(missed[spot]).toBeGreaterThan(0.5);
    for (const after of [sure, missed]) after.forEach((v, i) => Math.abs((i % 32) - 16) > 4 && expect(Math.abs(v - 1)).toBeLessThan(0.2));
  });

  it('finds the same however a map is cut into rows, to the bit', () => {
    const cover = sheet(24, 60, (x, y) => ({ chart: y > 31 ? 1 : 0, hole: (x * 7 + y * 13) % 11 === 0, lift: x > 12 ? 0.4 : 0 }));
    const values = (i: number) => noise(cover.at[i]!);
    const varianceOf = (i: number) => 0.05 + 0.1 * noise(i + 99);
    const valid = (i: number) => noise(i + 777) > 0.1;
    const whole = filtered(cover, values, varianceOf, valid);
    for (const rows of [1, 5, 17]) expect(filtered(cover, values, varianceOf, valid, rows)).toEqual(whole);
  });

  it('leaves fourth numbers as they are', () => {
    const cover = sheet(16, 16);
    const count = cover.at.length;
    const values = Float32Array.from({ length: count * LAYER }, (_, i) => noise(i));
    const { room, denoise } = createDenoiser(cover, new Uint8Array(count).fill(1), 1, [0, 16], 1);
    room(1).set(values);
    const after = denoise({ layers: 1, guides: [0], toGuide: 1, variance: new Float32Array(count).fill(0.1) });
    for (let i = 0; i < values.length; i += LAYER) {
      expect(after[i]).not.toBe(values[i]);
      expect(after[i + 3]).toBe(values[i + 3]);
    }
  });

  it('averages all layers of a stem by the guide of its first', () => {
    const cover = sheet(24, 24);
    const count = cover.at.length;
    const values = new Float32Array(count * LAYER * 2);
    for (let i = 0; i < count; i++) {
      values.fill(noise(i), i * LAYER, i * LAYER + 3);
      values.fill(5 * noise(i), (count + i) * LAYER, (count + i) * LAYER + 3);
    }
    const { room, denoise } = createDenoiser(cover, new Uint8Array(count).fill(1), 1, [0, 24], 2);
    room(2).set(values);
    const after = denoise({ layers: 2, guides: [0], toGuide: 1, variance: new Float32Array(count).fill(1 / 12) });
    for (let i = 0; i < count; i++) expect(after[(count + i) * LAYER]!).toBeCloseTo(5 * after[i * LAYER]!, 4);
  });

  it('keeps apart what two layers together tell apart, though the first is the same', () => {
    const cover = sheet(24, 24);
    const count = cover.at.length;
    const isLit = (i: number) => cover.at[i]! % 24 < 12;
    const values = new Float32Array(count * LAYER * 2);
    for (let i = 0; i < count; i++) {
      values.fill(0.1 + 0.01 * noise(i), i * LAYER, i * LAYER + 3);
      values.fill(isLit(i) ? 1 : 0, (count + i) * LAYER, (count + i) * LAYER + 3);
    }
    const { room, denoise } = createDenoiser(cover, new Uint8Array(count).fill(1), 1, [0, 24], 2);
    room(2).set(values);
    const after = denoise({ layers: 2, guides: [0, 1], toGuide: 1, variance: new Float32Array(count).fill(1e-4) });
    for (let i = 0; i < count; i++) expect(after[(count + i) * LAYER]!).toBeCloseTo(isLit(i) ? 1 : 0, 2);
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
    filtered(cover, noise, () => 0).forEach((v, i) => expect(v).toBeCloseTo(noise(i), 6));
  });
});
