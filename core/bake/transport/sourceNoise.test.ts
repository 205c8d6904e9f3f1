import { planWith } from '../../../tests/lib/bake';
import { quadSurfaces, room } from '../../../tests/lib/level';
import { bakeLevel, createNoiseTally, createScene, memoryExecutor, runJob, type RunJob, type TileStems } from '..';

/** What paths brought to a room whose ceiling is open, with its walls lit by a cue's sun, by a seed. */
async function gathered(seed: number) {
  const surfaces = await quadSurfaces(
    room(0, 3, { albedo: 0.5 }).filter((q) => q.name !== 'ceiling'),
    { texelsPerM: 4, maxMapSize: 128 },
  );
  const scene = createScene(surfaces);
  const plan = planWith({
    suns: [{ cues: ['noon'], azimuthDeg: 150, elevationDeg: 50, discDeg: 0.53 }],
    paths: 32,
    most: 1,
    bounces: 4,
    seed,
  });
  const tiles: TileStems[] = [];
  const tally = createNoiseTally(plan);
  const run = ((step, job, inputs) => {
    const made = runJob(scene, plan, step, job, inputs);
    if (step === 'gather') {
      tiles.push(made as TileStems);
      tally.add(made as TileStems);
    }
    return Promise.resolve(made);
  }) as RunJob;
  await bakeLevel(memoryExecutor(surfaces, plan, run));
  /** Luminance of a grey layer, texel by texel. */
  const layer = (k: number) =>
    tiles.flatMap(({ at, values, paths }) =>
      Array.from(at.keys())
        .filter((i) => paths[i]! > 0)
        .map((i) => values[(i * values.length) / at.length + k * 3]!),
    );
  return { sky: layer(0), sun: layer(26), report: tally.report() };
}

describe('the noise of a bake by source', () => {
  it('is what two bakes by other samples differ by', async () => {
    const [a, b] = [await gathered(0), await gathered(1)];
    expect(a.report.map((r) => r.source)).toEqual(['sky', 'sun']);
    for (const source of ['sky', 'sun'] as const) {
      const [one, other] = [a[source], b[source]];
      const mean = one.reduce((sum, v, i) => sum + (v + other[i]!) / 2, 0) / one.length;
      const square = one.reduce((sum, v, i) => sum + (v - other[i]!) ** 2 / 2, 0) / one.length;
      const { noise, texels } = a.report.find((r) => r.source === source)!;
      expect(texels).toBe(one.length);
      expect(noise / (Math.sqrt(square) / mean)).toBeGreaterThan(0.8);
      expect(noise / (Math.sqrt(square) / mean)).toBeLessThan(1.25);
    }
  });
});
