import { sql, type Kysely } from 'kysely';

/**
 * What a bake knows of the noise of its light, and what each of its tiles tells of it. Tiles hold the noise of each kind of light: bakes at
 * work, and those that failed and kept their tiles, begin again.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`delete from blobs where hash in (select result_hash from bake_jobs)`.execute(db);
  await sql`delete from bake_jobs`.execute(db);
  await sql`update bakes set state = 'planning', started_at = null, worked_s = 0
    where state in ('running', 'paused', 'finishing')`.execute(db);
  await sql`update bakes set step = 'plan' where state in ('planning', 'failed')`.execute(db);
  await sql`alter table bakes add column noise jsonb`.execute(db);
  await sql`alter table bake_jobs add column noise jsonb`.execute(db);
}
