import { streamOf, type Db } from '../../server/data';
import { readIntake, receiveLevel } from '../../server/stores';
import { freshDatabase } from './database';
import { quadLevel, type Quad } from './level';
import { until } from './wait';
import { gone, spawnWorker } from './worker';

/** A database of its own with a worker, and a project of a level in it. */
export interface WorkedProject {
  db: Db;
  project: string;
  worker: ReturnType<typeof spawnWorker>;
  /** Ends the worker, and drops the database. */
  end(): Promise<void>;
}

export async function workedProject(name: string, quads: Quad[]): Promise<WorkedProject> {
  const { db, address, drop } = await freshDatabase();
  const worker = spawnWorker(address, 2);
  const { id } = await receiveLevel(db, `${name}.glb`, streamOf(await quadLevel(quads)), null);
  const project = (await until(async () => (await readIntake(db, id)).projectId, 'the level'))!;
  return {
    db,
    project,
    worker,
    async end() {
      worker.kill('SIGKILL');
      await gone(worker);
      await drop();
    },
  };
}
