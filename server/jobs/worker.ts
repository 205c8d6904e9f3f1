import type PgBoss from 'pg-boss';
import { sql } from 'kysely';
import pino from 'pino';
import { migrate, openDatabase, sweepBlobs, type Db } from '../data';
import { ThreadPool } from '../workers';
import { LevelCache, LightCache, RecentFiles } from './caches';
import { coresOf } from '../stores';
import { giveUp, handlers, newWorkerId, resume } from './handlers';
import { openQueue, type Jobs, type QueueName } from '../queue/queue';
import type { Shop } from './jobContext';
import { Takers } from '../queue/queueConsumers';

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
  await sweepBlobs(db);
  const boss = await openQueue(address);
  const pool = new ThreadPool(threads);
  const cores = async () => Math.min(pool.size, (await coresOf(db)).used ?? pool.size);
  const files = new RecentFiles(db);
  const shop: Shop = { db, boss, pool, cores, levels: new LevelCache(db, pool), lights: new LightCache(db, files), files };
  const id = newWorkerId();
  await beat(db, id, pool.size);

  // Only what nobody is working on can be without a job.
  await takeBack(db, boss);
  if (!(await db.selectFrom('running').select('job_id').limit(1).executeTakeFirst())) await resume(shop);

  const run = async (queue: QueueName, job: PgBoss.Job<unknown>) => {
    await db
      .insertInto('running')
      .values({ job_id: job.id, queue, worker_id: id })
      .onConflict((c) => c.column('job_id').doUpdateSet({ worker_id: id }))
      .execute();
    try {
      await handlers[queue](shop, job.data as never);
    } catch (error) {
      log.error({ queue, data: job.data, err: error }, 'a job failed');
      if (!stopping) await giveUp(db, queue, job.data as Jobs[QueueName], `A fault of Basil's: ${(error as Error).message}`);
      throw error;
    } finally {
      await db.deleteFrom('running').where('job_id', '=', job.id).execute();
    }
  };
  let stopping = false;
  const takers = new Takers(boss, run, Object.keys(handlers) as QueueName[]);
  const fit = async () => takers.fit(await cores());
  await fit();
  const timer = setInterval(() => {
    beat(db, id, pool.size)
      .then(() => takeBack(db, boss))
      .then(() => (stopping ? undefined : fit()))
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

async function beat(db: Db, id: string, threads: number): Promise<void> {
  const seen_at = sql<Date>`now()` as never;
  await db
    .insertInto('workers')
    .values({ id, seen_at, threads })
    .onConflict((c) => c.column('id').doUpdateSet({ seen_at }))
    .execute();
  await db
    .deleteFrom('workers')
    .where('seen_at', '<', sql<Date>`now() - make_interval(secs => ${DEAD_AFTER_S})`)
    .execute();
}

/** Jobs that were handed to a worker which died before it could say that it has them. */
async function unheld(db: Db): Promise<{ job_id: string; queue: string }[]> {
  const { rows } = await sql<{ job_id: string; queue: string }>`
    select id as job_id, name as queue from queue.job
    where state = 'active' and name = any(${Object.keys(handlers)})
      and started_on < now() - make_interval(secs => ${DEAD_AFTER_S}) and id not in (select job_id from running)`.execute(db);
  return rows;
}

/** Gives the jobs of workers that are gone back to their queues; a job that has killed too many is given up, with a word. */
async function takeBack(db: Db, boss: PgBoss): Promise<void> {
  const left = await db
    .deleteFrom('running')
    .where('worker_id', 'not in', (eb) => eb.selectFrom('workers').select('id'))
    .returning(['job_id', 'queue'])
    .execute();
  const lost = [...left, ...(await unheld(db))];
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
