import { gatherWhole, planWith } from '../../../tests/lib/bake';
import { quadSurfaces, room } from '../../../tests/lib/level';
import { FIRST_SUN_LAYER, NOISE_KINDS, bakeNoise, noiseOfTile, readColumn, sourceName } from '..';
import { defaultRig } from '../../rig';

/** What paths brought to a room whose ceiling is open, with its walls lit by a cue's sun, by a seed. */
async function gathered(seed: number, noise = 1) {
  const surfaces = await quadSurfaces(
    room(0, 3, { albedo: 0.5 }).filter((q) => q.name !== 'ceiling'),
    { texelsPerM: 4, maxMapSize: 128 },
  );
  const plan = planWith({
    suns: [{ cues: ['noon'], azimuthDeg: 150, elevationDeg: 50, discDeg: 0.53 }],
    paths: 32,
    noise,
    most: 1,
    bounces: 4,
    seed,
  });
  const { tiles } = await gatherWhole(surfaces, plan);
  /** Luminance of a grey layer, texel by texel. */
  const layer = (k: number) =>
    tiles.flatMap(({ at, light, paths }) => {
      const rgb = readColumn(light, k);
      return Array.from(at.keys(), (i) => rgb[i * 3]!).filter((_, i) => paths[i]! > 0);
    });
  return {
    sky: layer(0),
    sun: layer(FIRST_SUN_LAYER),
    tiles,
    report: bakeNoise(
      plan,
      tiles.map((tile) => noiseOfTile(surfaces, plan, tile)),
    ),
  };
}

describe('the noise of a bake by source', () => {
  it('is what two bakes by other samples differ by', async () => {
    const [a, b] = [await gathered(0), await gathered(1)];
    expect(a.report.sources.map((r) => r.source)).toEqual(['sky', 'sun']);
    for (const source of ['sky', 'sun'] as const) {
      const [one, other] = [a[source], b[source]];
      const mean = one.reduce((sum, v, i) => sum + (v + other[i]!) / 2, 0) / one.length;
      const square = one.reduce((sum, v, i) => sum + (v - other[i]!) ** 2 / 2, 0) / one.length;
      const { noise } = a.report.sources.find((r) => r.source === source)!;
      expect(a.report.texels).toBe(one.length);
      expect(noise / (Math.sqrt(square) / mean)).toBeGreaterThan(0.8);
      expect(noise / (Math.sqrt(square) / mean)).toBeLessThan(1.25);
    }
  });

  it('names where light of a kind is noisier than is allowed, with a place of the worst', async () => {
    const { tiles, report } = await gathered(0, 0.15);
    const overOf = (kind: number) =>
      tiles.flatMap(({ paths, noise }) =>
        Array.from(paths, (p, i) => (p > 0 ? noise[i * NOISE_KINDS.length + kind]! : 0)).filter((v) => v > 0.15),
      );
    const [sky, suns] = [overOf(0), overOf(1)];
    expect(Math.min(sky.length, suns.length)).toBeGreaterThan(20);
    expect(report).toMatchObject({ allowed: 0.15, over: { sky: sky.length, suns: suns.length, lamps: 0 } });
    expect(report.objects.reduce((sum, o) => sum + o.over.suns, 0)).toBe(suns.length);
    expect(Math.max(...report.objects.map((o) => o.noise))).toBeCloseTo(Math.max(...sky, ...suns), 6);
    for (const { object, texels, over, atM } of report.objects) {
      expect(Math.max(over.sky, over.suns)).toBeLessThanOrEqual(texels);
      const [axis, at] = { floor: [1, 0], north: [2, 0], south: [2, 3], west: [0, 0], east: [0, 3] }[object]!;
      expect(atM[axis!]).toBeCloseTo(at!, 5);
    }
    expect((await gathered(0, 9)).report).toMatchObject({ over: { sky: 0, suns: 0, lamps: 0 }, objects: [] });
  });

  it('is told by the names of cues and circuits', () => {
    const { cues } = defaultRig();
    const rig = { cues, circuits: [{ id: 'c', name: 'Street', rule: { by: 'on' as const }, bounce: 1, flicker: null }], glows: [] };
    const name = (source: 'sky' | 'sun' | 'circuit', ...ids: string[]) => sourceName({ source, ids, noise: 0 }, rig);
    expect(name('sky')).toBe('Sky');
    expect(name('sun', cues[0]!.id, cues[1]!.id)).toBe(`Sun bounce, ${cues[0]!.name}, ${cues[1]!.name}`);
    expect([name('circuit', 'c'), name('circuit'), name('circuit', 'gone')]).toEqual([
      'Lamp bounce, Street',
      'Lamp bounce',
      'Lamp bounce, deleted',
    ]);
  });
});
