import type { CoresChange, CoresView } from '../../core/api';
import type { Db } from '../data';
import { AT_WORK } from './bakeStates';

/** Names of the settings that say how many cores of each machine bake, and how many of them where a bake began by itself. */
const SETTINGS: Readonly<Record<keyof CoresChange, string>> = { used: 'cores that bake', byItself: 'cores that bake by themselves' };

/** How many cores of each worker's machine there are, and how many of them are to bake. */
export async function coresOf(db: Db): Promise<CoresView> {
  const [workers, settings] = await Promise.all([
    db.selectFrom('workers').select('threads').execute(),
    db.selectFrom('settings').select(['name', 'value']).where('name', 'in', Object.values(SETTINGS)).execute(),
  ]);
  const set = (key: keyof CoresChange) => {
    const own = settings.find((s) => s.name === SETTINGS[key]);
    return own ? Number(own.value) : null;
  };
  return { most: Math.max(1, ...workers.map((w) => w.threads)), used: set('used'), byItself: set('byItself') };
}

/** How many of a worker's cores bake now: while all bakes at work began by themselves, not more than those are given. */
export async function coresNow(db: Db, most: number): Promise<number> {
  const [{ used, byItself }, atWork] = await Promise.all([
    coresOf(db),
    db.selectFrom('bakes').select('by_itself').distinct().where('state', 'in', AT_WORK).execute(),
  ]);
  const isOwnWork = atWork.length > 0 && atWork.every((b) => b.by_itself);
  return Math.min(most, used ?? most, isOwnWork ? (byItself ?? most) : most);
}

/** Lets so many cores of each machine bake, or all of them (null), in all or by themselves; workers follow within seconds. */
export async function useCores(db: Db, change: Partial<CoresChange>): Promise<void> {
  for (const [key, cores] of Object.entries(change) as [keyof CoresChange, number | null][]) {
    const name = SETTINGS[key];
    if (cores === null) {
      await db.deleteFrom('settings').where('name', '=', name).execute();
      continue;
    }
    const value = String(cores);
    await db
      .insertInto('settings')
      .values({ name, value })
      .onConflict((c) => c.column('name').doUpdateSet({ value }))
      .execute();
  }
}
