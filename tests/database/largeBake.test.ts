import type { ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'kysely';
import { COMPACT, TABLES_KEY, compactParts, type BakeStep, type PlannedTile } from '../../core/bake';
import type { BakeSettings } from '../../core/rig';
import { streamOf, type Db } from '../../server/data';
import type { QueueName } from '../../server/queue';
import { bakesOf, cancelBake, dropIntake, latestRig, readIntake, receiveLevel, requestBake, retryBake, saveRig } from '../../server/stores';
import { countOf, freshDatabase } from '../lib/database';
import { largeLevel } from '../lib/largeLevel';
import { quadLevel, room } from '../lib/level';
import { until } from '../lib/wait';
import { gone, spawnWorker } from '../lib/worker';

let db: Db;
let address: string;
let drop: () => Promise<void>;
let worker: ChildProcess;
let folder: string;
const start = () => (worker = spawnWorker(address, 2, { BASIL_DATA: folder }));

beforeAll(async () => {
  ({ db, address, drop } = await freshDatabase());
  folder = mkdtempSync(join(tmpdir(), 'basil-log-'));
  start();
});
afterAll(async () => {
  worker.kill('SIGTERM');
  await gone(worker);
  await drop();
  rmSync(folder, { recursive: true });
});

async function killWorker(): Promise<void> {
  worker.kill('SIGKILL');
  await gone(worker);
}

async function bringIn(name: string, bytes: Uint8Array): Promise<string> {
  const { id } = await receiveLevel(db, name, streamOf(bytes), null);
  const { projectId, error } = await until(async () => {
    const view = await readIntake(db, id);
    return (view.state === 'done' || view.state === 'failed') && view;
  }, `the reading of ${name}`);
  expect(error).toBeNull();
  return projectId!;
}

async function setBake(projectId: string, bake: Partial<BakeSettings>): Promise<void> {
  const { revision, rig } = await latestRig(db, projectId);
  // Where the sun does not rise it has no course to sample: half the layers, for the test to end sooner.
  const place = { ...rig.place, latitudeDeg: 80, date: '2026-12-21' };
  await saveRig(db, projectId, revision, { ...rig, place, bake: { ...rig.bake, quality: 'rough', bounces: 4, ...bake } }, 'bake settings');
}

/** Jobs of a step of a bake that are done. */
async function doneOf(bakeId: string, step: BakeStep): Promise<number> {
  const rows = await db
    .selectFrom('bake_jobs')
    .select('position')
    .where('bake_id', '=', bakeId)
    .where('step', '=', step as never)
    .where('done', '=', true)
    .execute();
  return rows.length;
}

/** Where the paths of a tile lie whose band is not denoised yet; null while there is none. */
async function tileToDenoise(bakeId: string): Promise<string | null> {
  const rows = await db
    .selectFrom('bake_jobs')
    .select(['step', 'job', 'done', 'result_hash'])
    .where('bake_id', '=', bakeId)
    .where('step', 'in', ['gather', 'denoise'])
    .orderBy('position', 'desc')
    .execute();
  const jobs = rows.map((r) => ({ ...r, tile: r.job as PlannedTile }));
  const isLeft = ({ map, top }: PlannedTile) =>
    jobs.some(({ step, done, tile }) => step === 'denoise' && !done && tile.map === map && tile.top <= top && top < tile.bottom);
  return jobs.find(({ step, done, tile }) => step === 'gather' && done && isLeft(tile))?.result_hash ?? null;
}

describe('a bake of a large level, on several full maps', () => {
  it('goes to its end through killed workers and a fault, which names its place and keeps what was traced', async () => {
    const small = await quadLevel(room(0, 4, { albedo: 0.5 }));
    const project = await bringIn('Large.glb', await largeLevel({ blocks: 2 }));
    await setBake(project, { texelsPerM: 3, maxMapSize: 256, bounces: 1 });
    const { id } = await requestBake(db, project);
    const steps = async () => (await bakesOf(db, project)).atWork?.step;
    await until(async () => (await doneOf(id, 'gather')) > 0, 'the first paths', 300);

    // Another level is read meanwhile, and does not wait for the bake.
    await bringIn('Beside.glb', small);
    expect(await steps()).toBeDefined();

    await killWorker();
    const gathered = await doneOf(id, 'gather');
    start();
    await until(
      async () => (await doneOf(id, 'denoise')) > 0 && tileToDenoise(id),
      'the first rows to be denoised, and others to come',
      300,
    );
    expect(await doneOf(id, 'gather')).toBeGreaterThan(gathered);

    // A stored tile is damaged: its first numbers tell of arrays that are not there.
    await killWorker();
    const result_hash = (await tileToDenoise(id))!;
    const damage = (bytes: string) =>
      sql`update blob_chunks set bytes = overlay(bytes placing ${sql.raw(bytes)} from 1) from blobs
        where blobs.id = blob_id and blobs.hash = ${result_hash} and position = 0`.execute(db);
    const { rows } = await sql<{ head: string }>`select encode(substring(bytes from 1 for 8), 'hex') as head from blob_chunks
      join blobs on blobs.id = blob_id where blobs.hash = ${result_hash} and position = 0`.execute(db);
    await damage(`'\\xffffff7fffffff7f'::bytea`);
    start();
    const failed = await until(async () => (await bakesOf(db, project)).failed, 'the fault', 300);
    expect(failed.error).toMatch(/^Denoising of map \d+, rows \d+ to \d+, failed by a fault of Basil's: /);
    expect(failed.error).toContain('All that was traced is kept: try again.');
    const [log] = readdirSync(join(folder, 'logs'));
    expect(failed.error).toContain(join(folder, 'logs'));
    expect(readFileSync(join(folder, 'logs', log!), 'utf8')).toMatch(/"stack":"[^"]*readBlob/);
    expect(failed.kept).toBeGreaterThan(gathered);
    expect(await steps()).toBeUndefined();

    await damage(`'\\x${rows[0]!.head}'::bytea`);
    const denoised = await doneOf(id, 'denoise');
    await retryBake(db, id);
    await until(async () => (await doneOf(id, 'finish')) > 0, 'the first finished layers', 300);
    expect(denoised).toBeGreaterThan(0);
    await killWorker();
    start();
    const done = await until(async () => (await bakesOf(db, project)).done, 'the end', 300);
    expect(done.id).toBe(id);
    expect(done.maps.length).toBeGreaterThan(2);
    for (const [map, { cover, parts }] of done.maps.entries()) {
      expect(cover).toMatch(/^[0-9a-f]{64}$/);
      const keys = compactParts(done.plan).map((p) => p.key);
      expect(Object.keys(parts).sort()).toEqual([...keys, ...(map === 0 ? [TABLES_KEY] : [])].sort());
      // All of them lie in the same pieces.
      expect(keys.every((key) => parts[key]!.length === parts[`${COMPACT}sky`]!.length)).toBe(true);
    }
    expect(await countOf(db, 'bake_jobs')).toBe(0);
  });
});

describe('what is cancelled', () => {
  /** Waits until a worker has such a job in its hands. */
  const inHand = (queue: QueueName, step: BakeStep | null) =>
    until(
      async () => {
        const { rows } = await sql`select 1 from running join queue.job on job.id = running.job_id
          where queue = ${queue} and (${step}::text is null or data->>'step' = ${step})`.execute(db);
        return rows.length > 0;
      },
      `a worker to have a job of ${step ?? queue}`,
      300,
      20,
    );
  const isFree = async (queue: QueueName) =>
    (await db.selectFrom('running').select('job_id').where('queue', '=', queue).execute()).length === 0;

  /** Well before what it has in its hands would be done. */
  const expectFree = (queue: QueueName) => until(() => isFree(queue), 'the worker to be free', 30, 20);

  it('while it is read frees the worker at once', async () => {
    const { id } = await receiveLevel(db, 'Large.glb', streamOf(await largeLevel({ blocks: 5 })), null);
    await inHand('intake', null);
    await until(async () => (await readIntake(db, id)).share > 0, 'some of it to be read', 60, 20);
    await dropIntake(db, id);
    await expectFree('intake');
  });

  let project: string;
  beforeAll(async () => {
    project = await bringIn('Block.glb', await largeLevel({ blocks: 1 }));
  });

  it.each<[QueueName, BakeStep | null]>([
    ['bake-advance', null],
    ['bake-preview', null],
    ['bake-job', 'direct'],
    ['bake-job', 'bounce'],
    ['bake-job', 'gather'],
    ['bake-job', 'denoise'],
    ['bake-job', 'finish'],
    ['bake-job', 'tables'],
    ['bake-job', 'compact'],
  ])('at %s %s frees the worker at once, and keeps nothing', async (queue, step) => {
    // Much to plan, preview and light where it is to be caught there, and little where it has to come to later steps.
    const late = step !== null && step !== 'direct';
    await setBake(project, late ? { texelsPerM: 2, maxMapSize: 128, bounces: 1 } : { texelsPerM: 16, maxMapSize: 1024, quality: 'fine' });
    const { id } = await requestBake(db, project);
    await inHand(queue, step);
    await cancelBake(db, id);
    await expectFree(queue);
    expect(await bakesOf(db, project)).toMatchObject({ atWork: null, done: null, failed: null });
    expect(await db.selectFrom('bake_jobs').select('position').where('bake_id', '=', id).execute()).toEqual([]);
  });
});
