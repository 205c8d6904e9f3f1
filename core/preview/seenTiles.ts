import type { PlannedTile, Scene } from '../bake';
import type { Vantage } from '../rig';
import { newHit } from '../trace';
import { DEG } from '../units';
import { cameraAxes } from './picture';

/** Rays along the height of a picture, and how much wider it is. */
const ROWS = 90;
const ASPECT = 16 / 9;

/**
 * Which tiles of the lightmaps a picture shows: of each the share of the picture that its texels take, 0..1.
 *
 * @param vantage where it is seen from; `fovDeg` is that of its height
 */
export function seenTiles(
  scene: Pick<Scene, 'surfaces' | 'tracer'>,
  { eye, target, fovDeg }: Vantage,
  tiles: readonly PlannedTile[],
): number[] {
  const { maps, mapOf, indices, lightmapUv } = scene.surfaces;
  const tileOfRow = maps.map(({ height }) => new Int32Array(height).fill(-1));
  tiles.forEach(({ map, top, bottom }, k) => tileOfRow[map]!.fill(k, top, bottom));
  const { forward, right, up } = cameraAxes({ eye, target, fovDeg });
  const tangent = Math.tan((fovDeg / 2) * DEG);
  const columns = Math.round(ROWS * ASPECT);
  const hit = newHit();
  const shares = tiles.map(() => 0);
  for (let y = 0; y < ROWS; y++) {
    for (let x = 0; x < columns; x++) {
      const sx = (((x + 0.5) / columns) * 2 - 1) * tangent * ASPECT;
      const sy = (1 - ((y + 0.5) / ROWS) * 2) * tangent;
      const [dx, dy, dz] = forward.map((v, c) => v + right[c]! * sx + up[c]! * sy) as [number, number, number];
      const length = Math.hypot(dx, dy, dz);
      if (!scene.tracer.closest(...eye, dx / length, dy / length, dz / length, 0, Infinity, hit)) continue;
      const { triangle, u, v } = hit;
      const rows = tileOfRow[mapOf[triangle]!];
      if (!rows) continue;
      const along = (k: number) => lightmapUv[indices[triangle * 3 + k]! * 2 + 1]!;
      const row = Math.floor((along(0) * (1 - u - v) + along(1) * u + along(2) * v) * rows.length);
      const tile = rows[Math.min(rows.length - 1, Math.max(0, row))]!;
      if (tile >= 0) shares[tile]! += 1 / (ROWS * columns);
    }
  }
  return shares;
}
