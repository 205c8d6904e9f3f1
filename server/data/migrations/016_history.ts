import { sql, type Kysely } from 'kysely';

/** A revision may have a small picture of how it looked, as PNG; pages are told when there is a new one. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table rig_revisions add column picture bytea`.execute(db);
}
