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
  const { width } = surfaces.maps[map]!;
  const triangles = trianglesOfRows(surfaces, map, top, bottom);
  const most = width * Math.min(STRIP, bottom - top);
  const cover: Cover = {
    width,
    top,
    bottom,
    owner: new Int32Array(most * MOST_POINTS),
    weights: new Float32Array(most * MOST_POINTS * 2),
    held: new Uint8Array(most),
    nearest: new Float32Array(most),
  };
  const strips: Texels[] = [];
  for (let row = top; row < bottom; row += STRIP) {
    Object.assign(cover, { top: row, bottom: Math.min(bottom, row + STRIP) });
    cover.owner.fill(-1);
    cover.held.fill(0);
    cover.nearest.fill(Infinity);
    const own = triangles.filter((t) => t.high >= cover.top - 1 && t.low <= cover.bottom + 1);
    for (const triangle of own) coverPoints(cover, triangle);
    for (const triangle of own) coverThin(cover, triangle);
    strips.push(collect(cover));
  }
  return strips.length === 1 ? strips[0]! : join(strips);
}

/** Rows that are rasterised at a time, so that what is known of their points stays in the processor's cache. */
const STRIP = 8;

/** A triangle on a map, in texels of it, and the rows that it lies in. */
interface Placed {
  triangle: number;
  low: number;
  high: number;
  ax: number;
  ay: number;
  bx: number;
  by: number;
  cx: number;
  cy: number;
}

/** The triangles that may cover texels of some rows, in their order. */
function trianglesOfRows(surfaces: Surfaces, map: number, top: number, bottom: number): Placed[] {
  const { width, height } = surfaces.maps[map]!;
  const { indices, lightmapUv } = surfaces;
  const { triangles, low, high } = trianglesOfMap(surfaces, map);
  const out: Placed[] = [];
  for (let i = 0; i < triangles.length; i++) {
    // Most triangles lie in other rows.
    if (!(high[i]! * height >= top - 1 && low[i]! * height <= bottom + 1)) continue;
    const triangle = triangles[i]!;
    const [a, b, c] = [indices[triangle * 3]! * 2, indices[triangle * 3 + 1]! * 2, indices[triangle * 3 + 2]! * 2];
    out.push({
      triangle,
      low: low[i]! * height,
      high: high[i]! * height,
      ax: lightmapUv[a]! * width,
      ay: lightmapUv[a + 1]! * height,
      bx: lightmapUv[b]! * width,
      by: lightmapUv[b + 1]! * height,
      cx: lightmapUv[c]! * width,
      cy: lightmapUv[c + 1]! * height,
    });
  }
  return out;
}

/** Points of each texel of some rows. */
interface Cover {
  width: number;
  top: number;
  bottom: number;
  /** Which triangle covers each point (-1 for none), and where on it. */
  owner: Int32Array;
  weights: Float32Array;
  /** How many points of each texel are covered. */
  held: Uint8Array;
  /** How far the triangle that a texel stands for lies from its middle, where it is a thin one; Infinity else. */
  nearest: Float32Array;
}

/** Marks the points of the 4 x 4 grids whose centres lie in a triangle. */
function coverPoints({ width, top, bottom, owner, weights, held }: Cover, corners: Placed): void {
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
      if (owner[point]! < 0) held[texel]!++;
      owner[point] = corners.triangle;
      weights[point * 2] = u;
      weights[point * 2 + 1] = v;
    }
  }
}

/** Half the diagonal of a texel: nothing within it is farther from its middle. */
const TOUCH = Math.SQRT1_2;

