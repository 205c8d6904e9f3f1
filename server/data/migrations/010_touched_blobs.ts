import { sql, type Kysely } from 'kysely';

/** A file that is being written says when it last was, so that what a process that died has left is found soon. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table blobs add column touched_at timestamptz not null default now()`.execute(db);
}
