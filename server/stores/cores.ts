import { Failure } from '../../core/units';
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

/** Lets so many cores of each machine bake, or all of them (null); workers follow within seconds. Throws a `bad-input` {@link Failure}. */
export async function useCores(db: Db, used: unknown): Promise<void> {
  if (used === null) {
    await db.deleteFrom('settings').where('name', '=', SETTING).execute();
    return;
  }
  if (typeof used !== 'number' || !Number.isInteger(used) || used < 1 || used > 1024)
    throw new Failure('bad-input', 'The cores that bake are no whole number from 1 to 1024.', 'Send "used" as one, or as null for all.');
  const value = String(used);
  await db
    .insertInto('settings')
    .values({ name: SETTING, value })
    .onConflict((c) => c.column('name').doUpdateSet({ value }))
    .execute();
}
