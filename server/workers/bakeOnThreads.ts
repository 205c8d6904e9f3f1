import { bakeLevel, memoryExecutor, type BakePlan, type HalfStems, type RunJob, type TileStems } from '../../core/bake';
import type { Surfaces } from '../../core/level';
import type { ThreadPool } from './pool';

/**
 * Bakes a level on the threads of a pool, all in memory: the stems of each of its maps.
 *
 * @param key tells this level from others that the pool traces
 * @param progress told the share done, 0..1
 * @param gathered handed what paths brought to each tile
 */
export async function bakeOnThreads(
  pool: ThreadPool,
  surfaces: Surfaces,
  key: string,
  plan: BakePlan,
  progress?: (share: number) => void,
  gathered?: (tile: TileStems) => void,
): Promise<HalfStems[]> {
  const run = (async (step, job, inputs) => {
    const result = await pool.trace('bakeJob', surfaces, { key, plan, step, job, inputs });
    if (step === 'gather') gathered?.(result as TileStems);
    return result;
  }) as RunJob;
  const executor = memoryExecutor(surfaces, plan, run, progress);
  await bakeLevel(executor);
  return executor.stems();
}
