import { sql } from 'kysely';
import { bakeChange } from '../../core/bake';
import type { BakeSettings } from '../../core/rig';
import { streamOf, type Db } from '../../server/data';
import {
  bakesOf,
  continueBake,
  deleteBake,
  finishBakeEarly,
  keptBakes,
  latestRig,
  pauseBake,
  pinBake,
  readIntake,
  receiveLevel,
  requestBake,
  saveRig,
  tidyProject,
} from '../../server/stores';
import { freshDatabase } from '../lib/database';
import { lampWith } from '../lib/lamps';
import { quadLevel, room } from '../lib/level';
import { until } from '../lib/wait';
import { gone, spawnWorker } from '../lib/worker';

/** It has no ceiling: the sky comes in. */
const OPEN_ROOM = room(0, 4, { albedo: 0.5 }).filter((q) => q.name !== 'ceiling');

let db: Db;
let drop: () => Promise<void>;
let worker: ReturnType<typeof spawnWorker>;
let project: string;
beforeAll(async () => {
  let address: string;
  ({ db, address, drop } = await freshDatabase());
  worker = spawnWorker(address, 2);
  const { id } = await receiveLevel(db, 'Room.glb', streamOf(await quadLevel(OPEN_ROOM)), null);
  project = await until(async () => (await readIntake(db, id)).projectId, 'the level', 180);
  await setBake({ quality: 'rough', texelsPerM: 2 });
}, 240_000);
afterAll(async () => {
  worker.kill('SIGTERM');
  await gone(worker);
  await drop();
});

async function setBake(bake: Partial<BakeSettings>): Promise<void> {
  const { revision, rig } = await latestRig(db, project);
  // Where the sun does not rise it has no course to sample.
  const place = { ...rig.place, latitudeDeg: 80, date: '2026-12-21' };
  await saveRig(db, project, revision, { ...rig, place, bake: { ...rig.bake, ...bake } }, 'bake settings');
}

async function bakeNow(bounces: number): Promise<string> {
  await setBake({ bounces });
  const { id } = await requestBake(db, project);
  await until(async () => (await bakesOf(db, project)).done?.id === id, 'the bake', 240);
  return id;
}

const kept = async () => (await keptBakes(db, project)).bakes;

describe('bakes that are done', () => {
  let first: string;

  it('are listed with how they were made, how long they took, and what they take on the disk', async () => {
    expect(await kept()).toEqual([]);
    first = await bakeNow(1);
    const [bake] = await kept();
    expect(bake).toMatchObject({ id: first, isOfLevel: true, pinned: false, quality: 'rough', texelsPerM: 2 });
    expect(bake!.seconds).toBeGreaterThan(0);
    expect(bake!.seconds).toBeLessThan(240);
    const { rows } = await sql<{ bytes: string }>`select sum(size) as bytes from blobs
      where hash in (select hash from stems where bake_id = ${first})`.execute(db);
    expect(bake!.bytes).toBe(Number(rows[0]!.bytes));
    expect(bake!.bytes).toBeGreaterThan(1000);
    expect(bake!.noise).toMatchObject({ allowed: 0.4 });
  }, 300_000);

  it('stay when they are pinned, whatever comes after them, and go when they are not', async () => {
    await pinBake(db, first, true);
    const later: string[] = [];
    for (const bounces of [2, 3, 4, 5, 6]) later.push(await bakeNow(bounces));
    expect((await kept()).map((b) => b.id)).toEqual([...later.slice(1).reverse(), first]);
    await tidyProject(db, project);
    expect((await kept()).map((b) => b.id)).toEqual([later[4], first]);
    await pinBake(db, first, false);
    await tidyProject(db, project);
    expect((await kept()).map((b) => b.id)).toEqual([later[4]]);
    await expect(pinBake(db, first, true)).rejects.toMatchObject({ code: 'not-found' });
  }, 600_000);

  it('are deleted one by one, with what they alone held, but not while a bake at work takes over a part of them', async () => {
    const [newest] = await kept();
    worker.kill('SIGSTOP');
    const { revision, rig } = await latestRig(db, project);
    const circuits = [{ id: 'c', name: 'C', rule: { by: 'on' as const }, bounce: 1 }];
    const lamp = lampWith({ id: 'l', name: 'L', at: [0, 2, 0], circuitId: 'c' });
    await saveRig(db, project, revision, { ...rig, circuits, lamps: [lamp] }, 'a lamp');
    const { id } = await requestBake(db, project);
    await expect(deleteBake(db, newest!.id)).rejects.toMatchObject({ code: 'conflict' });
    await expect(deleteBake(db, id)).rejects.toMatchObject({ code: 'not-found' });
    worker.kill('SIGCONT');
    await until(async () => (await bakesOf(db, project)).done?.id === id, 'the lamp', 240);
    await deleteBake(db, newest!.id);
    expect((await kept()).map((b) => b.id)).toEqual([id]);
    const { rows } = await sql<{ n: string }>`select count(*) as n from stems where hash not in (select hash from blobs)`.execute(db);
    expect(Number(rows[0]!.n)).toBe(0);
    await deleteBake(db, id);
    expect((await bakesOf(db, project)).done).toBeNull();
    expect(await kept()).toEqual([]);
  }, 300_000);
});

describe('a bake that is finished early', () => {
  it('is whole with the fewest paths where none were followed yet, says so, and may be traced again', async () => {
    // Wide enough for several tiles.
    await setBake({ quality: 'fair', texelsPerM: 8, bounces: 2 });
    const { id } = await requestBake(db, project, { whole: true });
    await until(async () => (await bakesOf(db, project)).atWork?.state === 'running', 'the first rays', 240);
    await pauseBake(db, id);
    await finishBakeEarly(db, id);
    expect((await bakesOf(db, project)).atWork).toMatchObject({ state: 'running', early: true });
    const done = await until(async () => (await bakesOf(db, project)).done, 'the end', 300);
    expect(done.id).toBe(id);
    expect(done.plan.left!.reasons).toEqual([expect.stringMatching(/^it was finished early: \d+ % of the texels have the fewest paths$/)]);
    // Its noise is measured, and over what the quality allows.
    expect(done.noise!.sources.length).toBeGreaterThan(0);
    expect(Math.max(...done.noise!.sources.map((s) => s.noise))).toBeGreaterThan(done.noise!.allowed);
    expect(Math.max(...Object.values(done.noise!.over))).toBeGreaterThan(0);
    const { rig } = await latestRig(db, project);
    const change = bakeChange(done, rig);
    expect(change.reasons).toEqual(done.plan.left!.reasons);
    expect(change.trace.partly).toBeUndefined();

    // What was asked for is not taken for done, and is traced to its end when it is asked for again.
    const { id: again, fresh } = await requestBake(db, project);
    expect(fresh).toBe(true);
    await continueBake(db, again);
    const whole = await until(
      async () => (await bakesOf(db, project)).done?.id === again && (await bakesOf(db, project)).done,
      'all of it',
      400,
    );
    expect(whole.plan.left).toBeUndefined();
    expect(bakeChange(whole, rig).reasons).toEqual([]);
    const noiseOf = (bake: typeof whole) => Math.max(...bake.noise!.sources.map((s) => s.noise));
    expect(noiseOf(whole)).toBeLessThan(noiseOf(done));
  }, 900_000);
});
