import { sql, type Kysely } from 'kysely';

/** Models that a project's fixtures look like; what is brought in becomes a level or such a model. */
export async function up(db: Kysely<unknown>): Promise<void> {
  const { schema } = db;
  await schema
    .createTable('models')
    .addColumn('id', 'uuid', (c) => c.primaryKey())
    .addColumn('project_id', 'uuid', (c) => c.notNull().references('projects.id').onDelete('cascade'))
    .addColumn('name', 'text', (c) => c.notNull())
    .addColumn('hash', 'text', (c) => c.notNull())
    .addColumn('triangles', 'integer', (c) => c.notNull())
    .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
    .execute();
  await schema
    .alterTable('intakes')
    .addColumn('becomes', 'text', (c) => c.notNull().defaultTo('level'))
    .execute();
  await sql`update bakes set plan = '{"models": []}'::jsonb || plan`.execute(db);
}
