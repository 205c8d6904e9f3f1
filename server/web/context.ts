import type PgBoss from 'pg-boss';
import { openDatabase, type Db } from '../data';
import { openQueue } from '../jobs';

interface Context {
  db: Db;
  /** Opened with the first job that is sent. */
  boss(): Promise<PgBoss>;
}

declare global {
  // One for the process: a rebuilt module in development finds it again.
  var basilContext: Context | undefined;
}

/** The database and queue of this web server, as DATABASE_URL says. */
export function context(): Context {
  if (!globalThis.basilContext) {
    const address = process.env.DATABASE_URL;
    if (!address) throw new Error('DATABASE_URL is not set.');
    let boss: Promise<PgBoss> | null = null;
    globalThis.basilContext = {
      db: openDatabase(address),
      boss: () => {
        boss ??= openQueue(address);
        boss.catch(() => (boss = null));
        return boss;
      },
    };
  }
  return globalThis.basilContext;
}
