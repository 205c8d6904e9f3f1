import { changeBlobs } from '../data';
import type { Jobs } from '../queue';
import { freeFirstLook } from '../stores';
import { bakeAtWork, levelOf } from './bakeAtWork';
import { storeMap } from './bakeJob';
import type { JobContext, JobControl } from './jobContext';

/** Bakes a preview of a whole bake, which is shown until that is done. */
export async function bakePreview(context: JobContext, { bakeId }: Jobs['bake-preview'], { signal }: JobControl): Promise<void> {
  const { db, pool } = context;
  const bake = await bakeAtWork(db, bakeId, ['planning', 'running']);
  if (!bake) return;
  const { key, surfaces } = await levelOf(context, bake);
  // In place of one of those that trace, so that it does not wait for the machine with them.
  const maps = await pool.trace('preview', surfaces, { key, plan: bake.trace }, { signal });
  await changeBlobs(db, async (tx) => {
    const still = await tx
      .selectFrom('bakes')
      .select('id')
      .where('id', '=', bakeId)
      .where('state', 'in', ['planning', 'running', 'paused'])
      .forUpdate()
      .executeTakeFirst();
    if (!still) return;
    for (const [map, packed] of maps.entries()) await storeMap(tx, bakeId, map, packed, true);
  });
  // The bake may have ended meanwhile.
  if (!(await bakeAtWork(db, bakeId, ['planning', 'running', 'paused', 'finishing', 'failed']))) await freeFirstLook(db, bakeId);
}
