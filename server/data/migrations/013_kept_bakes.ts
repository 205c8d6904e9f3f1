import { sql, type Kysely } from 'kysely';

/**
 * Bakes that are pinned are kept whatever comes after them; a bake may be finished early. How long a bake took is known from now on: of those that are
 * done the time of their end was renewed when they were shown again.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table bakes add column pinned boolean not null default false, add column early boolean not null default false`.execute(
    db,
  );
  await sql`update bakes set worked_s = 0, started_at = null where state = 'done'`.execute(db);
}
