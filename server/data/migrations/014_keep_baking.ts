import { sql, type Kysely } from 'kysely';

/** A project may have what is out of date traced by itself after a pause in editing; such bakes are told from those that were asked for. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table projects add column keep_baking boolean not null default false, add column kept_up integer`.execute(db);
  await sql`alter table bakes add column by_itself boolean not null default false`.execute(db);
}
