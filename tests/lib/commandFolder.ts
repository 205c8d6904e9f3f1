import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A folder of its own to run commands in: "basil" as a process, files put there, and the way to remove it. */
export function commandFolder() {
  const folder = mkdtempSync(join(tmpdir(), 'basil-cli-'));
  return {
    folder,
    basil(...args: string[]) {
      const { status, stdout, stderr } = spawnSync(process.execPath, [join(process.cwd(), 'bin/basil.mjs'), ...args], {
        encoding: 'utf8',
        env: { ...process.env, INIT_CWD: folder, NODE_OPTIONS: '' },
      });
      return { status, stdout, stderr };
    },
    put: (name: string, bytes: Uint8Array | string) => writeFileSync(join(folder, name), bytes),
    remove: () => rmSync(folder, { recursive: true, force: true }),
  };
}
