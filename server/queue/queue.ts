import { CompiledQuery } from 'kysely';
import PgBoss from 'pg-boss';
import type { Tx } from '../data';

/** The queues and what their jobs carry. */
export interface Jobs {
  intake: { intakeId: string };
  'bake-plan': { bakeId: string };
  'bake-coarse': { bakeId: string };
  /** Sends the tiles of a bake that goes on. */
  'bake-step': { bakeId: string };
  'bake-direct': { bakeId: string; position: number };
  'bake-tile': { bakeId: string; position: number };
  'bake-finish': { bakeId: string };
  look: { projectId: string };
  picture: { projectId: string };
  'sky-image': { imageId: string };
}

export type QueueName = keyof Jobs;

/**
 * A job may run for as long as this; a dead worker's is taken back long before (see `worker.ts`), so this only bounds
 * a job whose worker lives but hangs.
 */
const EXPIRE_S: Record<QueueName, number> = {
  intake: 7200,
  'bake-plan': 3600,
  'bake-coarse': 900,
  'bake-step': 600,
  'bake-direct': 1800,
  'bake-tile': 1800,
  'bake-finish': 3600,
  look: 900,
  picture: 600,
  'sky-image': 900,
};

/** Times that a job is taken again after its worker died. */
const RETRIES = 4;

/** Opens the job queue, which lives in the same database under a schema of its own. */
export async function openQueue(address: string): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: address, schema: 'queue', max: 6, maintenanceIntervalSeconds: 30, schedule: false });
  // Connection errors are retried by the queue itself; without a listener they would end the process.
  boss.on('error', () => undefined);
  await boss.start();
  for (const name of Object.keys(EXPIRE_S) as QueueName[]) await boss.createQueue(name);
  return boss;
}

/** Puts a job on its queue. */
export async function send<Q extends QueueName>(boss: PgBoss, queue: Q, data: Jobs[Q]): Promise<void> {
  await boss.send(queue, data, { expireInSeconds: EXPIRE_S[queue], retryLimit: RETRIES, retryDelay: 0 });
}

/** Puts many jobs on one queue at once; within a transaction they are there if it holds, and not if it does not. */
export async function sendAll<Q extends QueueName>(boss: PgBoss, queue: Q, all: Jobs[Q][], tx?: Tx): Promise<void> {
  const jobs = all.map((data) => ({ name: queue, data, expireInSeconds: EXPIRE_S[queue], retryLimit: RETRIES, retryDelay: 0 }));
  await (tx ? boss.insert(jobs, { db: { executeSql: (text, values) => inTransaction(tx, text, values) } }) : boss.insert(jobs));
}

const inTransaction = async (tx: Tx, text: string, values: unknown[]) => ({
  rows: (await tx.executeQuery(CompiledQuery.raw(text, values))).rows,
});
