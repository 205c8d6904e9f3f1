import type { MapSize, Surfaces } from '../../level';
import type { Texels } from './coverTexels';

/** Where the texels of a map lie: what the filter must not blur across. Texel by texel of {@link Cover.at}. */
export interface Cover {
  width: number;
  height: number;
  at: Uint32Array;
  /** For each texel of the map its place in `at`; -1 where no surface is. */
  placeOf: Int32Array;
  chart: Int32Array;
  position: Float32Array;
  normal: Float32Array;
}

export function readCover(surfaces: Surfaces, { width, height }: MapSize, texels: Texels, charts: Uint32Array): Cover {
  const count = texels.at.length;
  const cover: Cover = {
    width,
    height,
    at: texels.at,
    placeOf: new Int32Array(width * height).fill(-1),
    chart: new Int32Array(count),
    position: new Float32Array(count * 3),
    normal: new Float32Array(count * 3),
  };
  const { positions, normals, indices } = surfaces;
  for (let i = 0; i < count; i++) {
    cover.placeOf[texels.at[i]!] = i;
    const k = (texels.start[i]! + texels.start[i + 1]!) >> 1;
    const t = texels.triangle[k]! * 3;
    const [u, v] = [texels.u[k]!, texels.v[k]!];
    const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
    cover.chart[i] = charts[a]!;
    for (let x = 0; x < 3; x++) {
      cover.position[i * 3 + x] = positions[a * 3 + x]! * (1 - u - v) + positions[b * 3 + x]! * u + positions[c * 3 + x]! * v;
      cover.normal[i * 3 + x] = normals[a * 3 + x]! * (1 - u - v) + normals[b * 3 + x]! * u + normals[c * 3 + x]! * v;
    }
    // Interpolated between corners that lean apart it is shorter than one.
    const [nx, ny, nz] = [cover.normal[i * 3]!, cover.normal[i * 3 + 1]!, cover.normal[i * 3 + 2]!];
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    for (let x = 0; x < 3; x++) cover.normal[i * 3 + x]! /= length;
  }
  return cover;
}

/** Median distance in metres between neighbouring texels of one chart. */
export function texelSpacing({ at, width, placeOf, chart, position }: Cover): number {
  const distances: number[] = [];
  const step = Math.max(1, Math.floor(at.length / 4096));
  for (let i = 0; i < at.length; i += step) {
    const next = at[i]! % width === width - 1 ? -1 : placeOf[at[i]! + 1]!;
    if (next < 0 || chart[i] !== chart[next]) continue;
    distances.push(Math.hypot(...[0, 1, 2].map((c) => position[i * 3 + c]! - position[next * 3 + c]!)));
  }
  distances.sort((a, b) => a - b);
  return distances[distances.length >> 1] ?? 1;
}
