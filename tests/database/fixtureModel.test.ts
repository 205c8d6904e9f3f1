import type { ChildProcess } from 'node:child_process';
import { LAYER } from '../../core/bake';
import { readBlob, type Db } from '../../server/data';
import { deleteProject, eraseProject, latestRig, modelsOfProject, saveRig } from '../../server/stores';
import { countOf, freshDatabase } from '../lib/database';
import { lampWith } from '../lib/lamps';
import { quadLevel, type Quad } from '../lib/level';
import { projectsIn } from '../lib/projects';
import { gone, spawnWorker } from '../lib/worker';

let db: Db;
let drop: () => Promise<void>;
let worker: ChildProcess;
let { bringIn, setBake, startBake, finished, wholeStems } = {} as ReturnType<typeof projectsIn>;

beforeAll(async () => {
  const fresh = await freshDatabase();
  ({ db, drop } = fresh);
  ({ bringIn, setBake, startBake, finished, wholeStems } = projectsIn(db));
  worker = spawnWorker(fresh.address);
});
afterAll(async () => {
  worker.kill('SIGTERM');
  await gone(worker);
  await drop();
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
      const { maps, plan } = await finished(projectId!, id);
      const { at, layers } = await wholeStems(maps, plan);
      const lit = layers.filter((_, i) => i % LAYER === 0 && i < at.length * LAYER && layers[i + 3] === 1);
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
            without: [],
          },
        ],
        placed: [
          {
            id: 'lid-1',
            name: 'Lid 1',
            fixtureId: 'lid',
            at: [0, 0.4, 0],
            turnDeg: 0,
            tiltDeg: 0,
            rollDeg: 0,
            object: null,
            level: 1,
            circuitId: null,
          },
        ],
      },
      'a lid over the yard',
    );
    // Seen from the ground's middle, a square lid of 4.2 m at 0.4 m leaves about a twentieth of an even sky; at its rim far more.
    expect(await skyOf()).toBeLessThan(open * 0.45);
    await deleteProject(db, projectId!);
    await eraseProject(db, projectId!);
    expect(await countOf(db, 'models')).toBe(0);
    await expect(readBlob(db, model!.hash)).rejects.toThrow('no such file');
  });
});
