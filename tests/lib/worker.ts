import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';

const ROOT = join(__dirname, '..', '..');

/** A worker process of its own, as `npm run worker` starts it. */
export function spawnWorker(address: string, threads = 2, env: Record<string, string> = {}): ChildProcess {
  return spawn(process.execPath, ['--import', 'tsx', join(ROOT, 'bin/worker.ts')], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DATABASE_URL: address, BASIL_THREADS: String(threads), NODE_OPTIONS: '', NODE_ENV: 'production', ...env },
  });
}

export function gone(child: ChildProcess): Promise<void> {
  return new Promise((done) => (child.exitCode !== null || child.signalCode !== null ? done() : child.once('exit', () => done())));
}
