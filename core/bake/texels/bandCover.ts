import type { Surfaces } from '../../level';
import { chartOfVertex } from './charts';
import { coverTexels, type Tile } from './coverTexels';
import { middlePoint, pointPosition } from './mapOutline';

/** Where the texels of some rows of a map lie: what must not be blurred across. Texel by texel of {@link BandCover.at}. */
export interface BandCover {
  /** Of the rows alone. */
  width: number;
  height: number;
  /** Texels, counted from the first of these rows. */
  at: Uint32Array;
  /** For each texel of the rows its place in `at`; -1 where no surface is. */
  placeOf: Int32Array;
  chart: Uint32Array;
  /** Metres. */
  position: Float32Array;
  /** Unit length. */
  normal: Float32Array;
}

/** Rasterises some rows of a map with what is needed to tell which texels lie on one surface. */
export function bandCover(surfaces: Surfaces, rows: Tile): BandCover {
  const { width } = surfaces.maps[rows.map]!;
  const texels = coverTexels(surfaces, rows);
  const charts = chartOfVertex(surfaces);
  const count = texels.at.length;
  const height = rows.bottom - rows.top;
  const cover: BandCover = {
    width,
    height,
    at: texels.at.map((texel) => texel - rows.top * width),
    placeOf: new Int32Array(width * height).fill(-1),
    chart: new Uint32Array(count),
    position: new Float32Array(count * 3),
    normal: new Float32Array(count * 3),
  };
  const { normals, indices } = surfaces;
  for (let i = 0; i < count; i++) {
    cover.placeOf[cover.at[i]!] = i;
    const k = middlePoint(texels.start, i);
    const t = texels.triangle[k]! * 3;
    const [u, v] = [texels.u[k]!, texels.v[k]!];
    const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
    cover.chart[i] = charts[a]!;
    pointPosition(surfaces, texels, k, cover.position, i * 3);
    for (let x = 0; x < 3; x++)
      cover.normal[i * 3 + x] = normals[a * 3 + x]! * (1 - u - v) + normals[b * 3 + x]! * u + normals[c * 3 + x]! * v;
    // Interpolated between corners that lean apart it is shorter than one.
    const [nx, ny, nz] = [cover.normal[i * 3]!, cover.normal[i * 3 + 1]!, cover.normal[i * 3 + 2]!];
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    for (let x = 0; x < 3; x++) cover.normal[i * 3 + x]! /= length;
  }
  return cover;
}
