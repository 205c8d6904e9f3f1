import { sql, type Kysely } from 'kysely';

/** A bake may know where its level is looked at from; its tiles that are seen there are taken first. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table bakes add column eye jsonb`.execute(db);
  await sql`alter table bake_jobs add column place_in_line integer not null default 0`.execute(db);
}
