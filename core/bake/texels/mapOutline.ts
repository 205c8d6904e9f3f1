import type { Surfaces } from '../../level';
import { chartOfVertex } from './charts';
import { coverTexels, type Texels } from './coverTexels';

/** Which texels of a lightmap surface covers, and what belongs together there. Texel by texel of {@link MapOutline.at}. */
export interface MapOutline {
  width: number;
  height: number;
  /** Texels: y * width + x, ascending. */
  at: Uint32Array;
  /** For each texel of the map its place in `at`; -1 where no surface is. */
  placeOf: Int32Array;
  chart: Uint32Array;
  /** Median distance in metres between neighbouring texels of one chart. */
  spacingM: number;
}

/** Rows that are rasterised in one go, so that large maps take little memory. */
const STRIP = 64;
/** Of so many texels one's distance to the next is measured. */
const MEASURED_EACH = 4;

/** Visits the texels of a lightmap strip by strip. */
export function eachStrip(surfaces: Surfaces, map: number, visit: (texels: Texels) => void): void {
  const { height } = surfaces.maps[map]!;
  for (let top = 0; top < height; top += STRIP) visit(coverTexels(surfaces, { map, top, bottom: Math.min(height, top + STRIP) }));
}

const last = new WeakMap<Float32Array, { map: number; outline: MapOutline }>();

/** The outline of a lightmap; of a level the last one that was asked for is kept. */
export function mapOutline(surfaces: Surfaces, map: number): MapOutline {
  const known = last.get(surfaces.lightmapUv);
  if (known?.map === map && known.outline.width === surfaces.maps[map]!.width && known.outline.height === surfaces.maps[map]!.height)
    return known.outline;
  const outline = findOutline(surfaces, map);
  last.set(surfaces.lightmapUv, { map, outline });
  return outline;
}

function findOutline(surfaces: Surfaces, map: number): MapOutline {
  const { width, height } = surfaces.maps[map]!;
  const charts = chartOfVertex(surfaces);
  const strips: { at: Uint32Array; chart: Uint32Array }[] = [];
  const distances: number[] = [];
  eachStrip(surfaces, map, (texels) => {
    const { at, start, triangle } = texels;
    const chart = Uint32Array.from(at, (_, i) => charts[surfaces.indices[triangle[middlePoint(start, i)]! * 3]!]!);
    strips.push({ at, chart });
    addDistances(surfaces, texels, chart, width, distances);
  });
  const count = strips.reduce((sum, s) => sum + s.at.length, 0);
  const outline: MapOutline = {
    width,
    height,
    at: new Uint32Array(count),
    placeOf: new Int32Array(width * height).fill(-1),
    chart: new Uint32Array(count),
    spacingM: distances.sort((a, b) => a - b)[distances.length >> 1] ?? 1,
  };
  let first = 0;
  for (const { at, chart } of strips) {
    outline.at.set(at, first);
    outline.chart.set(chart, first);
    first += at.length;
  }
  for (let i = 0; i < count; i++) outline.placeOf[outline.at[i]!] = i;
  return outline;
}

/** The place of that of a texel's points which stands for its position and its chart. */
export const middlePoint = (start: Uint32Array, i: number): number => (start[i]! + start[i + 1]!) >> 1;

/** Position of a point of a texel, metres, into `out`. */
export function pointPosition({ positions, indices }: Surfaces, { triangle, u, v }: Texels, k: number, out: Float32Array, to = 0): void {
  const t = triangle[k]! * 3;
  const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
  const w = 1 - u[k]! - v[k]!;
  for (let x = 0; x < 3; x++) out[to + x] = positions[a * 3 + x]! * w + positions[b * 3 + x]! * u[k]! + positions[c * 3 + x]! * v[k]!;
}

/** Adds how far some texels of a strip lie from the next in their row, metres, where that is of the same chart. */
function addDistances(surfaces: Surfaces, texels: Texels, chart: Uint32Array, width: number, distances: number[]): void {
  const { at, start } = texels;
  const [here, beside] = [new Float32Array(3), new Float32Array(3)];
  for (let i = 0; i + 1 < at.length; i += MEASURED_EACH) {
    if (at[i + 1] !== at[i]! + 1 || at[i]! % width === width - 1 || chart[i] !== chart[i + 1]) continue;
    pointPosition(surfaces, texels, middlePoint(start, i), here);
    pointPosition(surfaces, texels, middlePoint(start, i + 1), beside);
    distances.push(Math.hypot(here[0]! - beside[0]!, here[1]! - beside[1]!, here[2]! - beside[2]!));
  }
}
