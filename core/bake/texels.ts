import type { Surfaces } from '../level';

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
 * cut by a chart's edge stands for just the part of it that the chart covers.
 */
export function coverTexels(surfaces: Surfaces, { map, top, bottom }: Tile): Texels {
  const { width, height } = surfaces.maps[map]!;
  const fine = width * GRID;
  const firstRow = top * GRID;
  const rows = (bottom - top) * GRID;
  const owner = new Int32Array(fine * rows).fill(-1);
  const weights = new Float32Array(fine * rows * 2);
  const { indices, mapOf, lightmapUv } = surfaces;

  for (let triangle = 0; triangle < mapOf.length; triangle++) {
    if (mapOf[triangle] !== map) continue;
    const a = indices[triangle * 3]! * 2;
    const b = indices[triangle * 3 + 1]! * 2;
    const c = indices[triangle * 3 + 2]! * 2;
    const ay = lightmapUv[a + 1]! * height * GRID - firstRow;
    const by = lightmapUv[b + 1]! * height * GRID - firstRow;
    const cy = lightmapUv[c + 1]! * height * GRID - firstRow;
    const low = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5));
    const high = Math.min(rows - 1, Math.floor(Math.max(ay, by, cy) - 0.5));
    if (low > high) continue;
    const ax = lightmapUv[a]! * fine;
    const bx = lightmapUv[b]! * fine;
    const cx = lightmapUv[c]! * fine;
    const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    if (area === 0) continue;
    const left = Math.max(0, Math.ceil(Math.min(ax, bx, cx) - 0.5));
    const right = Math.min(fine - 1, Math.floor(Math.max(ax, bx, cx) - 0.5));
    for (let y = low; y <= high; y++) {
      for (let x = left; x <= right; x++) {
        const px = x + 0.5 - ax;
        const py = y + 0.5 - ay;
        const u = (px * (cy - ay) - py * (cx - ax)) / area;
        const v = ((bx - ax) * py - (by - ay) * px) / area;
        if (u < 0 || v < 0 || u + v > 1) continue;
        const cell = y * fine + x;
        owner[cell] = triangle;
        weights[cell * 2] = u;
        weights[cell * 2 + 1] = v;
      }
    }
  }
  return collect(owner, weights, width, top, bottom);
}

function collect(owner: Int32Array, weights: Float32Array, width: number, top: number, bottom: number): Texels {
  const fine = width * GRID;
  const at: number[] = [];
  const start: number[] = [0];
  const cells: number[] = [];
  for (let y = top; y < bottom; y++) {
    for (let x = 0; x < width; x++) {
      const before = cells.length;
      for (let k = 0; k < GRID * GRID; k++) {
        const cell = ((y - top) * GRID + Math.floor(k / GRID)) * fine + x * GRID + (k % GRID);
        if (owner[cell]! >= 0) cells.push(cell);
      }
      if (cells.length === before) continue;
      at.push(y * width + x);
      start.push(cells.length);
    }
  }
  return {
    at: Uint32Array.from(at),
    start: Uint32Array.from(start),
    triangle: Uint32Array.from(cells, (cell) => owner[cell]!),
    u: Float32Array.from(cells, (cell) => weights[cell * 2]!),
    v: Float32Array.from(cells, (cell) => weights[cell * 2 + 1]!),
  };
}

/** Paths that a job should follow, so that it takes some seconds. */
const JOB_PATHS = 100_000;

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

/** For each vertex, a number that the vertices of one chart (triangles that share vertices) have in common. */
export function chartOfVertex(surfaces: Surfaces): Uint32Array {
  const parent = Uint32Array.from({ length: surfaces.positions.length / 3 }, (_, i) => i);
  const find = (v: number) => {
    while (parent[v] !== v) {
      parent[v] = parent[parent[v]!]!;
      v = parent[v]!;
    }
    return v;
  };
  for (let t = 0; t < surfaces.indices.length; t += 3) {
    const root = find(surfaces.indices[t]!);
    parent[find(surfaces.indices[t + 1]!)] = root;
    parent[find(surfaces.indices[t + 2]!)] = root;
  }
  return parent.map((_, v) => find(v));
}
