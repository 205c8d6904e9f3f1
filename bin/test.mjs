// npm test: everything that is checked, from nothing. Installs what is missing, then lint, types, formatting and all tests.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuilt } from './lib/build.mjs';
import { ensureKernel } from './lib/kernel.mjs';
import { ROOT, ensurePackages } from './lib/packages.mjs';
import { installDebian, startPostgres } from './lib/postgres.mjs';

process.chdir(ROOT);
ensurePackages();
ensureKernel();

const CHROMIUM = '/usr/bin/chromium';
if (!existsSync(CHROMIUM))
  installDebian(['chromium', 'libgl1-mesa-dri', 'libegl1', 'libgles2'], 'the browser that the pages are tested in');

if (!existsSync('/usr/bin/oiiotool') || !existsSync('/usr/bin/exrmaketiled'))
  installDebian(['openexr', 'openimageio-tools'], 'image tools of others, which our readers and writers are tested against');

const counts = { passed: 0, failed: 0 };

/** Runs one check; it counts as one test where it brings no count of its own. */
function check(name, args, env = {}, counted = null) {
  const started = Date.now();
  const { status } = spawnSync(process.execPath, args, { stdio: 'inherit', env: { ...process.env, ...env } });
  const own = counted && existsSync(counted) ? JSON.parse(readFileSync(counted, 'utf8')) : null;
  counts.passed += own ? own.numPassedTests : Number(status === 0);
  // A run that ended badly without a failed test (a suite that could not be loaded) has failed all the same.
  counts.failed += own ? Math.max(own.numFailedTests + own.numRuntimeErrorTestSuites, Number(status !== 0)) : Number(status !== 0);
  console.log(`${name}: ${status === 0 ? 'passed' : 'FAILED'} in ${((Date.now() - started) / 1000).toFixed(0)} s\n`);
}
const bin = (path) => join(ROOT, 'node_modules', path);

// `next build` writes the types of the routes that the type check reads.
ensureBuilt();
check('formatting', [bin('prettier/bin/prettier.cjs'), '--check', '--log-level', 'warn', '.']);
check('lint', [bin('eslint/bin/eslint.js'), '.']);
check('types', [bin('typescript/bin/tsc'), '--noEmit']);

const data = mkdtempSync(join(tmpdir(), 'basil-test-'));
const postgres = await startPostgres(data);
const report = join(data, 'report.json');
check(
  'tests',
  [
    '--experimental-vm-modules',
    '--no-warnings',
    bin('jest/bin/jest.js'),
    '--runInBand',
    '--json',
    `--outputFile=${report}`,
    ...process.argv.slice(2),
  ],
  { BASIL_TEST_DATABASE: postgres.address, BASIL_TEST_CHROMIUM: CHROMIUM },
  report,
);
postgres.stop();
rmSync(data, { recursive: true, force: true });

console.log(`${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 && counts.passed > 0 ? 0 : 1);
