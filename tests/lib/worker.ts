import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { sql } from 'kysely';
import type { Db } from '../../server/data';
import type { JobLimit } from '../../server/queue';
import { until } from './wait';

const ROOT = join(__dirname, '..', '..');

function spawnScript(script: string, env: Record<string, string>): ChildProcess {
  return spawn(process.execPath, ['--import', 'tsx', join(ROOT, script)], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, NODE_OPTIONS: '', NODE_ENV: 'production', ...env },
  });
}

/** A worker process of its own, as `npm run worker` starts it. */
export const spawnWorker = (address: string, threads = 2, env: Record<string, string> = {}): ChildProcess =>
  spawnScript('bin/worker.ts', { DATABASE_URL: address, BASIL_THREADS: String(threads), ...env });

/** The same with another limit for the reading of levels. */
export const spawnLimitedWorker = (address: string, limit: JobLimit): ChildProcess =>
  spawnScript('tests/lib/limitedWorker.ts', { DATABASE_URL: address, INTAKE_LIMIT: JSON.stringify(limit) });

export function gone(child: ChildProcess): Promise<void> {
  return new Promise((done) => (child.exitCode !== null || child.signalCode !== null ? done() : child.once('exit', () => done())));
}

/**
 * Runs something while a worker stands still. It is stopped where none of its transactions is open: one that was would hold its locks as long as it
 * stands, and whoever asks for them would wait.
 */
export async function whileStopped<T>(db: Db, worker: ChildProcess, work: () => Promise<T>): Promise<T> {
  const open = sql<{ count: string }>`
    select count(*) from pg_stat_activity
    where datname = current_database() and pid <> pg_backend_pid() and backend_type = 'client backend' and xact_start is not null`;
  await until(async () => {
    worker.kill('SIGSTOP');
    // What it sent before is done by then, or is a transaction that is open.
    await new Promise((pause) => setTimeout(pause, 50));
    const still = Number((await open.execute(db)).rows[0]!.count) === 0;
    if (!still) worker.kill('SIGCONT');
    return still;
  }, 'a moment without a transaction');
  try {
    return await work();
  } finally {
    worker.kill('SIGCONT');
  }
}
