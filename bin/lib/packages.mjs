// Installs what package-lock.json asks for, when it is not there yet. Plain Node: nothing may be imported that it installs.
import { createHash } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = join(dirname(fileURLToPath(import.meta.url)), '..', '..');

/** A file that says which lock file the installed packages answer to; kept inside node_modules so that both go together. */
const STAMP = join(ROOT, 'node_modules', '.basil-lock');

const npm = (args) => spawnSync('npm', args, { cwd: ROOT, stdio: ['ignore', 2, 2] }).status === 0;

/** Makes node_modules answer to package-lock.json; does nothing when it does already. Talks on stderr. */
export function ensurePackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lock) return;
  console.error('Installing packages (about a minute and a half on a first start) ...');
  const flags = ['--no-fund', '--no-audit', '--include=dev', '--include=optional', '--loglevel=error'];
  // A lock file made elsewhere may lack optional binaries of this system, which `npm ci` refuses and `npm install` fills in.
  if (!npm(['ci', ...flags]) && !npm(['install', '--no-save', ...flags])) {
    console.error('The packages could not be installed. See the messages above; the package registry must be reachable.');
    process.exit(1);
  }
  mkdirSync(dirname(STAMP), { recursive: true });
  writeFileSync(STAMP, lock);
}
