import { join } from 'node:path';
import pino from 'pino';
import roll from 'pino-roll';

/** Where a process writes what went wrong, and the file's name for people. */
export interface Log {
  logger: pino.Logger;
  /** Path of the file; null where it writes to the terminal alone. */
  file: string | null;
}

/** The log of a worker: a file in the data folder, a new one each time it has grown to 5 MB, five of them at most. */
export async function openLog(dataFolder: string | undefined): Promise<Log> {
  if (!dataFolder) return { logger: pino({ name: 'basil-worker' }), file: null };
  const file = join(dataFolder, 'logs', 'worker.log');
  const stream = await roll({ file, size: '5m', limit: { count: 5 }, mkdir: true, symlink: false });
  return { logger: pino({ name: 'basil-worker' }, stream), file };
}
