import { sql } from 'kysely';
import type { Db } from '../data';

/** A worker that has said nothing for this long is dead, and its jobs are taken by others, seconds. */
export const DEAD_AFTER_S = 15;

/** How many workers live: each says so every few seconds. */
export async function workersOf(db: Db): Promise<{ workers: number }> {
  const { workers } = await db
    .selectFrom('workers')
    .select((eb) => eb.fn.countAll<string>().as('workers'))
    .where('seen_at', '>', sql<Date>`now() - make_interval(secs => ${DEAD_AFTER_S})`)
    .executeTakeFirstOrThrow();
  return { workers: Number(workers) };
}
