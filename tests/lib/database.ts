import { randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import { migrate, openDatabase, type Db } from '../../server/data';
import { prepareQueue } from '../../server/queue';

const cluster = () => {
  const address = process.env.BASIL_TEST_DATABASE;
  if (!address) throw new Error('Database tests are run by "npm test", which starts a database for them.');
  return address;
};

interface OwnDatabase {
  db: Db;
  address: string;
  drop(): Promise<void>;
}

/** A new, migrated database of the test's own, with its queue. */
export async function freshDatabase(): Promise<OwnDatabase> {
  const own = await emptyDatabase();
  await migrate(own.db);
  await prepareQueue(own.address);
  return own;
}

/** The same without any table. */
export async function emptyDatabase(): Promise<OwnDatabase> {
  const name = `test_${randomBytes(6).toString('hex')}`;
  const admin = openDatabase(cluster());
  await sql`create database ${sql.ref(name)}`.execute(admin);
  const address = cluster().replace(/\/[^/]*$/, `/${name}`);
  const db = openDatabase(address);
  return {
    db,
    address,
    async drop() {
      await db.destroy();
      await sql`drop database ${sql.ref(name)} with (force)`.execute(admin);
      await admin.destroy();
    },
  };
}

export async function countOf(
  db: Db,
  table: 'blobs' | 'blob_chunks' | 'levels' | 'projects' | 'models' | 'intakes' | 'bake_jobs' | 'stems' | 'bakes',
): Promise<number> {
  const { n } = await db
    .selectFrom(table)
    .select((eb) => eb.fn.countAll<string>().as('n'))
    .executeTakeFirstOrThrow();
  return Number(n);
}
