import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import type { JobLimit } from '../../server/queue';

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
