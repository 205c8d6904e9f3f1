import { sql, type Kysely } from 'kysely';

/** A bake may be of a level some of whose objects are open: it lies over another bake, goes with it, and is held to what they affect. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table bakes add column opens_of uuid references bakes (id) on delete cascade, add column open jsonb`.execute(db);
  await sql`create index on bakes (opens_of)`.execute(db);
}
