import { sql, type Kysely } from 'kysely';

/**
 * Workers say how many threads they have, so that a choice of them can be offered. What the steps of a bake leave has another form: those
 * that are at work begin again.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .alterTable('workers')
    .addColumn('threads', 'integer', (c) => c.notNull().defaultTo(1))
    .execute();
  await sql`delete from blobs where hash in (select direct_hash from bake_jobs union select result_hash from bake_jobs)`.execute(db);
  await sql`delete from bake_jobs`.execute(db);
  await sql`update bakes set state = 'planning', step = 'direct', started_at = null, worked_s = 0
    where state in ('running', 'paused', 'finishing')`.execute(db);
}
