import { sql } from 'kysely';
import type { LevelSummary } from '../../core/level';
import { STEP_SHARES, stemParts, type JobStep } from '../../core/bake';
import { defaultRig, type Rig } from '../../core/rig';
import { storeBytes, type Db } from '../../server/data';
import {
  addLevel,
  bakesOf,
  cancelBake,
  completeBake,
  continueBake,
  deleteBake,
  failBake,
  keptBakes,
  latestRig,
  openProject,
  pauseBake,
  pinBake,
  requestBake,
  retryBake,
  saveRig,
  storedMaps,
  tidyProject,
} from '../../server/stores';
import { countOf, freshDatabase } from '../lib/database';

let db: Db;
let drop: () => Promise<void>;
beforeAll(async () => ({ db, drop } = await freshDatabase()));
afterAll(() => drop());

let nextSeed = 1;
const someBytes = (size = 500) => Uint8Array.from({ length: size }, (_, i) => (i * nextSeed + (i >> 3)) & 255).fill(nextSeed++ & 255, 0, 4);

/** A project over a level of its own. */
async function newProject(): Promise<string> {
  const store = () => storeBytes(db, someBytes(), async (_, hash) => hash);
  const [sourceHash, preparedHash] = [await store(), await store()];
  const { texelsPerM, maxMapSize, densities } = defaultRig().bake;
  const level = { name: 'Level', sourceHash, preparedHash, layout: { texelsPerM, maxMapSize, densities }, summary: {} as LevelSummary };
  return (await db.transaction().execute((tx) => addLevel(tx, level, null))).projectId;
}

async function change(projectId: string, how: (rig: Rig) => void): Promise<void> {
  const { revision, rig } = await latestRig(db, projectId);
  const next = structuredClone(rig);
  how(next);
  await saveRig(db, projectId, revision, next, 'a change');
}

/** Brings a bake to where its tiles are there to be traced. */
async function begin(bakeId: string, tiles: number): Promise<void> {
  const job = JSON.stringify({ map: 0, top: 0, bottom: 8, texels: 64 });
  const row = (step: JobStep, position: number) => ({ bake_id: bakeId, step, position, job, result_hash: null });
  const rows = (['direct', 'gather'] as const).flatMap((step) => Array.from({ length: tiles }, (_, position) => row(step, position)));
  await db.insertInto('bake_jobs').values(rows).execute();
  await db.updateTable('bakes').set({ state: 'running', step: 'direct', started_at: new Date() }).where('id', '=', bakeId).execute();
}

/** Stores what a step leaves of a tile. */
const leave = (bakeId: string, position: number, step: JobStep, bytes = someBytes()) =>
  storeBytes(db, bytes, async (tx, hash) => {
    await tx
      .updateTable('bake_jobs')
      .set({ result_hash: hash, done: true, share: 0 })
      .where('bake_id', '=', bakeId)
      .where('step', '=', step)
      .where('position', '=', position)
      .execute();
    return hash;
  });

/** Stores the stems of one map of a bake, each part of some bytes of its own. */
async function storeStems(bakeId: string, { coarse = false, parts = ['cover', 'sky'] }: { coarse?: boolean; parts?: string[] } = {}) {
  for (const part of parts) {
    await storeBytes(db, someBytes(), (tx, hash) =>
      tx.insertInto('stems').values({ bake_id: bakeId, coarse, map: 0, part, width: 8, height: 8, hash }).execute(),
    );
  }
}

async function bakeToTheEnd(projectId: string, options: { whole?: boolean } = {}): Promise<string> {
  const { id, fresh } = await requestBake(db, projectId, options);
  expect(fresh).toBe(true);
  await begin(id, 1);
  await storeStems(id);
  await db.updateTable('bakes').set({ state: 'finishing' }).where('id', '=', id).execute();
  const { level } = await openProject(db, projectId);
  expect(await completeBake(db, { id, projectId, levelId: level.id })).toBe(true);
  return id;
}

