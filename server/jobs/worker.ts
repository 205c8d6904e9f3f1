import { randomUUID } from 'node:crypto';
import type PgBoss from 'pg-boss';
import { sql } from 'kysely';
import { Failure } from '../../core/units';
import { openLog, type Log } from '../log';
import { migrate, openDatabase, troubleOf, type Db } from '../data';
import { LIMITS, QUEUES, QueueConsumers, openQueue, type JobLimit, type Jobs, type QueueName } from '../queue';
import { DEAD_AFTER_S, coresNow, keepUpAll } from '../stores';
import { ThreadPool } from '../workers';
import { LevelCache, LightCache, RecentFiles } from './caches';
import { collectGarbage } from './collectGarbage';
import { keepHouse } from './housekeeping';
import { endure, type Wait } from './endure';
import { describeJob, giveUp, handlers, isWanted, resume } from './handlers';
import type { JobContext } from './jobContext';

/** How often a worker says that it lives and looks for dead ones. */
const HEARTBEAT_S = 3;
/** How often jobs at hand are looked at: whether they are still wanted, and within their limits. */
const WATCH_MS = 500;
/** How often what is past its time is let go of. */
const HOUSE_MS = 600_000;
/** How long a worker that has nothing to do keeps what it has at hand. */
const KEEP_MS = 5000;
/** Threads for what is not a job of a bake: one for each job of all other queues that there may be at once. */
const ASIDE_THREADS = 8;

export interface RunningWorker {
  /** Lets the jobs at hand go back to the queue and ends. */
  stop(): Promise<void>;
}

/** A job that runs. */
interface JobAtHand {
  queue: QueueName;
  data: Jobs[QueueName];
  startedAt: number;
  /** Memory of the process when it began, bytes. */
  memory: number;
  control: AbortController;
}

/** Why a job was ended that nobody wants any more. */
const UNWANTED = new Failure('cancelled', 'The job is not wanted any more.');

/** How a worker runs. */
export interface WorkerOptions {
  /** Threads for the jobs of bakes; as many as there are cores where it is not given. */
  threads?: number;
  /** Where its log is written; to the terminal where it is not given. */
  dataFolder?: string;
  /** What jobs may take; {@link LIMITS} where it is not given. */
  limits?: Readonly<Record<QueueName, JobLimit>>;
}

/** Starts a worker: takes jobs from the queue at `address` until it is stopped. */
export async function startWorker(address: string, { threads, dataFolder, limits = LIMITS }: WorkerOptions = {}): Promise<RunningWorker> {
  const log = await openLog('worker', dataFolder);
  const db = openDatabase(address);
  await migrate(db);
  const boss = await openQueue(address);
  const context = openContext(db, threads);
  const id = randomUUID();
  await beat(db, id, context.pool.size);

  // Only what nobody is working on can be without a job.
  await takeBack(db, boss);
  if (!(await db.selectFrom('running').select('job_id').limit(1).executeTakeFirst())) await resume(context);

  let stopping = false;
  const atHand = new Map<string, JobAtHand>();
  const run = async (queue: QueueName, { id: jobId, data }: PgBoss.Job<unknown>) => {
    const job: JobAtHand = {
      queue,
      data: data as Jobs[QueueName],
      startedAt: Date.now(),
      memory: process.memoryUsage.rss(),
      control: new AbortController(),
    };
    atHand.set(jobId, job);
    try {
      await db
        .insertInto('running')
        .values({ job_id: jobId, queue, worker_id: id })
        .onConflict((c) => c.column('job_id').doUpdateSet({ worker_id: id }))
        .execute();
      const { signal } = job.control;
      const say = (wait: Wait) => log.logger.warn({ queue, wait }, 'a job waits');
      await endure(db, () => handlers[queue](context, job.data as never, { signal }), signal, say);
    } catch (error) {
      // What was cancelled is over, and no fault.
      if (error === UNWANTED) return;
      if (!stopping && troubleOf(error) === null) await endWithWord(db, log, job, error);
      throw error;
    } finally {
      atHand.delete(jobId);
      // Where the database is away, the next heartbeat finds that nobody has the job.
      await db
        .deleteFrom('running')
        .where('job_id', '=', jobId)
        .execute()
        .catch(() => undefined);
    }
  };
  const consumers = new QueueConsumers(boss, run, QUEUES);
  const fit = async () => consumers.fit(await context.cores());
  await fit();
  let kept = 0;
  const keepHouseNowAndThen = async () => {
    if (Date.now() - kept < HOUSE_MS) return;
    kept = Date.now();
    await keepHouse(db);
  };
  const heart = setInterval(() => {
    beat(db, id, context.pool.size)
      .then(() => letGo(db, id, atHand))
      .then(() => takeBack(db, boss))
      .then(keepHouseNowAndThen)
      .then(() => keepUpAll(db, (projectId, failure) => log.logger.warn({ projectId, failure: failure.sentence }, 'no bake was begun')))
      .then(() => (stopping ? undefined : fit()))
      .catch((error: unknown) => log.logger.warn({ err: error }, 'the database did not answer'));
  }, HEARTBEAT_S * 1000);
  const watch = startWatch(db, context, atHand, limits);
  log.logger.info({ threads: context.pool.size }, 'worker ready');

  return {
    async stop() {
      stopping = true;
      clearInterval(heart);
      clearInterval(watch);
      // Jobs at hand are not waited for: they are taken back as a dead worker's are, at once.
      await db.deleteFrom('workers').where('id', '=', id).execute();
      await boss.stop({ graceful: false, wait: false, close: false });
      await takeBack(db, boss);
      await Promise.all([context.pool.close(), context.aside.close()]);
      await boss.stop({ graceful: false, close: true }).catch(() => undefined);
      await db.destroy();
    },
  };
}

