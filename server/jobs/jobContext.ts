import type { Db } from '../data';
import type { ThreadPool } from '../workers';
import type { LevelCache, LightCache, RecentFiles } from './caches';

/** What the jobs of a worker share. */
export interface JobContext {
  db: Db;
  /** Threads that trace. */
  pool: ThreadPool;
  /** Threads for all else, so that nothing waits behind a bake. */
  aside: ThreadPool;
  /** How many threads are to bake. */
  cores(): Promise<number>;
  /** The levels that were traced last, flattened. */
  levels: LevelCache;
  /** The straight light of the bakes that were traced last. */
  lights: LightCache;
  /** What it stored lately of the bakes at work. */
  files: RecentFiles;
}

/** A job at hand. */
export interface JobControl {
  /** Aborted when nobody wants the job any more, or it takes more than it may. */
  signal: AbortSignal;
}
