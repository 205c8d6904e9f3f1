import type { Surfaces } from '../../level';
import { trianglesOfMap } from './trianglesOfMap';

/** Each texel is looked at on a grid of this many points a side. */
const GRID = 4;
/** Points that one texel has at most. */
export const MOST_POINTS = GRID * GRID;

/** Rows `top` (included) to `bottom` (not included) of one lightmap. */
export interface Tile {
  map: number;
  top: number;
  bottom: number;
}

/** Where the texels of a tile lie on the level. Only texels that surface covers are listed. */
export interface Texels {
  /** y * width + x in the map, ascending. */
  at: Uint32Array;
  /** Points of texel i are those from `start[i]` to `start[i + 1]`. */
  start: Uint32Array;
  triangle: Uint32Array;
  /** Barycentric weights of the second and third corner. */
  u: Float32Array;
  v: Float32Array;
}

/**
 * Finds the surface points of a tile's texels: each texel is sampled at the centres of a 4 x 4 grid, so that a texel
 * cut by a chart's edge stands for just the part of it that the chart covers. A texel that a triangle touches without
 * meeting any of these points (a chart thinner than a texel) stands for the point of the triangle nearest to its middle,
 * so that no surface is left without light of its own.
 *
 * What is found for a texel depends on the level and that texel alone: all is computed in coordinates of the whole map, so the texels of
 * a map are those of its tiles, however it is cut.
 */
export function coverTexels(surfaces: Surfaces, { map, top, bottom }: Tile): Texels {
  const { width, height } = surfaces.maps[map]!;
  const cover: Cover = {
    width,
    top,
    bottom,
    owner: new Int32Array(width * (bottom - top) * MOST_POINTS).fill(-1),
    weights: new Float32Array(width * (bottom - top) * MOST_POINTS * 2),
  };
  const { indices, lightmapUv } = surfaces;
  const { triangles, low, high } = trianglesOfMap(surfaces, map);
  const touching: { triangle: number; corners: Corners }[] = [];
  for (let i = 0; i < triangles.length; i++) {
    // Most triangles lie in other rows.
    if (!(high[i]! * height >= top - 1 && low[i]! * height <= bottom + 1)) continue;
    const triangle = triangles[i]!;
    const [a, b, c] = [indices[triangle * 3]! * 2, indices[triangle * 3 + 1]! * 2, indices[triangle * 3 + 2]! * 2];
    const corners: Corners = {
      ax: lightmapUv[a]! * width,
      ay: lightmapUv[a + 1]! * height,
      bx: lightmapUv[b]! * width,
      by: lightmapUv[b + 1]! * height,
      cx: lightmapUv[c]! * width,
      cy: lightmapUv[c + 1]! * height,
    };
    touching.push({ triangle, corners });
    coverPoints(cover, triangle, corners);
  }
  const nearest = new Float32Array(width * (bottom - top)).fill(Infinity);
  for (const { triangle, corners } of touching) coverThin(cover, nearest, triangle, corners);
  return collect(cover);
}

/** Corners of a triangle in texels of its map. */
interface Corners {
  ax: number;
  ay: number;
  bx: number;
  by: number;
  cx: number;
  cy: number;
}

/** Points of each texel of a tile: which triangle covers it (-1 for none) and where on it. */
interface Cover {
  width: number;
  top: number;
  bottom: number;
  owner: Int32Array;
  weights: Float32Array;
}

/** Marks the points of the 4 x 4 grids whose centres lie in a triangle. */
function coverPoints({ width, top, bottom, owner, weights }: Cover, triangle: number, corners: Corners): void {
  const [ax, ay] = [corners.ax * GRID, corners.ay * GRID];
  const [bx, by] = [corners.bx * GRID, corners.by * GRID];
  const [cx, cy] = [corners.cx * GRID, corners.cy * GRID];
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0) return;
  const low = Math.max(top * GRID, Math.ceil(Math.min(ay, by, cy) - 0.5));
  const high = Math.min(bottom * GRID - 1, Math.floor(Math.max(ay, by, cy) - 0.5));
  const left = Math.max(0, Math.ceil(Math.min(ax, bx, cx) - 0.5));
  const right = Math.min(width * GRID - 1, Math.floor(Math.max(ax, bx, cx) - 0.5));
  for (let y = low; y <= high; y++) {
    for (let x = left; x <= right; x++) {
      const px = x + 0.5 - ax;
      const py = y + 0.5 - ay;
      const u = (px * (cy - ay) - py * (cx - ax)) / area;
      const v = ((bx - ax) * py - (by - ay) * px) / area;
      if (u < 0 || v < 0 || u + v > 1) continue;
      const texel = (Math.floor(y / GRID) - top) * width + Math.floor(x / GRID);
      const point = texel * MOST_POINTS + (y % GRID) * GRID + (x % GRID);
      owner[point] = triangle;
      weights[point * 2] = u;
      weights[point * 2 + 1] = v;
    }
  }
}

