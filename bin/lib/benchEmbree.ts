import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** What Debian's package libembree-dev installs. */
const HEADER = '/usr/include/embree3/rtcore.h';

/** Rays a second of Embree on one core, and how many rays met something. */
export interface EmbreeRates {
  closest: number;
  any: number;
  met: number;
}

/**
 * Embree over the same rays as the kernel; null where its development files or a C++ compiler are missing. Each call of `round` measures once, so
 * that it can take turns with others. End it with `close`.
 *
 * @param rays eight numbers each: origin, least distance, direction, most
 */
export function besideEmbree(
  { positions, indices }: { positions: Float32Array; indices: Uint32Array },
  rays: Float32Array,
): { round(): EmbreeRates; close(): void } | null {
  if (!existsSync(HEADER)) return null;
  const folder = mkdtempSync(join(tmpdir(), 'basil-embree-'));
  const close = () => rmSync(folder, { recursive: true, force: true });
  const [program, file] = [join(folder, 'embree'), join(folder, 'rays')];
  const compiler = spawnSync('g++', ['-O2', '-o', program, join(import.meta.dirname, 'embree.cpp'), '-lembree3']);
  if (compiler.status !== 0) {
    close();
    return null;
  }
  const bytes = ({ buffer, byteOffset, byteLength }: Float32Array | Uint32Array) => new Uint8Array(buffer, byteOffset, byteLength);
  const counts = Uint32Array.of(positions.length / 3, indices.length / 3, rays.length / 8);
  writeFileSync(file, Buffer.concat([counts, positions, indices, rays].map(bytes)));
  return {
    round() {
      const { status, stdout } = spawnSync(program, [file], { encoding: 'utf8' });
      if (status !== 0) throw new Error(`Embree ended with code ${status}.`);
      const [closest, any, met] = stdout.trim().split(' ').map(Number);
      return { closest: closest!, any: any!, met: met! };
    },
    close,
  };
}
