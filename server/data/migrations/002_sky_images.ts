import { sql, type Kysely } from 'kysely';

/** Sky images on the shelf of a project, or of the house where they belong to none. */
export async function up(db: Kysely<unknown>): Promise<void> {
  const { schema } = db;
  await schema
    .createTable('sky_images')
    .addColumn('id', 'uuid', (c) => c.primaryKey())
    .addColumn('project_id', 'uuid', (c) => c.references('projects.id').onDelete('cascade'))
    .addColumn('name', 'text', (c) => c.notNull())
    .addColumn('file_name', 'text', (c) => c.notNull())
    .addColumn('tags', sql`text[]`, (c) => c.notNull().defaultTo(sql`'{}'`))
    .addColumn('shipped', 'boolean', (c) => c.notNull().defaultTo(false))
    .addColumn('state', 'text', (c) => c.notNull())
    .addColumn('error', 'text')
    .addColumn('source_hash', 'text', (c) => c.notNull())
    .addColumn('remedies', 'jsonb', (c) => c.notNull())
    .addColumn('options', 'jsonb', (c) => c.notNull())
    .addColumn('original', 'jsonb')
    .addColumn('report', 'jsonb')
    .addColumn('taken_sun', 'jsonb')
    .addColumn('whole_hash', 'text')
    .addColumn('rest_hash', 'text')
    .addColumn('before_hash', 'text')
    .addColumn('after_hash', 'text')
    .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
    .execute();
  await schema.createIndex('sky_images_project').on('sky_images').column('project_id').execute();
}