/** Half the diagonal of a texel: nothing within it is farther from its middle. */
const TOUCH = Math.SQRT1_2;

/** Gives texels that a triangle touches, and that no point was found in, the triangle's point nearest to their middle. */
function coverThin({ width, top, bottom, owner, weights }: Cover, nearest: Float32Array, triangle: number, corners: Corners): void {
  const { ax, ay, bx, by, cx, cy } = corners;
  const [low, high] = [Math.max(top, Math.floor(Math.min(ay, by, cy))), Math.min(bottom - 1, Math.floor(Math.max(ay, by, cy)))];
  const [left, right] = [Math.max(0, Math.floor(Math.min(ax, bx, cx))), Math.min(width - 1, Math.floor(Math.max(ax, bx, cx)))];
  for (let y = low; y <= high; y++) {
    for (let x = left; x <= right; x++) {
      const texel = (y - top) * width + x;
      const first = texel * MOST_POINTS;
      // Infinity says that this texel is served by no thin triangle yet; its points then decide.
      if (nearest[texel] === Infinity && isServed(owner, first)) continue;
      const { u, v, distance } = nearestOnTriangle(x + 0.5, y + 0.5, corners);
      if (!(distance < TOUCH && distance < nearest[texel]!)) continue;
      nearest[texel] = distance;
      owner[first] = triangle;
      weights[first * 2] = u;
      weights[first * 2 + 1] = v;
    }
  }
}

/** Whether any of a texel's points lies on a triangle. */
function isServed(owner: Int32Array, first: number): boolean {
  for (let point = first; point < first + MOST_POINTS; point++) if (owner[point]! >= 0) return true;
  return false;
}

/** The point of a triangle nearest to one that lies outside it or anywhere on one without area: on one of its edges. */
function nearestOnTriangle(x: number, y: number, { ax, ay, bx, by, cx, cy }: Corners): { u: number; v: number; distance: number } {
  const corners = [
    [ax, ay],
    [bx, by],
    [cx, cy],
  ] as const;
  let best = { u: 0, v: 0, distance: Infinity };
  for (let k = 0; k < 3; k++) {
    const [px, py] = corners[k]!;
    const [qx, qy] = corners[(k + 1) % 3]!;
    const length = (qx - px) ** 2 + (qy - py) ** 2;
    const t = length > 0 ? Math.min(1, Math.max(0, ((x - px) * (qx - px) + (y - py) * (qy - py)) / length)) : 0;
    const distance = Math.hypot(px + (qx - px) * t - x, py + (qy - py) * t - y);
    if (distance >= best.distance) continue;
    const weights = [0, 0, 0];
    weights[k] = 1 - t;
    weights[(k + 1) % 3] = t;
    best = { u: weights[1]!, v: weights[2]!, distance };
  }
  return best;
}

function collect({ width, top, bottom, owner, weights }: Cover): Texels {
  const texels = width * (bottom - top);
  const held = new Uint8Array(texels);
  let [count, points] = [0, 0];
  for (let texel = 0; texel < texels; texel++) {
    for (let point = texel * MOST_POINTS; point < (texel + 1) * MOST_POINTS; point++) if (owner[point]! >= 0) held[texel]!++;
    if (held[texel]! > 0) count++;
    points += held[texel]!;
  }
  const out: Texels = {
    at: new Uint32Array(count),
    start: new Uint32Array(count + 1),
    triangle: new Uint32Array(points),
    u: new Float32Array(points),
    v: new Float32Array(points),
  };
  let [i, k] = [0, 0];
  for (let texel = 0; texel < texels; texel++) {
    if (held[texel] === 0) continue;
    out.at[i++] = top * width + texel;
    for (let point = texel * MOST_POINTS; point < (texel + 1) * MOST_POINTS; point++) {
      if (owner[point]! < 0) continue;
      out.triangle[k] = owner[point]!;
      out.u[k] = weights[point * 2]!;
      out.v[k++] = weights[point * 2 + 1]!;
    }
    out.start[i] = k;
  }
  return out;
}
