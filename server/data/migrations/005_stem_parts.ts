import { sql, type Kysely } from 'kysely';

/**
 * Stems are stored part by part, so that a bake keeps what is still fresh of the one before; bakes go in two steps, may be paused, and
 * show a first, coarse look. Bakes of before have another form of stems and are let go of: they have to be made again.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  const { schema } = db;
  await sql`delete from blobs where hash in (select hash from stems union select result_hash from bake_jobs)`.execute(db);
  await sql`delete from bakes`.execute(db);
  await sql`drop index bakes_one_at_work`.execute(db);
  await sql`create unique index bakes_one_at_work on bakes (project_id) where state in ('planning', 'running', 'paused', 'finishing')`.execute(
    db,
  );
  await schema
    .alterTable('bakes')
    .addColumn('trace', 'jsonb', (c) => c.notNull())
    .addColumn('base_id', 'uuid', (c) => c.references('bakes.id').onDelete('set null'))
    .addColumn('step', 'text', (c) => c.notNull().defaultTo('direct'))
    .addColumn('worked_s', 'real', (c) => c.notNull().defaultTo(0))
    .execute();
  await schema
    .alterTable('bake_jobs')
    .addColumn('direct_hash', 'text')
    .addColumn('share', 'real', (c) => c.notNull().defaultTo(0))
    .execute();
  await schema
    .createTable('looks')
    .addColumn('project_id', 'uuid', (c) => c.primaryKey().references('projects.id').onDelete('cascade'))
    .addColumn('looking', 'boolean', (c) => c.notNull())
    .addColumn('found', 'jsonb')
    .addColumn('error', 'text')
    .execute();
  await sql`alter table stems drop constraint stems_pkey`.execute(db);
  await schema
    .alterTable('stems')
    .addColumn('part', 'text', (c) => c.notNull())
    .addColumn('coarse', 'boolean', (c) => c.notNull())
    .execute();
  await sql`alter table stems add primary key (bake_id, coarse, map, part)`.execute(db);
}
