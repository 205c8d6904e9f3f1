import { sql } from 'kysely';
import type { Db } from '../data';

/** A worker that has said nothing for this long is dead, and its jobs are taken by others, seconds. */
export const DEAD_AFTER_S = 15;

/** How many workers live, as a part of a query: each says so every few seconds. */
export const livingWorkers = sql<string>`(select count(*) from workers where seen_at > now() - make_interval(secs => ${DEAD_AFTER_S}))`;

/** How many workers live. */
export async function workersOf(db: Db): Promise<{ workers: number }> {
  const { rows } = await sql<{ workers: string }>`select ${livingWorkers} as workers`.execute(db);
  return { workers: Number(rows[0]!.workers) };
}
