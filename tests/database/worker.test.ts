import { readFile } from 'node:fs/promises';
import { setTimeout as pause } from 'node:timers/promises';
import { sql } from 'kysely';
import type PgBoss from 'pg-boss';
import {
  COMPACT,
  GLOW_LAYER,
  LAYER,
  SKY_BOUNCE_KEY,
  TABLES_KEY,
  readBand,
  tracedLayers,
  type FinishJob,
  type PlannedTile,
} from '../../core/bake';
import { readLevel, readSurfaces } from '../../core/level';
import { openDatabase, readBlob, streamOf, type Db } from '../../server/data';
import {
  bakesOf,
  cancelBake,
  continueBake,
  deleteProject,
  eraseProject,
  latestRig,
  lookFrom,
  openProject,
  pauseBake,
  readIntake,
  receiveLevel,
  requestBake,
  saveRig,
} from '../../server/stores';
import { openQueue } from '../../server/queue';
import { countOf, freshDatabase } from '../lib/database';
import { lampWith } from '../lib/lamps';
import { bakedRoom, projectsIn } from '../lib/projects';
import { until } from '../lib/wait';
import { gone, spawnWorker } from '../lib/worker';
import type { ChildProcess } from 'node:child_process';

let db: Db;
let address: string;
let drop: () => Promise<void>;
let boss: PgBoss;
let worker: ChildProcess;
let { bringIn, setBake, newRoom, startBake, finished, wholeStems } = {} as ReturnType<typeof projectsIn>;

beforeAll(async () => {
  ({ db, address, drop } = await freshDatabase());
  ({ bringIn, setBake, newRoom, startBake, finished, wholeStems } = projectsIn(db));
  boss = await openQueue(address);
  worker = spawnWorker(address);
});
afterAll(async () => {
  worker.kill('SIGTERM');
  await gone(worker);
  await boss.stop({ graceful: false });
  await drop();
});

const surfacesOf = async (levelHash: string) => readSurfaces(await readLevel(new Uint8Array(await readBlob(db, levelHash))));

describe('a level on its way in', () => {
  it('becomes a project with lightmaps, a rig and a picture', async () => {
    const view = await bringIn('My room.glb', await bakedRoom());
    const project = await openProject(db, view.projectId!);
    expect(project.name).toBe('My room');
    expect(project.level.summary).toMatchObject({ objects: 6, triangles: 12, lightmaps: { origin: 'made' } });
    await until(async () => {
      const row = await db.selectFrom('projects').select('picture_hash').where('id', '=', project.id).executeTakeFirst();
      return row?.picture_hash ?? null;
    }, 'the picture');
  });

  it.each<[string, () => Promise<Uint8Array>, RegExp]>([
    ['cut short.glb', async () => (await bakedRoom()).subarray(0, 700), /cut short/],
    [
      'picture.glb',
      async () => new Uint8Array(await readFile(`${__dirname}/../../demo/build.ts`)),
      /neither binary glTF nor readable JSON/,
    ],
    ['text.gltf', async () => new TextEncoder().encode('{"hello": 1}'), /no "asset"/],
    [
      'elsewhere.gltf',
      async () => new TextEncoder().encode('{"asset":{"version":"2.0"},"buffers":[{"uri":"far.bin","byteLength":4}]}'),
      /another file, "far.bin"/,
    ],
  ])('that is faulty (%s) is refused with a reason and leaves nothing', async (name, bytes, reason) => {
    const before = await Promise.all((['projects', 'levels', 'blobs'] as const).map((t) => countOf(db, t)));
    const view = await bringIn(name, await bytes());
    expect(view).toMatchObject({ state: 'failed', projectId: null });
    expect(view.error).toMatch(reason);
    expect(await Promise.all((['projects', 'levels', 'blobs'] as const).map((t) => countOf(db, t)))).toEqual(before);
  });
});

describe('a job', () => {
  it('that was handed to a worker which died before it began is taken up by another', async () => {
    worker.kill('SIGTERM');
    await gone(worker);
    const { id } = await receiveLevel(db, 'Handed.glb', streamOf(await bakedRoom()), null);
    expect(await readIntake(db, id)).toMatchObject({ state: 'waiting', workers: 0 });
    await sql`update queue.job set state = 'active', started_on = now() - interval '1 minute' where data->>'intakeId' = ${id}`.execute(db);
    worker = spawnWorker(address);
    await until(async () => (await readIntake(db, id)).state === 'done', 'the intake');
  });
});