const blobs = () => countOf(db, 'blobs');

/** How many times a bake was sent on its way. */
async function jobsOf(bakeId: string): Promise<number> {
  const { rows } = await sql<{ n: string }>`select count(*) as n from queue.job where data->>'bakeId' = ${bakeId}`.execute(db);
  return Number(rows[0]!.n);
}

describe('a bake that is asked for', () => {
  it('is refused where there is no such project', async () => {
    await expect(requestBake(db, '00000000-0000-4000-8000-000000000000')).rejects.toMatchObject({ code: 'not-found' });
    await expect(bakesOf(db, '00000000-0000-4000-8000-000000000000')).rejects.toMatchObject({ code: 'not-found' });
  });

  it('is one, however many ask at once', async () => {
    const id = await newProject();
    const asked = await Promise.allSettled([1, 2, 3, 4].map(() => requestBake(db, id)));
    expect(asked.filter((a) => a.status === 'fulfilled')).toHaveLength(1);
    for (const one of asked) if (one.status === 'rejected') expect(one.reason).toMatchObject({ code: 'conflict' });
    expect((await bakesOf(db, id)).atWork).toMatchObject({ state: 'planning', share: 0, secondsLeft: null, only: null });
  });

  it('traces everything the first time, what is stale the next, and everything again when asked to', async () => {
    const id = await newProject();
    const first = await bakeToTheEnd(id);
    const { done } = await bakesOf(db, id);
    expect(done).toMatchObject({ id: first, share: 1, state: 'done', coarse: false });
    expect(done!.traced).toEqual(stemParts(done!.plan).map((p) => p.key));
    const lamp = { id: 'l', name: 'L', at: [0, 2, 0], aim: { azimuthDeg: 0, elevationDeg: -90, rollDeg: 0 } } as const;
    await change(id, (rig) => {
      rig.circuits.push({ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null });
      const rest = {
        shape: { kind: 'point', radiusM: 0.05 },
        output: { by: 'lumens', lumens: 800 },
        color: { by: 'kelvin', kelvin: 2700 },
      } as const;
      rig.lamps.push({ ...lamp, at: [...lamp.at], ...rest, reachM: null, circuitId: 'c', kept: 'all', motion: null });
    });
    const second = await requestBake(db, id);
    const { atWork } = await bakesOf(db, id);
    expect(atWork).toMatchObject({ id: second.id, traced: ['circuit c'] });
    expect(stemParts(atWork!.plan).length).toBe(stemParts(done!.plan).length + 1);
    await cancelBake(db, second.id);
    const third = await requestBake(db, id, { whole: true });
    expect((await bakesOf(db, id)).atWork!.traced).toEqual(stemParts(atWork!.plan).map((p) => p.key));
    await cancelBake(db, third.id);
  });

  it('that was done before is shown again, and none is at work for that', async () => {
    const id = await newProject();
    const first = await bakeToTheEnd(id);
    await change(id, (rig) => void (rig.bake.bounces = 3));
    const second = await bakeToTheEnd(id);
    expect((await bakesOf(db, id)).done!.id).toBe(second);
    await change(id, (rig) => void (rig.bake.bounces = defaultRig().bake.bounces));
    expect(await requestBake(db, id)).toEqual({ id: first, fresh: false });
    expect(await bakesOf(db, id)).toMatchObject({ atWork: null, done: { id: first }, failed: null });
  });

  it('of some objects alone needs a bake of the same stems before it', async () => {
    const id = await newProject();
    await expect(requestBake(db, id, { only: ['floor'] })).rejects.toMatchObject({ code: 'conflict' });
    await bakeToTheEnd(id);
    const { id: some } = await requestBake(db, id, { only: ['floor'] });
    expect((await bakesOf(db, id)).atWork).toMatchObject({ id: some, only: ['floor'] });
    await cancelBake(db, some);
    await change(id, (rig) => void rig.cues.push({ ...rig.cues[0]!, id: 'new', name: 'New', hour: 10.3 }));
    await expect(requestBake(db, id, { only: ['floor'] })).rejects.toThrow(/cannot be baked by itself/);
  });
});

