import type { PlannedTile, Scene } from '../bake';
import type { Vantage } from '../rig';
import { newHit } from '../trace';
import { directionsOf, lightmapAt } from './camera';

/** Rays along both sides of a picture. */
const [COLUMNS, ROWS] = [160, 90];

/** Which tiles of the lightmaps a picture from a vantage shows: of each the share of the picture that its texels take, 0..1. */
export function seenTiles(
  { surfaces, tracer }: Pick<Scene, 'surfaces' | 'tracer'>,
  vantage: Vantage,
  tiles: readonly PlannedTile[],
): number[] {
  const tileOfRow = surfaces.maps.map(({ height }) => new Int32Array(height).fill(-1));
  tiles.forEach(({ map, top, bottom }, k) => tileOfRow[map]!.fill(k, top, bottom));
  const directionAt = directionsOf(vantage, COLUMNS / ROWS);
  const hit = newHit();
  const shares = tiles.map(() => 0);
  for (let y = 0; y < ROWS; y++) {
    for (let x = 0; x < COLUMNS; x++) {
      if (!tracer.closest(...vantage.eye, ...directionAt((x + 0.5) / COLUMNS, (y + 0.5) / ROWS), 0, Infinity, hit)) continue;
      // What has no lightmap names a map that is not there.
      const rows = tileOfRow[surfaces.mapOf[hit.triangle]!];
      if (!rows) continue;
      const row = Math.floor(lightmapAt(surfaces, hit.triangle, hit.u, hit.v)[1] * rows.length);
      const tile = rows[Math.min(rows.length - 1, Math.max(0, row))]!;
      if (tile >= 0) shares[tile]! += 1 / (ROWS * COLUMNS);
    }
  }
  return shares;
}
