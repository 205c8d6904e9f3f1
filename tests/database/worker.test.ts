import { readFile } from 'node:fs/promises';
import { gunzipSync } from 'node:zlib';
import type PgBoss from 'pg-boss';
import { LAYER, fromHalves, readStems } from '../../core/bake';
import { type defaultRig } from '../../core/rig';
import { readBlob, streamOf, type Db } from '../../server/data';
import {
  bakesOf,
  cancelBake,
  deleteProject,
  latestRig,
  modelsOfProject,
  openProject,
  readIntake,
  receiveLevel,
  requestBake,
  saveRig,
} from '../../server/stores';
import { openQueue, send } from '../../server/work';
import { countOf, freshDatabase } from '../lib/database';
import { lampWith } from '../lib/lamps';
import { quadLevel, room, type Quad } from '../lib/level';
import { until } from '../lib/wait';
import { gone, spawnWorker } from '../lib/worker';
import type { ChildProcess } from 'node:child_process';

let db: Db;
let address: string;
let drop: () => Promise<void>;
let boss: PgBoss;
let worker: ChildProcess;

beforeAll(async () => {
  ({ db, address, drop } = await freshDatabase());
  boss = await openQueue(address);
  worker = spawnWorker(address);
});
afterAll(async () => {
  worker.kill('SIGTERM');
  await gone(worker);
  await boss.stop({ graceful: false });
  await drop();
});

async function bringIn(name: string, bytes: Uint8Array, into: string | null = null, becomes: 'level' | 'model' = 'level') {
  const { id } = await receiveLevel(db, name, streamOf(bytes), into, becomes);
  await send(boss, 'intake', { intakeId: id });
  return until(async () => {
    const view = await readIntake(db, id);
    return (view.state === 'done' || view.state === 'failed') && view;
  }, `the intake of ${name}`);
}

/** A room of 4 m that bakes in some twenty seconds: time enough to be disturbed. */
const bakedRoom = () => quadLevel(room(0, 4, { albedo: 0.6, glow: 50 }));

async function newRoom(name: string, change: Partial<ReturnType<typeof defaultRig>['bake']> = {}): Promise<string> {
  const { projectId } = await bringIn(`${name}.glb`, await bakedRoom());
  await setBake(projectId!, { texelsPerM: 6, maxMapSize: 256, quality: 'rough', bounces: 32, ...change });
  return projectId!;
}

async function setBake(projectId: string, bake: ReturnType<typeof defaultRig>['bake']) {
  const { revision, rig } = await latestRig(db, projectId);
  await saveRig(db, projectId, revision, { ...rig, bake }, 'bake settings');
}

async function startBake(projectId: string) {
  const bake = await requestBake(db, projectId);
  if (bake.fresh) await send(boss, 'bake-plan', { bakeId: bake.id });
  return bake;
}

const finished = (projectId: string, bakeId: string, seconds = 120) =>
  until(
    async () => {
      const { done } = await bakesOf(db, projectId);
      return done?.id === bakeId && done;
    },
    'the bake',
    seconds,
  );

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

describe('a bake', () => {
  it('ends in the same stems whether or not its worker is killed in the middle', async () => {
    const [calm, disturbed] = [await newRoom('Calm', { quality: 'fair' }), await newRoom('Disturbed', { quality: 'fair' })];
    const first = await startBake(calm);
    const undisturbed = await finished(calm, first.id);

    const second = await startBake(disturbed);
    await until(async () => {
      const { atWork } = await bakesOf(db, disturbed);
      return atWork !== null && atWork.share > 0.1;
    }, 'the bake to be under way');
    worker.kill('SIGKILL');
    await gone(worker);
    const { atWork } = await bakesOf(db, disturbed);
    expect(atWork).toMatchObject({ id: second.id, state: 'running' });
    worker = spawnWorker(address);
    const after = await finished(disturbed, second.id);
    expect(after.maps).toEqual(undisturbed.maps);
    expect(await countOf(db, 'bake_jobs')).toBe(0);
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
    expect(await bakesOf(db, id)).toEqual({ atWork: null, done: null, failed: null });
    expect(await db.selectFrom('bake_jobs').select('position').where('bake_id', '=', bake.id).execute()).toHaveLength(0);
    await setBake(id, { texelsPerM: 2, maxMapSize: 64, quality: 'rough', bounces: 2 });
    await finished(id, (await startBake(id)).id);
  });

  it('goes with its project, and nothing of it stays', async () => {
    const rows = await db.selectFrom('projects').select('id').execute();
    for (const { id } of rows) await deleteProject(db, id);
    await db.deleteFrom('intakes').execute();
    for (const table of ['levels', 'bakes', 'stems', 'bake_jobs', 'blobs', 'blob_chunks'] as const)
      expect([table, await countOf(db, table)]).toEqual([table, 0]);
  });
});

describe('a model of a fixture', () => {
  const lid: Quad = { name: 'Lid', corner: [-2.1, 0, -2.1], along: [0, 0, 4.2], up: [4.2, 0, 0], albedo: 0, doubleSided: true };

  it('is kept for its project, shades what is baked where its copies stand, and goes with the project', async () => {
    const { projectId } = await bringIn(
      'Yard.glb',
      await quadLevel([{ name: 'Ground', corner: [-2, 0, -2], along: [0, 0, 4], up: [4, 0, 0], albedo: 0 }]),
    );
    const skyOf = async () => {
      const { id } = await startBake(projectId!);
      const { maps } = await finished(projectId!, id);
      const { layers } = fromHalves(readStems(gunzipSync(await readBlob(db, maps[0]!.hash))));
      const lit = layers.filter((_, i) => i % LAYER === 0 && i < maps[0]!.width * maps[0]!.height * LAYER && layers[i + 3] === 1);
      return lit.reduce((sum, v) => sum + v, 0) / lit.length;
    };
    await setBake(projectId!, { texelsPerM: 4, maxMapSize: 256, quality: 'rough', bounces: 4 });
    const open = await skyOf();
    const bad = await bringIn('Dense.glb', new TextEncoder().encode('no model'), projectId, 'model');
    expect(bad).toMatchObject({ state: 'failed' });
    expect(await modelsOfProject(db, projectId!)).toEqual([]);
    await bringIn('Lid.glb', await quadLevel([lid]), projectId, 'model');
    const [model] = await modelsOfProject(db, projectId!);
    expect(model).toMatchObject({ name: 'Lid', triangles: 2 });
    const { revision, rig } = await latestRig(db, projectId!);
    await saveRig(
      db,
      projectId!,
      revision,
      {
        ...rig,
        fixtures: [
          {
            id: 'lid',
            name: 'Lid',
            lamps: [lampWith({ output: { by: 'lumens', lumens: 0 } })],
            model: { from: 'file', modelId: model!.id },
          },
        ],
        placed: [{ id: 'lid-1', name: 'Lid 1', fixtureId: 'lid', at: [0, 0.4, 0], turnDeg: 0, level: 1, circuitId: null }],
      },
      'a lid over the yard',
    );
    // Seen from the ground's middle, a square lid of 4.2 m at 0.4 m leaves about a twentieth of an even sky; at its rim far more.
    expect(await skyOf()).toBeLessThan(open * 0.45);
    await deleteProject(db, projectId!);
    expect(await countOf(db, 'models')).toBe(0);
    await expect(readBlob(db, model!.hash)).rejects.toThrow('no such file');
  }, 120_000);
});