describe('a bake at work', () => {
  it('counts tiles of both steps and the share of those begun, and foresees its end', async () => {
    const project = await newProject();
    const { id } = await requestBake(db, project);
    await begin(id, 4);
    const share = async () => (await bakesOf(db, project)).atWork!.share;
    const begun = (step: JobStep, position: number, share: number) =>
      db
        .updateTable('bake_jobs')
        .set({ share })
        .where('bake_id', '=', id)
        .where('step', '=', step)
        .where('position', '=', position)
        .execute();
    expect(await share()).toBe(0);
    await leave(id, 0, 'direct');
    await leave(id, 1, 'direct');
    expect(await share()).toBeCloseTo(STEP_SHARES.direct * 0.5, 6);
    await begun('direct', 2, 0.5);
    expect(await share()).toBeCloseTo(STEP_SHARES.direct * (2.5 / 4), 6);
    for (const position of [2, 3]) await leave(id, position, 'direct');
    expect(await share()).toBeCloseTo(STEP_SHARES.direct, 6);
    await leave(id, 0, 'gather');
    await begun('gather', 1, 0.2);
    const at = STEP_SHARES.direct + STEP_SHARES.gather * (1.2 / 4);
    expect(await share()).toBeCloseTo(at, 6);
    // What is left takes as long for each of its parts as what is done.
    await sql`update bakes set started_at = now() - interval '60 seconds' where id = ${id}`.execute(db);
    const { secondsLeft } = (await bakesOf(db, project)).atWork!;
    expect(secondsLeft).toBeGreaterThan(60 * ((1 - at) / at) - 3);
    expect(secondsLeft).toBeLessThan(60 * ((1 - at) / at) + 3);
  });

  it('that is paused keeps what it has and its time at work, goes on once, and may be cancelled from there', async () => {
    const project = await newProject();
    const { id } = await requestBake(db, project);
    await continueBake(db, id);
    // Nothing to pause yet: it is being planned.
    await pauseBake(db, id);
    expect((await bakesOf(db, project)).atWork!.state).toBe('planning');
    await begin(id, 2);
    await leave(id, 0, 'direct');
    await sql`update bakes set started_at = now() - interval '40 seconds' where id = ${id}`.execute(db);
    await pauseBake(db, id);
    await pauseBake(db, id);
    expect((await bakesOf(db, project)).atWork).toMatchObject({ state: 'paused', secondsLeft: null });
    expect((await bakesOf(db, project)).atWork!.share).toBeCloseTo(STEP_SHARES.direct / 2, 6);
    const worked = async () => (await db.selectFrom('bakes').select('worked_s').where('id', '=', id).executeTakeFirstOrThrow()).worked_s;
    expect(await worked()).toBeGreaterThan(39);
    expect(await worked()).toBeLessThan(45);
    // However often it is told to, it goes on once.
    const sent = () => jobsOf(id);
    const before = await sent();
    for (let k = 0; k < 2; k++) await continueBake(db, id);
    expect(await sent()).toBe(before + 1);
    const { state, secondsLeft } = (await bakesOf(db, project)).atWork!;
    expect(state).toBe('running');
    // This share took 40 s of work; the pause does not count.
    const share = STEP_SHARES.direct / 2;
    const wanted = (40 * (1 - share)) / share;
    expect(secondsLeft).toBeGreaterThan(0.95 * wanted);
    expect(secondsLeft).toBeLessThan(1.1 * wanted);
    await pauseBake(db, id);
    await cancelBake(db, id);
    await continueBake(db, id);
    expect((await bakesOf(db, project)).atWork).toBeNull();
  });

  it('shows its first look until it is done', async () => {
    const project = await newProject();
    const { id } = await requestBake(db, project);
    await begin(id, 1);
    await storeStems(id, { coarse: true, parts: ['cover', 'sky', 'glow'] });
    const look = (await bakesOf(db, project)).atWork!;
    expect(look.coarse).toBe(true);
    expect(Object.keys(look.maps[0]!.parts).sort()).toEqual(['glow', 'sky']);
    expect(look.maps[0]!.cover).toMatch(/^[0-9a-f]{64}$/);
    expect(await storedMaps(db, id)).toEqual([]);
    await cancelBake(db, id);
  });
});

