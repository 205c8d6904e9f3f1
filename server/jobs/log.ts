import { join } from 'node:path';
import pino from 'pino';
import roll from 'pino-roll';

/** Where a process writes what went wrong, and the folder of its files for people. */
export interface Log {
  logger: pino.Logger;
  /** Path of the folder; null where it writes to the terminal alone. */
  folder: string | null;
}

/** The log of a worker: a file in the data folder, a new one each time it has grown to 5 MB, five of them at most. */
export async function openLog(dataFolder: string | undefined): Promise<Log> {
  if (!dataFolder) return { logger: pino({ name: 'basil-worker' }), folder: null };
  const folder = join(dataFolder, 'logs');
  // Files are numbered: worker.1.log, worker.2.log.
  const stream = await roll({ file: join(folder, 'worker.log'), size: '5m', limit: { count: 5 }, mkdir: true, symlink: false });
  return { logger: pino({ name: 'basil-worker' }, stream), folder };
}
