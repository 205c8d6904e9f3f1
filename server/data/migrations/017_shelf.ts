import { sql, type Kysely } from 'kysely';

/** What is kept for all projects: airs, weathers, grades, profiles, fixtures and cues, each packed as a rig that has no other of its kind. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table shelf_things (
      id uuid primary key default gen_random_uuid(),
      kind text not null check (kind in ('air', 'weather', 'grade', 'profile', 'fixture', 'cue')),
      name text not null,
      rig jsonb not null,
      created_at timestamptz not null default now()
    )`.execute(db);
  // A name stands for one thing of a kind, however it is written.
  await sql`create unique index shelf_things_name on shelf_things (kind, lower(name))`.execute(db);
}
