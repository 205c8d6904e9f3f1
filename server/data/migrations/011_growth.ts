import { sql, type Kysely } from 'kysely';

/**
 * Earlier revisions of a rig are kept as what differs from the next one, and some have a name; projects that are deleted can be taken back for a while;
 * a level that was read is not held by its reading as well.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table rig_revisions alter column rig drop not null,
    add column patches jsonb, add column name text,
    add constraint rig_or_patches check ((rig is null) <> (patches is null))`.execute(db);
  await sql`alter table projects add column deleted_at timestamptz`.execute(db);
  await sql`update intakes set source_hash = '' where state = 'done'`.execute(db);
}
