import { join } from 'node:path';
import pino from 'pino';
import roll from 'pino-roll';

/** Where a process writes what went wrong, and the folder of its files for people. */
export interface Log {
  logger: pino.Logger;
  /** Path of the folder; null where it writes to the terminal alone. */
  folder: string | null;
}

/**
 * The log of a process: a file in the data folder, a new one each time it has grown to 5 MB, five of them at most.
 *
 * @param name begins the names of its files, which are numbered: worker.1.log, worker.2.log
 */
export async function openLog(name: 'worker' | 'web', dataFolder: string | undefined): Promise<Log> {
  if (!dataFolder) return { logger: pino({ name: `basil-${name}` }), folder: null };
  const folder = join(dataFolder, 'logs');
  const stream = await roll({ file: join(folder, `${name}.log`), size: '5m', limit: { count: 5 }, mkdir: true, symlink: false });
  // A disk that is full takes no word, and that is no reason to end.
  stream.on('error', () => undefined);
  return { logger: pino({ name: `basil-${name}` }, stream), folder };
}
