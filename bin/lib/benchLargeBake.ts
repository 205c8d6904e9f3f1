// How long a worker takes for a large level, step by step, and the most memory it takes and keeps.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { migrate, openDatabase, streamOf } from '../../server/data';
import { prepareQueue } from '../../server/queue';
import { bakesOf, latestRig, readIntake, receiveLevel, requestBake, saveRig } from '../../server/stores';
import type { BakeStep } from '../../core/bake';
import type { BakeQuality } from '../../core/rig';
import { largeLevel } from '../../tests/lib/largeLevel';
import { startPostgres } from './postgres.mjs';
import { WORKER_MEMORY } from './workerMemory.mjs';
import type { Print } from './benchPrint';

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));
/** How long after its bake a worker is looked at again, so that it has given its memory back. */
const REST_MS = 15_000;

/** Memory of a process, MB: the most there was since this was asked last, and what there is. */
function memoryOf(pid: number): { highestMB: number; nowMB: number } {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  // Sets the highest to what there is now.
  writeFileSync(`/proc/${pid}/clear_refs`, '5');
  const of = (name: string) => Number(new RegExp(`${name}:\\s+(\\d+) kB`).exec(status)![1]) / 1000;
  return { highestMB: of('VmHWM'), nowMB: of('VmRSS') };
}

/** Bakes a large level with a worker and a database of its own. */
export async function benchLargeBake(print: Print, blocks: number, quality: BakeQuality): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'basil-bench-'));
  const postgres = await startPostgres(folder);
  const db = openDatabase(postgres.address);
  await migrate(db);
  await prepareQueue(postgres.address);
  const worker = spawn(process.execPath, ['--import', 'tsx', join(import.meta.dirname, '..', 'worker.ts')], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, ...WORKER_MEMORY, DATABASE_URL: postgres.address, BASIL_DATA: folder },
  });
  try {
    const started = performance.now();
    const { id } = await receiveLevel(db, 'Large.glb', streamOf(await largeLevel({ blocks })), null);
    let view = await readIntake(db, id);
    for (; view.state !== 'done'; view = await readIntake(db, id)) {
      if (view.state === 'failed') throw new Error(view.error!);
      await pause(100);
    }
    const projectId = view.projectId!;
    print(`large level of ${blocks} x ${blocks} blocks: read`, { s: (performance.now() - started) / 1000, ...memoryOf(worker.pid!) });
    const { revision, rig } = await latestRig(db, projectId);
    await saveRig(db, projectId, revision, { ...rig, bake: { ...rig.bake, quality } }, quality);
    const bake = await requestBake(db, projectId);
    let since = performance.now();
    let at: BakeStep | null = null;
    const whole = since;
    for (;;) {
      const { atWork, done, failed } = await bakesOf(db, projectId);
      if (failed) throw new Error(failed.error!);
      const step: BakeStep | null = done?.id === bake.id ? null : (atWork?.step ?? at);
      if (at !== null && step !== at)
        print(`large level, ${quality}: step ${at}`, { s: (performance.now() - since) / 1000, ...memoryOf(worker.pid!) });
      if (step !== at) [at, since] = [step, performance.now()];
      if (step === null) break;
      await pause(200);
    }
    const stored = await db
      .selectFrom('stems')
      .innerJoin('blobs', 'blobs.hash', 'stems.hash')
      .select((eb) => eb.fn.sum<string>('blobs.size').as('bytes'))
      .executeTakeFirstOrThrow();
    print(`large level, ${quality}: the whole bake`, {
      s: (performance.now() - whole) / 1000,
      storedMB: Number(stored.bytes) / 1e6,
      ...memoryOf(worker.pid!),
    });
    await pause(REST_MS);
    print(`large level, ${quality}: after it`, memoryOf(worker.pid!));
  } finally {
    worker.kill('SIGTERM');
    await db.destroy();
    await pause(1000);
    postgres.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
