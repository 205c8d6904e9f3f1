import { sql, type Kysely } from 'kysely';

/** The straight light of a tile holds the sky that it sees as well: bakes at work, and those that failed and kept their tiles, begin again. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`delete from blobs where hash in (select result_hash from bake_jobs)`.execute(db);
  await sql`delete from bake_jobs`.execute(db);
  await sql`update bakes set state = 'planning', started_at = null, worked_s = 0
    where state in ('running', 'paused', 'finishing')`.execute(db);
  await sql`update bakes set step = 'plan' where state in ('planning', 'failed')`.execute(db);
}
