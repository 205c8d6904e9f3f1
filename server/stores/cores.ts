import type { CoresView } from '../../core/api';
import type { Db } from '../data';

/** Name of the setting that says how many cores of each machine bake. */
const SETTING = 'cores that bake';

/** How many cores of each worker's machine there are, and how many of them are to bake. */
export async function coresOf(db: Db): Promise<CoresView> {
  const [workers, used] = await Promise.all([
    db.selectFrom('workers').select('threads').execute(),
    db.selectFrom('settings').select('value').where('name', '=', SETTING).executeTakeFirst(),
  ]);
  return { most: Math.max(1, ...workers.map((w) => w.threads)), used: used ? Number(used.value) : null };
}

/** Lets so many cores of each machine bake, or all of them (null); workers follow within seconds. */
export async function useCores(db: Db, used: number | null): Promise<void> {
  if (used === null) {
    await db.deleteFrom('settings').where('name', '=', SETTING).execute();
    return;
  }
  const value = String(used);
  await db
    .insertInto('settings')
    .values({ name: SETTING, value })
    .onConflict((c) => c.column('name').doUpdateSet({ value }))
    .execute();
}
