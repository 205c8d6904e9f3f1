import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import { CompiledQuery, sql } from 'kysely';
import PgBoss from 'pg-boss';
import type { JobStep } from '../../core/bake';
import { orderedJson, type GroundBox } from '../../core/units';
import { troubleOf, type Tx } from '../data';

/** The queues and what their jobs carry. */
export interface Jobs {
  intake: { intakeId: string };
  /** Brings a bake to its next step, and sends the jobs of the one that it is at. */
  'bake-advance': { bakeId: string };
  /** One job of a bake's step. */
  'bake-job': { bakeId: string; step: JobStep; position: number };
  'bake-preview': { bakeId: string };
  /** Puts what is seen of a bake's level first among what is still to be traced. */
  'bake-order': { bakeId: string };
  look: { projectId: string; box: GroundBox | null };
  picture: { projectId: string };
  'sky-image': { imageId: string };
}

export type QueueName = keyof Jobs;

/** What a job may take before it is ended, with a word. */
export interface JobLimit {
  seconds: number;
  /** Memory that the process gains while it runs; none where jobs keep within bounds by themselves. */
  memoryMB: number | null;
}

export const LIMITS: Readonly<Record<QueueName, JobLimit>> = {
  intake: { seconds: 1800, memoryMB: 4096 },
  'bake-advance': { seconds: 1200, memoryMB: 4096 },
  'bake-job': { seconds: 3600, memoryMB: null },
  'bake-preview': { seconds: 900, memoryMB: 4096 },
  'bake-order': { seconds: 300, memoryMB: 4096 },
  look: { seconds: 600, memoryMB: 4096 },
  picture: { seconds: 300, memoryMB: 2048 },
  'sky-image': { seconds: 240, memoryMB: 4096 },
};

export const QUEUES = Object.keys(LIMITS) as QueueName[];

/** The queue's own bound is over the limit of a job: it ends only what hangs in a worker that lives. */
const EXPIRE_OVER = 2;

/** Times that a job is taken again after its worker died. */
const RETRIES = 4;

const SCHEMA = 'queue';

/** Opens the job queue, which lives in the same database under a schema of its own; makes it where it is not there. */
export async function openQueue(address: string): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: address, schema: SCHEMA, max: 6, maintenanceIntervalSeconds: 30, schedule: false });
  // Connection errors are retried by the queue itself; without a listener they would end the process.
  boss.on('error', () => undefined);
  await boss.start();
  waitForDatabase(boss);
  for (const name of QUEUES) await boss.createQueue(name);
  return boss;
}

/** Between tries of a statement that the database went away under, ms: at first, and at most. */
const TRY_MS = { first: 100, most: 4000 };

/**
 * Has every statement of a queue wait where the database goes away under it. The queue does not look after what it writes once a job has ended:
 * a failure of that would end the process.
 */
function waitForDatabase(boss: PgBoss): void {
  const db = boss.getDb();
  const run = db.executeSql.bind(db);
  db.executeSql = async (text, values) => {
    for (let ms = TRY_MS.first; ; ms = Math.min(TRY_MS.most, ms * 2)) {
      try {
        return await run(text, values);
      } catch (error) {
        if (troubleOf(error) === null) throw error;
        await pause(ms);
      }
    }
  };
}

/** Makes the queue in a database, so that jobs can be sent. */
export async function prepareQueue(address: string): Promise<void> {
  const boss = await openQueue(address);
  await boss.stop({ graceful: false, close: true });
}

/** Writes jobs by the queue's own statements in whatever transaction is given; it is never started, and takes none. */
const writer = new PgBoss({ schema: SCHEMA, db: { executeSql: () => Promise.reject(new Error('Jobs are sent in a transaction.')) } });

/**
 * Puts jobs on a queue within a transaction: they are there if it holds, and not if it does not.
 *
 * @param priorityOf jobs of a higher one are taken first; 0 where it is not given
 */
export async function send<Q extends QueueName>(tx: Tx, queue: Q, all: Jobs[Q][], priorityOf: (job: Jobs[Q]) => number = () => 0) {
  if (all.length === 0) return;
  const jobs = all.map((data, place) => ({
    // Of jobs that are sent at once and have one priority, the queue takes that of the least number.
    id: idAt(place),
    name: queue,
    data,
    priority: priorityOf(data),
    expireInSeconds: LIMITS[queue].seconds * EXPIRE_OVER,
    retryLimit: RETRIES,
    retryDelay: 0,
  }));
  const executeSql = async (text: string, values: unknown[]) => ({
    rows: (await tx.executeQuery(CompiledQuery.raw(text, values))).rows,
  });
  await writer.insert(jobs, { db: { executeSql } });
}

/** A random id that stands behind those of lower places. */
const idAt = (place: number): string => place.toString(16).padStart(8, '0') + randomUUID().slice(8);

/**
 * {@link send} for those of some jobs that are not on their way already.
 *
 * @param unless `sent` where one that a worker has at hand will do, `waiting` where it may have begun too early
 */
export async function sendMissing<Q extends QueueName>(tx: Tx, queue: Q, all: Jobs[Q][], unless: 'sent' | 'waiting' = 'sent') {
  const end = unless === 'sent' ? sql`'completed'` : sql`'active'`;
  const { rows } = await sql<{ data: Jobs[Q] }>`select data from queue.job where name = ${queue} and state < ${end}`.execute(tx);
  const sent = new Set(rows.map((r) => orderedJson(r.data)));
  await send(
    tx,
    queue,
    all.filter((job) => !sent.has(orderedJson(job))),
  );
}

/** Jobs of a bake in a row before it is another's turn: enough that what a worker reads for a bake is worth it. */
const TURN = 12;

/**
 * Sends jobs of a bake's step in their order, those that are on their way left out, in turns with those of other bakes: a bake that begins joins where the
 * others are (start-time fair queueing, after Goyal et al. 1996).
 *
 * @param ahead turns that they come before that: jobs that are to be done before others of the same bake
 */
export async function sendInTurns(tx: Tx, bakeId: string, step: JobStep, positions: number[], ahead = 0): Promise<void> {
  const { rows } = await sql<{ bake_id: string; step: string; position: number; priority: number }>`
    select data->>'bakeId' as bake_id, data->>'step' as step, (data->>'position')::int as position, priority
    from queue.job where name = 'bake-job' and state < 'completed'`.execute(tx);
  const sent = new Set(rows.filter((r) => r.bake_id === bakeId && r.step === step).map((r) => r.position));
  const others = rows.filter((r) => r.bake_id !== bakeId).map((r) => -r.priority);
  const now = others.length > 0 ? others.reduce((least, turn) => Math.min(least, turn)) : 0;
  const open = positions.filter((p) => !sent.has(p)).map((position, k) => ({ position, turn: now - ahead + Math.floor(k / TURN) }));
  const turnOf = new Map(open.map((o) => [o.position, o.turn]));
  await send(
    tx,
    'bake-job',
    open.map(({ position }) => ({ bakeId, step, position })),
    ({ position }) => -turnOf.get(position)!,
  );
}

/** Deals the jobs of a bake's step anew, in the order of `positions`, where no worker has them at hand yet (see {@link sendInTurns}). */
export async function dealAgain(tx: Tx, bakeId: string, step: JobStep, positions: number[]): Promise<void> {
  await sql`
    delete from queue.job
    where name = 'bake-job' and state = 'created' and data->>'bakeId' = ${bakeId} and data->>'step' = ${step}`.execute(tx);
  await sendInTurns(tx, bakeId, step, positions);
}
