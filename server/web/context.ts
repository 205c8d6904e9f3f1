import { openDatabase, type Db } from '../data';

interface Context {
  db: Db;
}

declare global {
  // One for the process: a rebuilt module in development finds it again.
  var basilContext: Context | undefined;
}

/** The database of this web server, as DATABASE_URL says. */
export function context(): Context {
  if (!globalThis.basilContext) {
    const address = process.env.DATABASE_URL;
    if (!address) throw new Error('DATABASE_URL is not set.');
    globalThis.basilContext = { db: openDatabase(address) };
  }
  return globalThis.basilContext;
}
