import { LAYER, chartOfVertex, mixGains, mixTexels, type BakePlan, type MapStems, type Texels } from '../../core/bake';
import type { Surfaces } from '../../core/level';
import type { Lighting, StemGains } from '../../core/rig';
import { luminance } from '../../core/units';
import { SOURCES, type Source, type TrueLight } from './pathTracer';

/** How far light is from the truth, as shares of the mean of its source over the texels compared. */
export interface Deviation {
  texels: number;
  /** Mean luminance of E/pi, cd/m2. */
  mean: number;
  /** With the truth's own noise taken out. */
  rms: number;
  bias: number;
  /** 95th percentile of the absolute difference; the truth's noise is in it. */
  p95: number;
}

/** Luminance of E/pi of each source, and of all together, texel by texel; not a number where a texel was not gathered. */
export type BakedLight = Record<Source | 'all', Float64Array>;

const TRIM: Record<Source, (keyof StemGains)[]> = {
  sky: ['sky', 'skyBounce', 'glow', 'glowBounce'],
  sun: ['sun'],
  sunBounce: ['bounce'],
  lamps: ['lamps'],
  lampBounce: ['lampBounce'],
};

/** The light of baked stems, source by source. */
export function lightBySource(stems: MapStems, plan: BakePlan, lighting: Lighting): BakedLight {
  const of = (heard: readonly (keyof StemGains)[]) => {
    const mix = Object.fromEntries(
      Object.entries(lighting.mix).map(([stem, gain]) => [stem, heard.includes(stem as never) ? gain : [0, 0, 0]]),
    ) as unknown as StemGains;
    const mixed = mixTexels(stems, mixGains({ ...lighting, mix }, plan));
    return Float64Array.from(stems.at, (_, i) =>
      mixed[i * LAYER + 3] === 1 ? luminance([mixed[i * LAYER]!, mixed[i * LAYER + 1]!, mixed[i * LAYER + 2]!]) : NaN,
    );
  };
  const sources = Object.fromEntries(SOURCES.map((s) => [s, of(TRIM[s])])) as Record<Source, Float64Array>;
  return { ...sources, all: of(Object.values(TRIM).flat()) };
}

/** The truth's sources together. */
export function allOf(truth: TrueLight): { mean: Float64Array; error: Float64Array } {
  const first = truth.sky.mean;
  return {
    mean: first.map((_, i) => SOURCES.reduce((sum, s) => sum + truth[s].mean[i]!, 0)),
    error: first.map((_, i) => Math.sqrt(SOURCES.reduce((sum, s) => sum + truth[s].error[i]! ** 2, 0))),
  };
}

/** How far baked light is from the truth over those texels of a mask that both have; null where the source gives nothing there. */
export function deviation(baked: Float64Array, truth: { mean: Float64Array; error: Float64Array }, mask: Uint8Array): Deviation | null {
  const own: number[] = [];
  for (let i = 0; i < mask.length; i++) if (mask[i] && !Number.isNaN(baked[i]!) && !Number.isNaN(truth.mean[i]!)) own.push(i);
  const meanOf = (of: (i: number) => number) => own.reduce((sum, i) => sum + of(i), 0) / own.length;
  const mean = meanOf((i) => truth.mean[i]!);
  if (!(mean > 0)) return null;
  const square = meanOf((i) => (baked[i]! - truth.mean[i]!) ** 2) - meanOf((i) => truth.error[i]! ** 2);
  const off = own.map((i) => Math.abs(baked[i]! - truth.mean[i]!)).sort((a, b) => a - b);
  return {
    texels: own.length,
    mean,
    rms: Math.sqrt(Math.max(0, square)) / mean,
    bias: meanOf((i) => baked[i]! - truth.mean[i]!) / mean,
    p95: off[Math.floor(0.95 * (off.length - 1))]! / mean,
  };
}

/** Noise of single texels of a source, from two bakes of other seeds: half of the mean square of their difference, as a share of the mean. */
export function noiseBetween(a: Float64Array, b: Float64Array, mask: Uint8Array): number {
  let [square, sum, count] = [0, 0, 0];
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i] || Number.isNaN(a[i]!) || Number.isNaN(b[i]!)) continue;
    square += (a[i]! - b[i]!) ** 2 / 2;
    sum += (a[i]! + b[i]!) / 2;
    count++;
  }
  return Math.sqrt(square / count) / (sum / count);
}

/** Texels within two texels of the border of their chart: 1, all others 0. */
export function borderMask(surfaces: Surfaces, { at, start, triangle }: Texels, map: number): Uint8Array {
  const { width, height } = surfaces.maps[map]!;
  const chartOf = new Int32Array(width * height).fill(-1);
  const charts = chartOfVertex(surfaces);
  at.forEach((texel, i) => (chartOf[texel] = charts[surfaces.indices[triangle[start[i]!]! * 3]!]!));
  return Uint8Array.from(at, (texel) => {
    const [x, y] = [texel % width, Math.floor(texel / width)];
    for (let dy = -2; dy <= 2; dy++)
      for (let dx = -2; dx <= 2; dx++) {
        const [u, v] = [x + dx, y + dy];
        if (u < 0 || v < 0 || u >= width || v >= height || chartOf[v * width + u] !== chartOf[texel]) return 1;
      }
    return 0;
  });
}
