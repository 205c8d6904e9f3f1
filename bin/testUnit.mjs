// npm run test:unit [FILE ...]: the unit tests alone, which need neither a database nor a build.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureKernel } from './lib/kernel.mjs';
import { ROOT, ensurePackages } from './lib/packages.mjs';
import { jest } from './lib/testRun.mjs';

process.chdir(ROOT);
ensurePackages();
ensureKernel();
const folder = mkdtempSync(join(tmpdir(), 'basil-unit-'));
const { status, seconds } = await jest(folder, ['--selectProjects', 'unit', '--maxWorkers', '2', ...process.argv.slice(2)]);
rmSync(folder, { recursive: true, force: true });
console.log(`unit tests: ${status === 0 ? 'passed' : 'FAILED'} in ${seconds.toFixed(0)} s`);
process.exit(status ?? 1);
