import type { Surfaces } from '../../level';

/** Each texel is looked at on a grid of this many points a side. */
const GRID = 4;

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
 */
export function coverTexels(surfaces: Surfaces, { map, top, bottom }: Tile): Texels {
  const { width, height } = surfaces.maps[map]!;
  const cover: Cover = {
    width,
    top,
    bottom,
    owner: new Int32Array(width * (bottom - top) * POINTS).fill(-1),
    weights: new Float32Array(width * (bottom - top) * POINTS * 2),
  };
  const { indices, mapOf, lightmapUv } = surfaces;
  const touching: { triangle: number; corners: Corners }[] = [];
  for (let triangle = 0; triangle < mapOf.length; triangle++) {
    if (mapOf[triangle] !== map) continue;
    const y0 = lightmapUv[indices[triangle * 3]! * 2 + 1]! * height - top;
    const y1 = lightmapUv[indices[triangle * 3 + 1]! * 2 + 1]! * height - top;
    const y2 = lightmapUv[indices[triangle * 3 + 2]! * 2 + 1]! * height - top;
    // Most triangles lie in other rows.
    if (!(Math.max(y0, y1, y2) >= -1 && Math.min(y0, y1, y2) <= bottom - top + 1)) continue;
    const corners = [0, 1, 2].map((k) => {
      const v = indices[triangle * 3 + k]! * 2;
      return [lightmapUv[v]! * width, lightmapUv[v + 1]! * height - top];
    }) as Corners;
    touching.push({ triangle, corners });
    coverPoints(cover, triangle, corners);
  }
  const nearest = new Float32Array(width * (bottom - top)).fill(Infinity);
  for (const { triangle, corners } of touching) coverThin(cover, nearest, triangle, corners);
  return collect(cover);
}

/** Corners of a triangle in texels, the tile's first row being 0. */
type Corners = [[number, number], [number, number], [number, number]];

/** Points of each texel: which triangle covers it (-1 for none) and where on it. */
interface Cover {
  width: number;
  top: number;
  bottom: number;
  owner: Int32Array;
  weights: Float32Array;
}

const POINTS = GRID * GRID;

