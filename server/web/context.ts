import { openDatabase, type Db } from '../data';
import { openLog, type Log } from '../log';

interface Context {
  db: Db;
  log?: Promise<Log>;
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

/** Writes an error to the log of this web server, with what it was asked for. */
export async function logFault(error: unknown, request: Request): Promise<void> {
  const held = context();
  const { logger } = await (held.log ??= openLog('web', process.env.BASIL_DATA));
  logger.error({ err: error, method: request.method, url: request.url }, 'a request failed');
}
