import { sql, type Kysely } from 'kysely';

/** Bakes are planned with circuits, lamps and their profiles; those of before had none. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`update bakes set plan = '{"circuits": [], "lamps": [], "profiles": []}'::jsonb || plan`.execute(db);
}