function openContext(db: Db, threads?: number): JobContext {
  const pool = new ThreadPool(threads);
  const aside = new ThreadPool(ASIDE_THREADS, KEEP_MS);
  const files = new RecentFiles(db);
  return {
    db,
    pool,
    aside,
    cores: () => coresNow(db, pool.size),
    levels: new LevelCache(db, aside),
    lights: new LightCache(files),
    files,
  };
}

/** Tells people why a job ended, and writes it to the log with its stack where it is a fault of ours. */
async function endWithWord(db: Db, { logger, folder }: Log, { queue, data }: JobAtHand, error: unknown): Promise<void> {
  if (error instanceof Failure) return giveUp(db, queue, data, error.sentence);
  const what = await describeJob(db, queue, data);
  logger.error({ queue, data, what, err: error }, 'a job failed');
  const kept = queue === 'bake-job' ? ' All that was traced is kept: try again.' : '';
  const more = folder ? ` The log in ${folder} has more.` : '';
  await giveUp(db, queue, data, `${what} failed by a fault of Basil's: ${(error as Error).message}.${kept}${more}`);
}

/** Ends jobs that are not wanted any more or take more than they may, and gives memory back once there is nothing to do. */
function startWatch(
  db: Db,
  { pool, aside, levels, lights, files }: JobContext,
  atHand: ReadonlyMap<string, JobAtHand>,
  limits: Readonly<Record<QueueName, JobLimit>>,
) {
  let [looking, idleSince, resting] = [false, Date.now(), false];
  return setInterval(() => {
    for (const { queue, startedAt, memory, control } of atHand.values()) {
      const { seconds, memoryMB } = limits[queue];
      if (Date.now() - startedAt > seconds * 1000) control.abort(tooSlow(seconds));
      if (memoryMB !== null && process.memoryUsage.rss() - memory > memoryMB * 1e6) control.abort(tooLarge(memoryMB));
    }
    if (atHand.size > 0) [idleSince, resting] = [Date.now(), false];
    else if (!resting && Date.now() - idleSince > KEEP_MS) {
      resting = true;
      for (const cache of [levels, lights, files]) cache.clear();
      for (const threads of [pool, aside]) threads.rest();
      collectGarbage(true);
    }
    collectGarbage();
    if (looking) return;
    looking = true;
    Promise.all(
      [...atHand.values()].map(async ({ queue, data, control }) => {
        if (!(await isWanted(db, queue, data))) control.abort(UNWANTED);
      }),
    )
      .catch(() => undefined)
      .finally(() => (looking = false));
  }, WATCH_MS);
}

const tooSlow = (seconds: number) =>
  new Failure(
    'too-large',
    `It took longer than ${seconds < 60 ? `${seconds} s` : `${seconds / 60} minutes`} and was ended.`,
    'Split the level or the file, or leave parts of it out.',
  );
const tooLarge = (memoryMB: number) =>
  new Failure(
    'too-large',
    `It took more than ${memoryMB < 1024 ? `${memoryMB} MB` : `${memoryMB / 1024} GB`} of memory and was ended.`,
    'Split the level or the file, or leave parts of it out.',
  );

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

/** Gives back what is noted as this worker's and is not at hand: the database was away as the job ended. */
async function letGo(db: Db, id: string, atHand: ReadonlyMap<string, JobAtHand>): Promise<void> {
  const noted = await db.selectFrom('running').select('job_id').where('worker_id', '=', id).execute();
  const gone = noted.filter(({ job_id }) => !atHand.has(job_id)).map((r) => r.job_id);
  if (gone.length > 0) await db.deleteFrom('running').where('job_id', 'in', gone).execute();
}

/** Jobs that were handed to a worker which died before it could say that it has them. */
async function unheld(db: Db): Promise<{ job_id: string; queue: string }[]> {
  const { rows } = await sql<{ job_id: string; queue: string }>`
    select id as job_id, name as queue from queue.job
    where state = 'active' and name = any(${QUEUES})
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
