import { joinDirect, planTiles, type BakePlan, type MapStems, type TileDirect, type TileStems } from '../core/bake';
import type { Surfaces } from '../core/level';
import type { ThreadPool } from './workers';

/** Share of a bake's time that its first step takes, about. */
const DIRECT_SHARE = 0.25;

/**
 * Bakes a level on the threads of a pool: the stems of each of its maps.
 *
 * @param key tells this level from others that the pool traces
 * @param progress told the share done, 0..1
 */
export async function bakeLevel(
  pool: ThreadPool,
  surfaces: Surfaces,
  key: string,
  plan: BakePlan,
  progress?: (share: number) => void,
): Promise<MapStems[]> {
  const { tiles } = planTiles(surfaces, plan.paths);
  let done = 0;
  const told = (from: number, share: number) => progress?.(from + (share * ++done) / tiles.length);
  const direct: TileDirect[] = await Promise.all(
    tiles.map(async (tile) => {
      const result = await pool.trace('direct', surfaces, { key, plan, tile });
      told(0, DIRECT_SHARE);
      return result;
    }),
  );
  const light = joinDirect(surfaces, plan, direct);
  done = 0;
  const gathered: TileStems[] = await Promise.all(
    direct.map(async (own) => {
      const result = await pool.trace('gather', surfaces, { key, plan, light, direct: own });
      told(DIRECT_SHARE, 1 - DIRECT_SHARE);
      return result;
    }),
  );
  const of = <T extends { tile: { map: number } }>(all: T[], map: number) => all.filter((t) => t.tile.map === map);
  return Promise.all(
    surfaces.maps.map((_, map) => pool.trace('finish', surfaces, { key, plan, map, direct: of(direct, map), tiles: of(gathered, map) })),
  );
}