/** Marks the points of the 4 x 4 grids whose centres lie in a triangle. */
function coverPoints({ width, top, bottom, owner, weights }: Cover, triangle: number, corners: Corners): void {
  const [[ax, ay], [bx, by], [cx, cy]] = corners.map(([x, y]) => [x * GRID, y * GRID]) as Corners;
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0) return;
  const low = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5));
  const high = Math.min((bottom - top) * GRID - 1, Math.floor(Math.max(ay, by, cy) - 0.5));
  const left = Math.max(0, Math.ceil(Math.min(ax, bx, cx) - 0.5));
  const right = Math.min(width * GRID - 1, Math.floor(Math.max(ax, bx, cx) - 0.5));
  for (let y = low; y <= high; y++) {
    for (let x = left; x <= right; x++) {
      const px = x + 0.5 - ax;
      const py = y + 0.5 - ay;
      const u = (px * (cy - ay) - py * (cx - ax)) / area;
      const v = ((bx - ax) * py - (by - ay) * px) / area;
      if (u < 0 || v < 0 || u + v > 1) continue;
      const texel = Math.floor(y / GRID) * width + Math.floor(x / GRID);
      const point = texel * POINTS + (y % GRID) * GRID + (x % GRID);
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
  const xs = corners.map((c) => c[0]);
  const ys = corners.map((c) => c[1]);
  const rows = bottom - top;
  for (let y = Math.max(0, Math.floor(Math.min(...ys))); y <= Math.min(rows - 1, Math.floor(Math.max(...ys))); y++) {
    for (let x = Math.max(0, Math.floor(Math.min(...xs))); x <= Math.min(width - 1, Math.floor(Math.max(...xs))); x++) {
      const texel = y * width + x;
      const first = texel * POINTS;
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
  for (let point = first; point < first + POINTS; point++) if (owner[point]! >= 0) return true;
  return false;
}

/** The point of a triangle nearest to one that lies outside it or anywhere on one without area: on one of its edges. */
function nearestOnTriangle(x: number, y: number, corners: Corners): { u: number; v: number; distance: number } {
  let best = { u: 0, v: 0, distance: Infinity };
  for (let k = 0; k < 3; k++) {
    const [ax, ay] = corners[k]!;
    const [bx, by] = corners[(k + 1) % 3]!;
    const length = (bx - ax) ** 2 + (by - ay) ** 2;
    const t = length > 0 ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length)) : 0;
    const distance = Math.hypot(ax + (bx - ax) * t - x, ay + (by - ay) * t - y);
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
    for (let point = texel * POINTS; point < (texel + 1) * POINTS; point++) if (owner[point]! >= 0) held[texel]!++;
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
    for (let point = texel * POINTS; point < (texel + 1) * POINTS; point++) {
      if (owner[point]! < 0) continue;
      out.triangle[k] = owner[point]!;
      out.u[k] = weights[point * 2]!;
      out.v[k++] = weights[point * 2 + 1]!;
    }
    out.start[i] = k;
  }
  return out;
}

/** Paths that a job should follow at first, so that it takes about ten seconds. */
const JOB_PATHS = 250_000;

/**
 * Cuts a level's lightmaps into tiles of whole rows that are each some seconds' work.
 *
 * @param paths paths from each texel
 */
export function planTiles(surfaces: Surfaces, paths: number): { tiles: Tile[]; texels: number } {
  const jobTexels = Math.max(64, Math.round(JOB_PATHS / paths));
  const tiles: Tile[] = [];
  let texels = 0;
  surfaces.maps.forEach(({ width, height }, map) => {
    let held = 0;
    let top = 0;
    for (let strip = 0; strip < height; strip += 32) {
      const { at } = coverTexels(surfaces, { map, top: strip, bottom: Math.min(height, strip + 32) });
      const perRow = new Uint32Array(32);
      for (const i of at) perRow[Math.floor(i / width) - strip]!++;
      for (let y = strip; y < Math.min(height, strip + 32); y++) {
        held += perRow[y - strip]!;
        if (held < jobTexels) continue;
        tiles.push({ map, top, bottom: y + 1 });
        texels += held;
        [held, top] = [0, y + 1];
      }
    }
    if (held > 0) tiles.push({ map, top, bottom: height });
    texels += held;
  });
  return { tiles, texels };
}

/** Rows that a probe of a bake looks at in one go. */
const PROBE_ROWS = 4;

/** Some rows of every tile, spread so that the first few already speak for the whole level. */
export function estimateTiles(tiles: readonly Tile[]): Tile[] {
  const stride = Math.max(1, Math.round(tiles.length * 0.618));
  // Steps of about the golden ratio, without a common divisor, come to every tile once.
  const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b));
  let step = stride;
  while (divisor(step, tiles.length) !== 1) step++;
  return tiles.map((_, i) => {
    const { map, top, bottom } = tiles[(i * step) % tiles.length]!;
    const middle = Math.max(top, ((top + bottom) >> 1) - PROBE_ROWS / 2);
    return { map, top: middle, bottom: Math.min(bottom, middle + PROBE_ROWS) };
  });
}

const charts = new WeakMap<Float32Array, Uint32Array>();

/**
 * For each vertex, a number that the vertices of one chart have in common: of triangles that share vertices, or that meet
 * at the same places of one lightmap (flat-shaded triangles have vertices of their own). Worked out once for a level.
 */
export function chartOfVertex(surfaces: Pick<Surfaces, 'positions' | 'indices' | 'mapOf' | 'lightmapUv'>): Uint32Array {
  let known = charts.get(surfaces.lightmapUv);
  if (!known) charts.set(surfaces.lightmapUv, (known = findCharts(surfaces)));
  return known;
}

function findCharts({ positions, indices, mapOf, lightmapUv }: Parameters<typeof chartOfVertex>[0]): Uint32Array {
  const parent = Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
  const find = (v: number) => {
    while (parent[v] !== v) {
      parent[v] = parent[parent[v]!]!;
      v = parent[v]!;
    }
    return v;
  };
  const join = (a: number, b: number) => (parent[find(a)] = find(b));
  const firstAt = mapOf.reduce<Map<string, number>[]>((maps, map) => ((maps[map] ??= new Map()), maps), []);
  for (let t = 0; t < mapOf.length; t++) {
    for (let k = 0; k < 3; k++) {
      const v = indices[t * 3 + k]!;
      join(v, indices[t * 3]!);
      const place = `${lightmapUv[v * 2]} ${lightmapUv[v * 2 + 1]}`;
      const first = firstAt[mapOf[t]!]!.get(place);
      if (first === undefined) firstAt[mapOf[t]!]!.set(place, v);
      else join(v, first);
    }
  }
  return parent.map((_, v) => find(v));
}
