// Running checks and tests as processes of their own.
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './packages.mjs';

/** A file of a package. */
export const bin = (path) => join(ROOT, 'node_modules', path);

/** Runs a script of Node; answers its exit code and how long it took. */
export function runNode(args, env = {}) {
  const started = Date.now();
  const child = spawn(process.execPath, args, { stdio: 'inherit', env: { ...process.env, ...env } });
  return new Promise((done) => child.once('exit', (status) => done({ status, seconds: (Date.now() - started) / 1000 })));
}

/** Runs tests; answers {@link runNode}'s, and the report of the tests where there is one. */
export async function jest(folder, args, env = {}) {
  const file = join(mkdtempSync(join(folder, 'jest-')), 'report.json');
  // A test that failed may have left workers and connections behind, which must not hold the run.
  const options = ['--passWithNoTests', '--forceExit', '--json', `--outputFile=${file}`];
  const run = await runNode(['--experimental-vm-modules', '--no-warnings', bin('jest/bin/jest.js'), ...options, ...args], env);
  return { ...run, report: existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null };
}

/**
 * What came of a run of {@link jest}: tests passed and failed, and the files with failures, each with what passed in it. A run that ended badly without
 * a failed test (a suite that could not be loaded, a crash) has failed all the same.
 */
export function outcomeOf({ status, report }) {
  const failing = (report?.testResults ?? []).filter((file) => file.status === 'failed');
  return {
    passed: report?.numPassedTests ?? 0,
    failed: report ? Math.max(report.numFailedTests + report.numRuntimeErrorTestSuites, Number(status !== 0)) : 1,
    files: failing.map(({ name, assertionResults }) => ({
      name,
      passed: assertionResults.filter((test) => test.status === 'passed').length,
    })),
  };
}