describe('a bake that ends', () => {
  it('by being cancelled lets go of its tiles and its first look, and of nothing that others hold', async () => {
    const project = await newProject();
    const kept = await bakeToTheEnd(project);
    await change(project, (rig) => void (rig.bake.bounces = 5));
    const { id } = await requestBake(db, project);
    const before = await blobs();
    await begin(id, 2);
    const shared = someBytes();
    await leave(id, 0, 'direct');
    await leave(id, 1, 'direct', shared);
    await leave(id, 0, 'gather', shared);
    await storeStems(id, { coarse: true });
    expect(await blobs()).toBe(before + 4);
    await cancelBake(db, id);
    expect(await blobs()).toBe(before);
    expect(await db.selectFrom('bake_jobs').select('position').where('bake_id', '=', id).execute()).toEqual([]);
    expect((await bakesOf(db, project)).done!.id).toBe(kept);
    expect((await bakesOf(db, project)).done!.maps[0]!.cover).toBeTruthy();
    // It has ended: no other end comes after.
    await failBake(db, id, 'too late');
    expect((await bakesOf(db, project)).failed).toBeNull();
  });

  it('by a fault says which and keeps what was traced, until the next is asked for', async () => {
    const project = await newProject();
    const { id } = await requestBake(db, project);
    await begin(id, 2);
    await leave(id, 0, 'direct');
    await failBake(db, id, 'The disc is full.');
    const before = await blobs();
    expect(await bakesOf(db, project)).toMatchObject({ atWork: null, done: null, failed: { id, error: 'The disc is full.', kept: 1 } });
    await bakeToTheEnd(project);
    expect((await bakesOf(db, project)).failed).toBeNull();
    // Its one tile is gone; what the other stored came instead.
    expect(await db.selectFrom('bake_jobs').select('position').where('bake_id', '=', id).execute()).toEqual([]);
    expect(await blobs()).toBe(before - 1 + 2);
  });

  it('by a fault can be tried again from where it was, or put away', async () => {
    const project = await newProject();
    const { id } = await requestBake(db, project);
    await begin(id, 2);
    await leave(id, 0, 'direct');
    await failBake(db, id, 'A fault.');
    const jobs = await jobsOf(id);
    await retryBake(db, id);
    await retryBake(db, id);
    expect((await bakesOf(db, project)).atWork).toMatchObject({ id, state: 'running', error: null, kept: 1 });
    expect(await jobsOf(id)).toBe(jobs + 1);
    await failBake(db, id, 'Again.');
    const before = await blobs();
    await cancelBake(db, id);
    expect(await bakesOf(db, project)).toMatchObject({ atWork: null, failed: null });
    expect(await blobs()).toBe(before - 1);
    await retryBake(db, id);
    expect((await bakesOf(db, project)).atWork).toBeNull();
  });

  it('all at once or not at all: where its last step breaks off, it is still finishing and holds everything', async () => {
    const project = await newProject();
    const { id } = await requestBake(db, project);
    await begin(id, 2);
    await leave(id, 0, 'direct');
    await storeStems(id);
    await storeStems(id, { coarse: true });
    await db.updateTable('bakes').set({ state: 'finishing' }).where('id', '=', id).execute();
    const before = await blobs();
    const { level } = await openProject(db, project);
    // The last thing that is touched refuses.
    await sql`create function refuse() returns trigger language plpgsql as $$ begin raise exception 'broken off'; end $$`.execute(db);
    await sql`create trigger refuse before delete on blobs for each row execute function refuse()`.execute(db);
    await expect(completeBake(db, { id, projectId: project, levelId: level.id })).rejects.toThrow('broken off');
    await sql`drop trigger refuse on blobs`.execute(db);
    expect((await bakesOf(db, project)).atWork).toMatchObject({ id, state: 'finishing' });
    expect(await db.selectFrom('bake_jobs').select('position').where('bake_id', '=', id).execute()).toHaveLength(4);
    expect(await blobs()).toBe(before);
    expect(await completeBake(db, { id, projectId: project, levelId: level.id })).toBe(true);
    expect(await completeBake(db, { id, projectId: project, levelId: level.id })).toBe(false);
    // The tile's light and both parts of the first look are gone; the stems are not.
    expect(await blobs()).toBe(before - 3);
    expect(Object.keys((await bakesOf(db, project)).done!.maps[0]!.parts)).toEqual(['sky']);
  });

  it('as the fifth makes the oldest go, with what it alone held', async () => {
    const project = await newProject();
    const ids: string[] = [];
    for (let bounces = 1; bounces <= 5; bounces++) {
      await change(project, (rig) => void (rig.bake.bounces = bounces));
      ids.push(await bakeToTheEnd(project));
    }
    const rows = await db.selectFrom('bakes').select('id').where('project_id', '=', project).where('state', '=', 'done').execute();
    expect(rows.map((r) => r.id).sort()).toEqual(ids.slice(1).sort());
    expect(await storedMaps(db, ids[0]!)).toEqual([]);
    const held = await db.selectFrom('stems').select('hash').where('bake_id', 'in', ids).execute();
    const there = await db
      .selectFrom('blobs')
      .select('hash')
      .where(
        'hash',
        'in',
        held.map((h) => h.hash),
      )
      .execute();
    expect(there).toHaveLength(8);
  });

  it('stays whatever comes after it while it is pinned, and is deleted when it is asked for', async () => {
    const project = await newProject();
    const next = async (bounces: number) => {
      await change(project, (rig) => void (rig.bake.bounces = bounces));
      return bakeToTheEnd(project);
    };
    const kept = async () => (await keptBakes(db, project)).bakes.map((b) => b.id);
    const first = await next(1);
    const { bakes } = await keptBakes(db, project);
    expect(bakes).toMatchObject([
      { id: first, isOfLevel: true, pinned: false, isPartial: false, texelsPerM: defaultRig().bake.texelsPerM },
    ]);
    // Two files of 500 bytes.
    expect(bakes[0]!.bytes).toBe(1000);
    await pinBake(db, first, true);
    const later: string[] = [];
    for (const bounces of [2, 3, 4, 5, 6]) later.push(await next(bounces));
    expect(await kept()).toEqual([...later.slice(1).reverse(), first]);
    await tidyProject(db, project);
    expect(await kept()).toEqual([later[4], first]);
    await pinBake(db, first, false);
    await tidyProject(db, project);
    expect(await kept()).toEqual([later[4]]);
    await expect(pinBake(db, first, true)).rejects.toMatchObject({ code: 'not-found' });

    // Not while another takes over a part of it.
    const { id } = await requestBake(db, project, { whole: true });
    await db.updateTable('bakes').set({ base_id: later[4]! }).where('id', '=', id).execute();
    await expect(deleteBake(db, later[4]!)).rejects.toMatchObject({ code: 'conflict' });
    await expect(deleteBake(db, id)).rejects.toMatchObject({ code: 'not-found' });
    await cancelBake(db, id);
    const before = await blobs();
    await deleteBake(db, later[4]!);
    expect(await blobs()).toBe(before - 2);
    expect((await bakesOf(db, project)).done).toBeNull();
  });
});
