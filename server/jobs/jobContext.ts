import type PgBoss from 'pg-boss';
import type { Db } from '../data';
import type { ThreadPool } from '../workers';
import type { LevelCache, LightCache, RecentFiles } from './caches';

/** What a handler works with. */
export interface Shop {
  db: Db;
  boss: PgBoss;
  pool: ThreadPool;
  /** How many of its threads are to bake. */
  cores(): Promise<number>;
  /** The level that was baked last, flattened. */
  levels: LevelCache;
  /** The straight light of the bake that was traced last. */
  lights: LightCache;
  /** What it stored lately of the bake at work. */
  files: RecentFiles;
}
