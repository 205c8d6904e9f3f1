import { sql, type Kysely } from 'kysely';

/**
 * Every step of a bake is cut into jobs of its own, also what follows the tracing, and a bake that failed keeps what they made. Parts of stems
 * may be stored in pieces. What the steps before have left has another form: bakes at work begin again.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  const { schema } = db;
  await sql`delete from blobs where hash in (select direct_hash from bake_jobs union select result_hash from bake_jobs)`.execute(db);
  await schema.dropTable('bake_jobs').execute();
  await schema
    .createTable('bake_jobs')
    .addColumn('bake_id', 'uuid', (c) => c.notNull().references('bakes.id').onDelete('cascade'))
    .addColumn('step', 'text', (c) => c.notNull())
    .addColumn('position', 'integer', (c) => c.notNull())
    .addColumn('job', 'jsonb', (c) => c.notNull())
    .addColumn('done', 'boolean', (c) => c.notNull().defaultTo(false))
    .addColumn('result_hash', 'text')
    .addColumn('share', 'real', (c) => c.notNull().defaultTo(0))
    .addPrimaryKeyConstraint('bake_jobs_pkey', ['bake_id', 'step', 'position'])
    .execute();
  await sql`create index bake_jobs_result on bake_jobs (result_hash)`.execute(db);
  await sql`update bakes set state = 'planning', started_at = null, worked_s = 0
    where state in ('running', 'paused', 'finishing')`.execute(db);
  await sql`update bakes set step = 'plan'`.execute(db);
  await sql`alter table bakes alter column step set default 'plan'`.execute(db);
  await schema
    .alterTable('stems')
    .addColumn('first_layer', 'integer', (c) => c.notNull().defaultTo(0))
    .execute();
  await sql`alter table stems drop constraint stems_pkey`.execute(db);
  await sql`alter table stems add primary key (bake_id, coarse, map, part, first_layer)`.execute(db);
}
