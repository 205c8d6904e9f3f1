// npm run worker: compiles the kernel where that is needed, and runs one worker until it is stopped.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensureKernel } from './lib/kernel.mjs';
import { ROOT } from './lib/packages.mjs';
import { WORKER_MEMORY } from './lib/workerMemory.mjs';

ensureKernel();
const worker = spawn(process.execPath, ['--import', 'tsx', join(ROOT, 'bin/worker.ts')], {
  stdio: 'inherit',
  env: { ...process.env, ...WORKER_MEMORY },
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => worker.kill(signal));
worker.on('exit', (code) => process.exit(code ?? 1));
