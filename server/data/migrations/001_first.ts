import { sql, type Kysely } from 'kysely';

export async function up(db: Kysely<unknown>): Promise<void> {
  const now = sql`now()`;
  const { schema } = db;
  await schema
    .createTable('blobs')
    .addColumn('id', 'bigserial', (c) => c.primaryKey())
    .addColumn('hash', 'text', (c) => c.unique())
    .addColumn('size', 'bigint', (c) => c.notNull().defaultTo(0))
    .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
    .execute();
  await schema
    .createTable('blob_chunks')
    .addColumn('blob_id', 'bigint', (c) => c.notNull().references('blobs.id').onDelete('cascade'))
    .addColumn('position', 'integer', (c) => c.notNull())
    .addColumn('bytes', 'bytea', (c) => c.notNull())
    .addPrimaryKeyConstraint('blob_chunks_pkey', ['blob_id', 'position'])
    .execute();
  // Packed already: trying to compress it again only costs time.
  await sql`alter table blob_chunks alter column bytes set storage external`.execute(db);
  await schema
    .createTable('projects')
    .addColumn('id', 'uuid', (c) => c.primaryKey())
    .addColumn('name', 'text', (c) => c.notNull())
    .addColumn('level_id', 'uuid')
    .addColumn('picture_hash', 'text')
    .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
    .addColumn('changed_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
    .execute();
  await schema
    .createTable('levels')
    .addColumn('id', 'uuid', (c) => c.primaryKey())
    .addColumn('project_id', 'uuid', (c) => c.notNull().references('projects.id').onDelete('cascade'))
    .addColumn('name', 'text', (c) => c.notNull())
    .addColumn('source_hash', 'text', (c) => c.notNull())
    .addColumn('prepared_hash', 'text', (c) => c.notNull())
    .addColumn('layout', 'jsonb', (c) => c.notNull())
    .addColumn('summary', 'jsonb', (c) => c.notNull())
    .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
    .execute();
  await schema
    .createTable('intakes')
    .addColumn('id', 'uuid', (c) => c.primaryKey())
    .addColumn('name', 'text', (c) => c.notNull())
    .addColumn('state', 'text', (c) => c.notNull())
    .addColumn('into_project_id', 'uuid', (c) => c.references('projects.id').onDelete('cascade'))
    .addColumn('source_hash', 'text', (c) => c.notNull())
    .addColumn('share', 'real', (c) => c.notNull().defaultTo(0))
    .addColumn('error', 'text')
    .addColumn('project_id', 'uuid', (c) => c.references('projects.id').onDelete('cascade'))
    .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
    .execute();
  await schema
    .createTable('rig_revisions')
    .addColumn('project_id', 'uuid', (c) => c.notNull().references('projects.id').onDelete('cascade'))
    .addColumn('revision', 'integer', (c) => c.notNull())
    .addColumn('rig', 'jsonb', (c) => c.notNull())
    .addColumn('note', 'text', (c) => c.notNull())
    .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
    .addPrimaryKeyConstraint('rig_revisions_pkey', ['project_id', 'revision'])
    .execute();
  await schema
    .createTable('bakes')
    .addColumn('id', 'uuid', (c) => c.primaryKey())
    .addColumn('project_id', 'uuid', (c) => c.notNull().references('projects.id').onDelete('cascade'))
    .addColumn('level_id', 'uuid', (c) => c.notNull().references('levels.id').onDelete('cascade'))
    .addColumn('rig_revision', 'integer', (c) => c.notNull())
    .addColumn('key', 'text', (c) => c.notNull())
    .addColumn('layout', 'jsonb', (c) => c.notNull())
    .addColumn('plan', 'jsonb', (c) => c.notNull())
    .addColumn('state', 'text', (c) => c.notNull())
    .addColumn('error', 'text')
    .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
    .addColumn('started_at', 'timestamptz')
    .addColumn('finished_at', 'timestamptz')
    .execute();
  // One bake of a project at a time.
  await sql`create unique index bakes_one_at_work on bakes (project_id) where state in ('planning', 'running', 'finishing')`.execute(db);
  await schema
    .createTable('bake_jobs')
    .addColumn('bake_id', 'uuid', (c) => c.notNull().references('bakes.id').onDelete('cascade'))
    .addColumn('position', 'integer', (c) => c.notNull())
    .addColumn('tile', 'jsonb', (c) => c.notNull())
    .addColumn('result_hash', 'text')
    .addPrimaryKeyConstraint('bake_jobs_pkey', ['bake_id', 'position'])
    .execute();
  await schema
    .createTable('stems')
    .addColumn('bake_id', 'uuid', (c) => c.notNull().references('bakes.id').onDelete('cascade'))
    .addColumn('map', 'integer', (c) => c.notNull())
    .addColumn('width', 'integer', (c) => c.notNull())
    .addColumn('height', 'integer', (c) => c.notNull())
    .addColumn('hash', 'text', (c) => c.notNull())
    .addPrimaryKeyConstraint('stems_pkey', ['bake_id', 'map'])
    .execute();
  await schema
    .createTable('workers')
    .addColumn('id', 'uuid', (c) => c.primaryKey())
    .addColumn('seen_at', 'timestamptz', (c) => c.notNull())
    .execute();
  await schema
    .createTable('running')
    .addColumn('job_id', 'uuid', (c) => c.primaryKey())
    .addColumn('queue', 'text', (c) => c.notNull())
    .addColumn('worker_id', 'uuid', (c) => c.notNull())
    .execute();
  await schema
    .createTable('settings')
    .addColumn('name', 'text', (c) => c.primaryKey())
    .addColumn('value', 'text', (c) => c.notNull())
    .execute();
}