/** Gives texels that a triangle touches, and that no point was found in, the triangle's point nearest to their middle. */
function coverThin({ width, top, bottom, owner, weights, held, nearest }: Cover, corners: Placed): void {
  const { ax, ay, bx, by, cx, cy } = corners;
  const [low, high] = [Math.max(top, Math.floor(Math.min(ay, by, cy))), Math.min(bottom - 1, Math.floor(Math.max(ay, by, cy)))];
  const [left, right] = [Math.max(0, Math.floor(Math.min(ax, bx, cx))), Math.min(width - 1, Math.floor(Math.max(ax, bx, cx)))];
  let drawn = false;
  for (let y = low; y <= high; y++) {
    for (let x = left; x <= right; x++) {
      const texel = (y - top) * width + x;
      // Infinity says that this texel is served by no thin triangle yet; its points then decide.
      if (nearest[texel] === Infinity && held[texel]! > 0) continue;
      if (!drawn) drawLines(corners);
      drawn = true;
      if (isBeyond(x + 0.5, y + 0.5)) continue;
      const { u, v, distance } = nearestOnTriangle(x + 0.5, y + 0.5, corners);
      if (!(distance < TOUCH && distance < nearest[texel]!)) continue;
      nearest[texel] = distance;
      held[texel] = 1;
      const first = texel * MOST_POINTS;
      owner[first] = corners.triangle;
      weights[first * 2] = u;
      weights[first * 2 + 1] = v;
    }
  }
}

/** The lines {@link TOUCH} beyond a triangle's edges: the two parts of each one's normal, and how far along it the line lies. */
const lines = new Float64Array(9);

function drawLines({ ax, ay, bx, by, cx, cy }: Placed): void {
  const side = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) > 0 ? 1 : -1;
  drawLine(0, side, ax, ay, bx, by);
  drawLine(3, side, bx, by, cx, cy);
  drawLine(6, side, cx, cy, ax, ay);
}

function drawLine(at: number, side: number, px: number, py: number, qx: number, qy: number): void {
  const length = side * Math.sqrt((qx - px) ** 2 + (qy - py) ** 2);
  // An edge without length parts nothing.
  const [nx, ny] = length === 0 ? [0, 0] : [(qy - py) / length, (px - qx) / length];
  lines[at] = nx;
  lines[at + 1] = ny;
  lines[at + 2] = nx * px + ny * py + TOUCH;
}

/** Whether a point lies beyond one of the lines, and so too far from the triangle: most texels about a large one do. */
function isBeyond(x: number, y: number): boolean {
  return (
    lines[0]! * x + lines[1]! * y > lines[2]! || lines[3]! * x + lines[4]! * y > lines[5]! || lines[6]! * x + lines[7]! * y > lines[8]!
  );
}

/** The point of a triangle nearest to one that lies outside it or anywhere on one without area: on one of its edges. */
function nearestOnTriangle(x: number, y: number, { ax, ay, bx, by, cx, cy }: Placed): { u: number; v: number; distance: number } {
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

/** The texels of some rows that are covered. */
function collect({ width, top, bottom, owner, weights, held }: Cover): Texels {
  const texels = width * (bottom - top);
  let [count, points] = [0, 0];
  for (let texel = 0; texel < texels; texel++) {
    if (held[texel]! > 0) count++;
    points += held[texel]!;
  }
  const out = roomFor(count, points);
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

const roomFor = (count: number, points: number): Texels => ({
  at: new Uint32Array(count),
  start: new Uint32Array(count + 1),
  triangle: new Uint32Array(points),
  u: new Float32Array(points),
  v: new Float32Array(points),
});

/** The texels of strips that lie one below the other. */
function join(strips: readonly Texels[]): Texels {
  const sum = (of: (texels: Texels) => number) => strips.reduce((all, texels) => all + of(texels), 0);
  const out = roomFor(
    sum((t) => t.at.length),
    sum((t) => t.triangle.length),
  );
  let [i, k] = [0, 0];
  for (const { at, start, triangle, u, v } of strips) {
    out.at.set(at, i);
    out.triangle.set(triangle, k);
    out.u.set(u, k);
    out.v.set(v, k);
    for (let own = 1; own < start.length; own++) out.start[i + own] = k + start[own]!;
    i += at.length;
    k += triangle.length;
  }
  return out;
}
