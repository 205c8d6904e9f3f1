import { bakeWhole, cueWith, planWith, uniformSky } from '../../../tests/lib/bake';
import { quadSurfaces } from '../../../tests/lib/level';
import { defaultRig, resolveCue } from '../../rig';
import { directionFromAngles, type Vec3 } from '../../units';
import { directionGains, mixTexels, type BakedSun } from '..';

const sun: BakedSun = { azimuthDeg: 120, elevationDeg: 40, discDeg: 0.53, cues: ['cue'] };
const plan = planWith({ suns: [sun] });
/** Where light comes from on the middle of an open ground, on the mean. */
async function mainDirection(skyLuminance: number, illuminanceLux: number): Promise<Vec3> {
  const surfaces = await quadSurfaces([{ name: 'Ground', corner: [-4, 0, -4], along: [0, 0, 8], up: [8, 0, 0], albedo: 0 }], {
    texelsPerM: 4,
    maxMapSize: 256,
  });
  const [stems] = await bakeWhole(surfaces, plan);
  const cue = cueWith({ sun: { ...sun, illuminanceLux }, sky: uniformSky(skyLuminance) });
  const mixed = mixTexels(stems!, directionGains(resolveCue(defaultRig(), cue), plan));
  const sum: Vec3 = [0, 0, 0];
  for (let i = 0; i < mixed.length; i += 4) for (let c = 0; c < 3; c++) sum[c]! += mixed[i + c]!;
  const length = Math.hypot(...sum);
  return sum.map((v) => v / length) as Vec3;
}

describe('where light comes from', () => {
  it('is the sun where there is nothing else, and straight above under an even sky', async () => {
    const towards = directionFromAngles(sun.azimuthDeg, sun.elevationDeg);
    (await mainDirection(0, 50_000)).forEach((v, c) => expect(v).toBeCloseTo(towards[c]!, 3));
    (await mainDirection(1000, 0)).forEach((v, c) => expect(Math.abs(v - [0, 1, 0][c]!)).toBeLessThan(0.02));
  });
});
