import type { Surfaces } from '../../level';
import { coverTexels, type Tile } from './coverTexels';

/** Paths that a job should follow at first, so that it takes about ten seconds. */
const JOB_PATHS = 250_000;
/** Most texels of a tile: the rows around a band are read with their whole tiles. */
const MOST_TEXELS = 8192;

/** A tile, and how many texels surface covers in it. */
export interface PlannedTile extends Tile {
  texels: number;
}

/**
 * Cuts a level's lightmaps into tiles of whole rows that are each some seconds' work.
 *
 * @param paths paths from each texel
 */
export function planTiles(surfaces: Surfaces, paths: number): { tiles: PlannedTile[]; texels: number } {
  const jobTexels = Math.min(MOST_TEXELS, Math.max(64, Math.round(JOB_PATHS / paths)));
  const tiles: PlannedTile[] = [];
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
        tiles.push({ map, top, bottom: y + 1, texels: held });
        texels += held;
        [held, top] = [0, y + 1];
      }
    }
    if (held > 0) tiles.push({ map, top, bottom: height, texels: held });
    texels += held;
  });
  return { tiles, texels };
}

/** Texels that are denoised in one go, about. */
const BAND_TEXELS = 32_768;

/** Joins the tiles of each map to bands of whole rows that are denoised in one go. */
export function planBands(tiles: readonly PlannedTile[], bandTexels = BAND_TEXELS): PlannedTile[] {
  const bands: PlannedTile[] = [];
  for (const { map, top, bottom, texels } of tiles) {
    const last = bands.at(-1);
    if (last?.map === map && last.texels + texels <= bandTexels) {
      last.bottom = bottom;
      last.texels += texels;
    } else bands.push({ map, top, bottom, texels });
  }
  return bands;
}

/** Rows that a probe of a bake looks at in one go. */
const PROBE_ROWS = 4;

/** Some rows of every tile, spread so that the first few already speak for the whole level. */
export function estimateTiles(tiles: readonly PlannedTile[]): PlannedTile[] {
  const stride = Math.max(1, Math.round(tiles.length * 0.618));
  // Steps of about the golden ratio, without a common divisor, come to every tile once.
  const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b));
  let step = stride;
  while (divisor(step, tiles.length) !== 1) step++;
  return tiles.map((_, i) => {
    const { map, top, bottom, texels } = tiles[(i * step) % tiles.length]!;
    const middle = Math.max(top, ((top + bottom) >> 1) - PROBE_ROWS / 2);
    const end = Math.min(bottom, middle + PROBE_ROWS);
    return { map, top: middle, bottom: end, texels: Math.round((texels * (end - middle)) / (bottom - top)) };
  });
}
