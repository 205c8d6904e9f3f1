import type PgBoss from 'pg-boss';
import { sql } from 'kysely';
import pino from 'pino';
import { freeBrokenUploads, migrate, openDatabase, type Db } from '../data';
import { ThreadPool } from '../threads';
import { LevelCache, giveUp, handlers, newWorkerId, resume, type Shop } from './handlers';
import { openQueue, type Jobs, type QueueName } from './queue';

/** How often a worker says that it lives and looks for dead ones. */
const HEARTBEAT_S = 3;
/** A worker that has said nothing for this long is dead, and its jobs are taken by others. */
const DEAD_AFTER_S = 15;

export interface RunningWorker {
  /** Lets the jobs at hand go back to the queue and ends. */
  stop(): Promise<void>;
}

/** Starts a worker: takes jobs from the queue at `address` on `threads` threads until it is stopped. */
export async function startWorker(
  address: string,
  { threads, log = pino({ name: 'basil-worker' }) }: { threads?: number; log?: pino.Logger } = {},
): Promise<RunningWorker> {
  const db = openDatabase(address);
  await migrate(db);
  await freeBrokenUploads(db);
  const boss = await openQueue(address);
  const pool = new ThreadPool(threads);
  const shop: Shop = { db, boss, pool, levels: new LevelCache(db, pool) };
  const id = newWorkerId();
  await beat(db, id);

  // Only what nobody is working on can be without a job.
  await takeBack(db, boss);
  if (!(await db.selectFrom('running').select('job_id').limit(1).executeTakeFirst())) await resume(shop);

  const run = async <Q extends QueueName>(queue: Q, job: PgBoss.Job<Jobs[Q]>) => {
    await db
      .insertInto('running')
      .values({ job_id: job.id, queue, worker_id: id })
      .onConflict((c) => c.column('job_id').doUpdateSet({ worker_id: id }))
      .execute();
    try {
      await handlers[queue](shop, job.data);
    } catch (error) {
      log.error({ queue, data: job.data, err: error }, 'a job failed');
      if (!stopping) await giveUp(db, queue, job.data, `A fault of Basil's: ${(error as Error).message}`);
      throw error;
    } finally {
      await db.deleteFrom('running').where('job_id', '=', job.id).execute();
    }
  };
  let stopping = false;
  for (const queue of Object.keys(handlers) as QueueName[]) {
    const takers = queue === 'bake-tile' ? pool.size : 1;
    for (let k = 0; k < takers; k++) {
      await boss.work<Jobs[typeof queue]>(queue, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => job && run(queue, job));
    }
  }
  const timer = setInterval(() => {
    beat(db, id)
      .then(() => takeBack(db, boss))
      .catch((error: unknown) => log.warn({ err: error }, 'the database did not answer'));
  }, HEARTBEAT_S * 1000);
  log.info({ threads: pool.size }, 'worker ready');

  return {
    async stop() {
      stopping = true;
      clearInterval(timer);
      // Jobs at hand are not waited for: they are taken back as a dead worker's are, at once.
      await db.deleteFrom('workers').where('id', '=', id).execute();
      await boss.stop({ graceful: false, wait: false, close: false });
      await takeBack(db, boss);
      await pool.close();
      await boss.stop({ graceful: false, close: true }).catch(() => undefined);
      await db.destroy();
    },
  };
}

async function beat(db: Db, id: string): Promise<void> {
  const seen_at = sql<Date>`now()` as never;
  await db
    .insertInto('workers')
    .values({ id, seen_at })
    .onConflict((c) => c.column('id').doUpdateSet({ seen_at }))
    .execute();
  await db
    .deleteFrom('workers')
    .where('seen_at', '<', sql<Date>`now() - make_interval(secs => ${DEAD_AFTER_S})`)
    .execute();
}

/** Gives the jobs of workers that are gone back to their queues; a job that has killed too many is given up, with a word. */
async function takeBack(db: Db, boss: PgBoss): Promise<void> {
  const lost = await db
    .deleteFrom('running')
    .where('worker_id', 'not in', (eb) => eb.selectFrom('workers').select('id'))
    .returning(['job_id', 'queue'])
    .execute();
  for (const { job_id, queue } of lost) {
    await boss.fail(queue, job_id, { message: 'The worker died.' });
    const job = await boss.getJobById<Jobs[QueueName]>(queue, job_id, { includeArchive: true });
    if (job?.state === 'failed')
      await giveUp(
        db,
        queue as QueueName,
        job.data,
        `The worker died ${job.retryCount + 1} times at this job; it may need more memory than there is.`,
      );
  }
}
