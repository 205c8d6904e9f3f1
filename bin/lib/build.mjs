// Builds the web application when its sources have changed since it was built last.
import { createHash } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './packages.mjs';

const SOURCES = ['app', 'proxy.ts', 'studio', 'server', 'core', 'next.config.mjs', 'tsconfig.json', 'package-lock.json'];
const STAMP = join(ROOT, '.next', 'basil-sources');

function sourceHash() {
  const hash = createHash('sha256');
  const visit = (path) => {
    if (!existsSync(join(ROOT, path))) return;
    if (/\.[a-z]+$/i.test(path) && !path.endsWith('.d')) {
      if (!/\.test\.tsx?$/.test(path)) hash.update(path).update(readFileSync(join(ROOT, path)));
      return;
    }
    for (const name of readdirSync(join(ROOT, path)).sort()) visit(`${path}/${name}`);
  };
  for (const source of SOURCES) visit(source);
  return hash.digest('hex');
}

/** Makes .next answer to the sources; does nothing when it does already. */
export function ensureBuilt() {
  const wanted = sourceHash();
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === wanted) return;
  console.log('Building the web application (about a minute) ...');
  rmSync(STAMP, { force: true });
  const built = spawnSync(process.execPath, [join(ROOT, 'node_modules/next/dist/bin/next'), 'build'], {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
  });
  if (built.status !== 0) {
    console.error(`${built.stdout}\n${built.stderr}\nThe web application could not be built.`);
    process.exit(1);
  }
  writeFileSync(STAMP, wanted);
}