describe('the queue', () => {
  it('notes the end of a job though every connection is lost just then', async () => {
    const ends = 8;
    await boss.createQueue('connections');
    const admin = openDatabase(address);
    const taken = await boss.work('connections', { pollingIntervalSeconds: 0.5 }, async () => {
      await sql`select pg_terminate_backend(pid) from pg_stat_activity
        where datname = current_database() and pid <> pg_backend_pid()`.execute(admin);
    });
    try {
      for (let k = 0; k < ends; k++) await boss.send('connections', { k });
      await until(async () => {
        const counted = await sql<{
          count: string;
        }>`select count(*) from queue.job where name = 'connections' and state = 'completed'`
          .execute(admin)
          // A second connection of this test's own may be dropped as well.
          .catch(() => null);
        return Number(counted?.rows[0]!.count) === ends;
      }, 'the end of all jobs to be noted');
    } finally {
      await boss.offWork({ id: taken });
      await admin.destroy();
    }
  });
});

describe('a bake', () => {
  it('goes on by itself where the database drops every connection, again and again', async () => {
    const projectId = await newRoom('Dropped', { texelsPerM: 8, bounces: 3 });
    const { id } = await startBake(projectId);
    const admin = openDatabase(address);
    try {
      for (let times = 0; times < 6; times++) {
        await pause(400);
        await sql`select pg_terminate_backend(pid) from pg_stat_activity
          where datname = current_database() and pid <> pg_backend_pid()`.execute(admin);
      }
      await until(async () => {
        // This test's own connections were dropped as well.
        const view = await bakesOf(db, projectId).catch(() => null);
        if (view?.failed) throw new Error(view.failed.error ?? 'failed');
        return view?.done?.id === id;
      }, 'the bake');
    } finally {
      await admin.destroy();
    }
  });

  it('ends in the same stems whether its worker is left alone, killed twice, stopped and paused, or helped by another', async () => {
    // Many texels of few paths: many jobs to be killed in.
    const dense = { texelsPerM: 10, bounces: 4 };
    const [calm, disturbed] = [await newRoom('Calm', dense), await newRoom('Disturbed', dense)];
    const first = await startBake(calm);
    const undisturbed = await finished(calm, first.id);
    expect(Object.keys(undisturbed.maps[0]!.parts)).toEqual(expect.arrayContaining([`${COMPACT}sky`, `${COMPACT}suns`, TABLES_KEY]));

    const second = await startBake(disturbed);
    /** Kills the worker once so much is done. */
    const killAt = async (share: number) => {
      await until(async () => ((await bakesOf(db, disturbed)).atWork?.share ?? 0) > share, `the bake to be over ${share}`, undefined, 20);
      worker.kill('SIGKILL');
      await gone(worker);
    };
    await killAt(0.02);
    await pauseBake(db, second.id);
    worker = spawnWorker(address);
    const helper = spawnWorker(address);
    // What is paused stays so, also where workers have nothing else to do.
    await bringIn('Meanwhile.glb', await bakedRoom());
    expect((await bakesOf(db, disturbed)).atWork).toMatchObject({ id: second.id, state: 'paused', secondsLeft: null });
    await continueBake(db, second.id);
    await continueBake(db, second.id);
    await killAt(0.35);
    worker = spawnWorker(address);
    const after = await finished(disturbed, second.id);
    helper.kill('SIGTERM');
    await gone(helper);
    expect(after.maps).toEqual(undisturbed.maps);
    expect(after.noise).toEqual(undisturbed.noise);
    // Nothing but the walls' own glow shines in a closed room.
    expect(after.noise!.sources.map(({ source }) => source)).toEqual(['glow']);
    expect(after.noise!.texels).toBeGreaterThan(5000);
    expect(await countOf(db, 'bake_jobs')).toBe(0);
    expect(await db.selectFrom('stems').select('part').where('coarse', '=', true).execute()).toEqual([]);
  });

  it('shows a coarse look first, and traces only what is stale the next time', async () => {
    const id = await newRoom('Partly', { texelsPerM: 6 });
    const first = await startBake(id);
    const look = await until(async () => {
      const { atWork } = await bakesOf(db, id);
      return atWork !== null && atWork.maps.length > 0 && atWork;
    }, 'the coarse look');
    expect(look.coarse).toBe(true);
    const before = await finished(id, first.id);
    expect(before.coarse).toBe(false);
    expect(look.maps[0]!.width).toBeLessThan(before.maps[0]!.width / 4);

    const { revision, rig } = await latestRig(db, id);
    const circuits = [{ id: 'c', name: 'C', rule: { by: 'on' as const }, bounce: 1, flicker: null }];
    const lamps = [{ ...lampWith({ id: 'new', at: [0, 1.5, 0] }), circuitId: 'c' }];
    await saveRig(db, id, revision, { ...rig, circuits, lamps }, 'a lamp');
    const second = await startBake(id);
    expect((await bakesOf(db, id)).atWork).toMatchObject({ id: second.id, traced: ['circuit c'] });
    const after = await finished(id, second.id);
    const { 'circuit c': added, ...kept } = after.maps[0]!.parts;
    expect(added).toEqual([expect.stringMatching(/^[0-9a-f]{64}$/)]);
    expect(kept).toEqual(before.maps[0]!.parts);
    expect(after.maps[0]!.cover).toBe(before.maps[0]!.cover);
  });

  it('has what is seen traced first, and shows it band by band while the rest is', async () => {
    const id = await newRoom('Seen', { texelsPerM: 12, maxMapSize: 128, bounces: 3, quality: 'fair' });
    const bake = await startBake(id);
    await lookFrom(db, bake.id, { eye: [0, 1, 0], target: [0, -2, 0.001], fovDeg: 50 });
    const partly = await until(
      async () => {
        const { atWork } = await bakesOf(db, id);
        return atWork?.step === 'gather' && atWork.bandCount.done > 0 && atWork;
      },
      'the first band',
      undefined,
      20,
    );
    expect(partly.bandCount.all).toBeGreaterThan(partly.bandCount.done);
    const surfaces = await surfacesOf(partly.levelHash);
    // The floor fills the picture: its map comes first.
    const floor = surfaces.mapOf[surfaces.objectOf.findIndex((o) => surfaces.objects[o] === 'floor')];
    expect(new Set(surfaces.mapOf).size).toBeGreaterThan(1);
    expect(partly.bands.map((b) => b.map)).toContain(floor);
    for (const { hash, texels, width, height, map } of partly.bands) {
      expect({ width, height }).toEqual(surfaces.maps[map]);
      const band = readBand(new Uint8Array(await readBlob(db, hash)), texels, tracedLayers(partly.plan).length)!;
      expect([...band.at].every((texel) => texel < width * height)).toBe(true);
      expect(band.valid.some((v) => v === 1)).toBe(true);
    }
    const line = await db
      .selectFrom('bake_jobs')
      .select(['job', 'place_in_line'])
      .where('bake_id', '=', bake.id)
      .where('step', '=', 'gather')
      .orderBy('place_in_line')
      .execute();
    expect(new Set(line.map((l) => l.place_in_line)).size).toBe(line.length);
    expect((line[0]!.job as PlannedTile).map).toBe(floor);
    const after = await finished(id, bake.id);
    expect(after.bands).toEqual([]);
    // Where it was looked at from changes nothing of the light.
    const calm = await newRoom('Unseen', { texelsPerM: 12, maxMapSize: 128, bounces: 3, quality: 'fair' });
    expect((await finished(calm, (await startBake(calm)).id)).maps).toEqual(after.maps);
    const atWork = partly.bands.map((b) => b.hash);
    expect(await db.selectFrom('blobs').select('hash').where('hash', 'in', atWork).execute()).toEqual([]);
  });

  it('that an earlier version planned by other layers is planned again, and ends as any', async () => {
    const settings = { texelsPerM: 8, bounces: 3 };
    const [calm, other] = [await newRoom('Of now', settings), await newRoom('Of before', settings)];
    const wanted = await finished(calm, (await startBake(calm)).id);
    const { id } = await startBake(other);
    const rows = () =>
      db.selectFrom('bake_jobs').select(['position', 'job']).where('bake_id', '=', id).where('step', '=', 'finish').execute();
    const planned = await until(async () => ((await rows()).length > 0 ? rows() : null), 'the plan', 60, 20);
    // Before, the sky's bounce was not kept apart, and the glow was one layer.
    for (const { position, job } of planned) {
      const { map, pieces } = job as FinishJob;
      const before = pieces
        .filter((p) => p.key !== SKY_BOUNCE_KEY)
        .map((p) => ({
          ...p,
          layer: p.key === 'sky' ? p.layer : p.layer - (p.key === 'glow' ? 5 : 6),
          layers: p.key === 'glow' ? 1 : p.layers,
        }));
      await db
        .updateTable('bake_jobs')
        .set({ job: JSON.stringify({ map, pieces: before }) })
        .where('bake_id', '=', id)
        .where('step', '=', 'finish')
        .where('position', '=', position)
        .execute();
    }
    const after = await finished(other, id);
    expect(Object.keys(after.maps[0]!.parts)).toContain(`${COMPACT}sky`);
    expect(after.maps.map((m) => m.parts)).toEqual(wanted.maps.map((m) => m.parts));
  });

  it('of some objects leaves the others as they were, and says of them what is stale', async () => {
    const id = await newRoom('Some');
    const first = await startBake(id);
    const before = await finished(id, first.id);
    await setBake(id, { bounces: 3 });
    const bake = await requestBake(db, id, { only: ['floor'] });
    const after = await finished(id, bake.id);
    expect(after.only).toEqual(['floor']);
    expect(after.plan.left?.reasons).toEqual(['outside of floor: the quality or bounces changed']);
    const { plan } = after;
    const stemsOf = ({ maps }: typeof after) => wholeStems(maps, plan);
    const [was, is] = [await stemsOf(before), await stemsOf(after)];
    // What has bounced of it: its straight light is without noise.
    const glow = (stems: typeof was) =>
      stems.layers.subarray((GLOW_LAYER + 1) * stems.at.length * LAYER, (GLOW_LAYER + 2) * stems.at.length * LAYER);
    let [same, other] = [0, 0];
    glow(was).forEach((v, i) => (Math.abs(v - glow(is)[i]!) <= v * 1e-3 ? same++ : other++));
    // One of six sides, of whose numbers the fourth stays nought.
    expect(other / (same + other)).toBeGreaterThan(0.08);
    expect(other / (same + other)).toBeLessThan(0.2);
    await requestBake(db, id, { only: ['attic'] });
    await until(async () => (await bakesOf(db, id)).failed?.error?.includes('None of the objects') ?? false, 'the refusal');
  });

  it('that was done before is brought back at once', async () => {
    const id = await newRoom('Again');
    const first = await startBake(id);
    await finished(id, first.id);
    expect(await requestBake(db, id)).toEqual({ id: first.id, fresh: false });
  });

  it('at another density lays the level out anew, and shows that layout when it is done', async () => {
    const id = await newRoom('Denser');
    const before = await openProject(db, id);
    await setBake(id, { texelsPerM: 3, maxMapSize: 128, quality: 'rough', bounces: 8 });
    const bake = await startBake(id);
    const done = await finished(id, bake.id);
    const after = await openProject(db, id);
    expect(done.levelId).toBe(after.level.id);
    expect(after.level.id).not.toBe(before.level.id);
    expect(after.level.summary.lightmaps.texelsPerM).toBeCloseTo(3, 0);
    expect(await db.selectFrom('levels').select('id').where('project_id', '=', id).execute()).toHaveLength(1);
  });

  it('can be cancelled, lets go of what it had gathered, and makes room for the next', async () => {
    const id = await newRoom('Cancelled', { quality: 'fine', texelsPerM: 12 });
    const bake = await startBake(id);
    await expect(requestBake(db, id)).rejects.toMatchObject({ code: 'conflict' });
    await until(async () => ((await bakesOf(db, id)).atWork?.share ?? 0) > 0, 'its first job');
    await cancelBake(db, bake.id);
    expect(await bakesOf(db, id)).toMatchObject({ atWork: null, done: null, failed: null, workers: 1 });
    expect(await db.selectFrom('bake_jobs').select('position').where('bake_id', '=', bake.id).execute()).toHaveLength(0);
    await setBake(id, { texelsPerM: 2, maxMapSize: 64, quality: 'rough', bounces: 2 });
    await finished(id, (await startBake(id)).id);
  });

  it('goes with its project, and nothing of it stays', async () => {
    const rows = await db.selectFrom('projects').select('id').execute();
    for (const { id } of rows) {
      await deleteProject(db, id);
      await eraseProject(db, id);
    }
    await db.deleteFrom('intakes').execute();
    const tables = ['levels', 'bakes', 'stems', 'bake_jobs', 'blobs', 'blob_chunks'] as const;
    const left = async () => Promise.all(tables.map(async (table) => [table, await countOf(db, table)] as const));
    // What the worker has in its hands just then finds its bake gone, and lets go of what it was about to store.
    await until(async () => (await left()).every(([, count]) => count === 0), 'the worker to let go', 30).catch(() => undefined);
    expect(await left()).toEqual(tables.map((table) => [table, 0]));
  });
});
