import { sql, type Kysely } from 'kysely';

/** Another finished version of a level comes in as an intake that tells what it shows otherwise, and waits until it is taken or dropped. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table intakes add column found jsonb, add column compared_with text`.execute(db);
}
