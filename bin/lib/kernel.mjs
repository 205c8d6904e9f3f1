// Compiles the ray kernel to WebAssembly when its source has changed since it was compiled last.
import { createHash } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT } from './packages.mjs';

const FOLDER = join(ROOT, 'core', 'trace', 'kernel');
const SOURCES = [
  'kernel.ts',
  'layout.ts',
  'walk.ts',
  'discs.ts',
  'build.ts',
  'light.ts',
  'half.ts',
  'codes.ts',
  'dots.ts',
  'sum.ts',
  'window.ts',
].map((name) => join(FOLDER, name));
const OUT = join(FOLDER, 'bytes.ts');
const FLAGS = [
  ...['-O3', '--noAssert', '--converge', '--runtime', 'stub'],
  ...['--enable', 'simd', '--enable', 'threads', '--importMemory', '--sharedMemory', '--initialMemory', '1', '--maximumMemory', '65536'],
];

/** Makes core/trace/kernel/bytes.ts answer to the kernel's source; does nothing when it does already. Talks on stderr. */
export function ensureKernel() {
  const hash = createHash('sha256').update(FLAGS.join());
  for (const source of SOURCES) hash.update(readFileSync(source));
  const stamp = hash.digest('hex');
  if (existsSync(OUT) && readFileSync(OUT, 'utf8').includes(stamp)) return;
  const folder = mkdtempSync(join(tmpdir(), 'basil-kernel-'));
  const wasm = join(folder, 'kernel.wasm');
  const compiler = join(ROOT, 'node_modules', 'assemblyscript', 'bin', 'asc.js');
  const { status } = spawnSync(process.execPath, [compiler, SOURCES[0], '-o', wasm, ...FLAGS], {
    cwd: ROOT,
    stdio: ['ignore', 2, 2],
    env: { ...process.env, NODE_OPTIONS: '' },
  });
  if (status !== 0) {
    console.error('The ray kernel could not be compiled. See the messages above.');
    process.exit(1);
  }
  const text = readFileSync(wasm).toString('base64');
  writeFileSync(
    OUT,
    `// Compiled from kernel.ts; ${stamp}\n/** The kernel as WebAssembly, in base64. */\nexport const KERNEL =\n  '${text}';\n`,
  );
  rmSync(folder, { recursive: true, force: true });
}
