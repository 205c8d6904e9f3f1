import { bakeWhole, planWith, mean } from '../../../tests/lib/bake';
import { quadSurfaces, type Quad } from '../../../tests/lib/level';
import { defaultRig } from '../../rig';
import {
  LAYER,
  bakeChange,
  bakeLevel,
  createScene,
  fromHalves,
  memoryExecutor,
  planBake,
  runJob,
  takeLayers,
  toHalves,
  type FinishJob,
  type HalfStems,
  type JobInputs,
  type MapStems,
  type Piece,
  type RunJob,
  type TileStems,
} from '..';
import { objectMask } from './objectMask';
import { coverTexels } from '../texels/coverTexels';

/** The layers of some pieces, one after another. */
function takeStems(stems: HalfStems, pieces: readonly Piece[]): HalfStems {
  const first = pieces[0]?.layer ?? 0;
  return {
    ...stems,
    ...takeLayers(
      stems,
      first,
      pieces.reduce((sum, p) => sum + p.layers, 0),
    ),
  };
}

const quad = (name: string, x: number): Quad => ({ name, corner: [x, 0, -2], along: [0, 0, 4], up: [4, 0, 0], albedo: 0.5 });

describe('a bake of some objects', () => {
  it('traces those as a whole bake does, follows no path from the others, and keeps their light to the bit', async () => {
    const surfaces = await quadSurfaces(
      [quad('Left', -6), quad('Right', 2), { ...quad('Roof', 2), corner: [2, 1, -2], along: [4, 0, 0], up: [0, 0, 4] }],
      { texelsPerM: 4, maxMapSize: 256 },
    );
    const plan = planWith({ paths: 32 });
    const [before] = await bakeWhole(surfaces, plan);
    // What was there before is marked, so that it is known again.
    const marked: MapStems = { ...before!, layers: before!.layers.map((v, i) => (i % LAYER === 3 ? v : v + 1)) };
    const scene = createScene(surfaces);
    const some = { ...plan, only: ['Right'] };
    const paths: number[] = [];
    const halves = toHalves(marked);
    const run = ((step, job, inputs) => {
      const before = takeStems(halves, (job as FinishJob).pieces ?? []);
      const made = runJob(
        scene,
        some,
        step,
        job,
        (step === 'finish' ? { ...(inputs as JobInputs['finish']), before } : inputs) as JobInputs[typeof step],
      );
      if (step === 'gather') paths.push(...(made as TileStems).paths);
      return Promise.resolve(made);
    }) as RunJob;
    const executor = memoryExecutor(surfaces, some, run);
    await bakeLevel(executor);
    const after = fromHalves(executor.stems()[0]!);
    const region = objectMask(surfaces, coverTexels(surfaces, { map: 0, top: 0, bottom: surfaces.maps[0]!.height }), some);
    expect(mean(Array.from(region))).toBeGreaterThan(0.2);
    expect(mean(Array.from(region))).toBeLessThan(0.5);
    const kept = fromHalves(halves);
    region.forEach((inside, i) => {
      expect(paths[i]! > 0).toBe(inside === 1);
      const from = inside ? before! : kept;
      expect([i, ...after.layers.subarray(i * LAYER, i * LAYER + 3)]).toEqual([i, ...from.layers.subarray(i * LAYER, i * LAYER + 3)]);
    });
  });

  it('may follow one whose parts it all finds there, and remembers what is stale beside it', () => {
    const rig = defaultRig();
    const { texelsPerM, maxMapSize, densities } = rig.bake;
    const done = { plan: planBake(rig), layout: { texelsPerM, maxMapSize, densities } };
    const finer = { ...rig, bake: { ...rig.bake, quality: 'fine' as const } };
    expect(bakeChange(done, rig).some).not.toBeNull();
    expect(bakeChange(done, finer).some).toMatchObject({ noise: planBake(finer).noise });
    expect(bakeChange(done, { ...rig, bake: { ...rig.bake, texelsPerM: 8 } }).some).toBeNull();
    const left = { reasons: ['outside of Wall: the quality or bounces changed'], stale: ['sky', 'glow'] };
    const change = bakeChange({ ...done, plan: { ...planBake(finer), left } }, finer);
    expect(change.reasons).toEqual(left.reasons);
    expect(change.trace.partly).toBeUndefined();
    expect(change.plan.left).toBeUndefined();
    const glow = bakeChange({ ...done, plan: { ...planBake(rig), left: { reasons: ['outside of Wall: x'], stale: ['glow'] } } }, rig);
    expect(glow.stale).toEqual(['glow']);
  });
});
