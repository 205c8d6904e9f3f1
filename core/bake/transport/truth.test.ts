import { bakeWhole, cueWith, mean, uniformSky } from '../../../tests/lib/bake';
import { lampWith } from '../../../tests/lib/lamps';
import { quadSurfaces, room, type Quad } from '../../../tests/lib/level';
import { allOf, borderMask, deviation, lightBySource } from '../../../tests/truth/compareTruth';
import { comparedMask, truthSurfaces } from '../../../tests/truth/levels';
import { traceTruth, type TruthOptions } from '../../../tests/truth/pathTracer';
import { truthRig } from '../../../tests/truth/rigs';
import type { Surfaces } from '../../level';
import { defaultRig, resolveCue, type Lighting } from '../../rig';
import { DEG } from '../../units';
import { coverTexels, createScene, planBake } from '..';

const ground: Quad = { name: 'ground', corner: [-2, 0, -2], along: [0, 0, 4], up: [4, 0, 0], albedo: 0.5 };
const texelsOf = (surfaces: Surfaces) => coverTexels(surfaces, { map: 0, top: 0, bottom: surfaces.maps[0]!.height });
const trace = (surfaces: Surfaces, lighting: Lighting, options: Partial<TruthOptions> = {}) =>
  traceTruth(createScene(surfaces), texelsOf(surfaces), lighting, { paths: 256, bounces: 64, seed: 3, ...options });

describe('the path tracer that bakes are held against', () => {
  it('has the light of an even sky and of a sun on open ground: L, and E sin(elevation) / pi', async () => {
    const surfaces = await quadSurfaces([ground], { texelsPerM: 2, maxMapSize: 64 });
    const sun = { azimuthDeg: 140, elevationDeg: 30, illuminanceLux: 100_000, colorK: 6504, discDeg: 0.53 };
    const { sky, sun: direct, sunBounce } = trace(surfaces, resolveCue(defaultRig(), cueWith({ sun, sky: uniformSky(1000) })));
    for (const v of sky.mean) expect(v / 1000).toBeCloseTo(1, 6);
    for (const v of direct.mean) expect(v / ((100_000 * Math.sin(30 * DEG)) / Math.PI)).toBeCloseTo(1, 2);
    expect(Math.max(...sunBounce.mean)).toBe(0);
  });

  it('fills a white closed room with a lamp to E = flux / area / (1 - albedo)', async () => {
    const surfaces = await quadSurfaces(room(0, 2, { albedo: 0.5 }), { texelsPerM: 3, maxMapSize: 64 });
    const low = surfaces.positions.reduce((a, b) => Math.min(a, b));
    const side = surfaces.positions.reduce((a, b) => Math.max(a, b)) - low;
    const lamp = lampWith({ at: [low + side / 2, low + side / 2, low + side / 2], color: { by: 'hex', hex: '#ffffff' } });
    const rig = { ...defaultRig(), lamps: [lamp] };
    const { lamps, lampBounce } = trace(surfaces, resolveCue(rig, rig.cues[0]!));
    const lux = 1000 / (6 * side * side);
    // Texels count by how much of them is surface.
    const { start } = texelsOf(surfaces);
    const weights = Array.from(lamps.mean, (_, i) => start[i + 1]! - start[i]!);
    const level = (light: Float64Array) => mean(weights.map((w, i) => w * light[i]!)) / mean(weights);
    expect(Math.abs((level(lamps.mean) * Math.PI) / lux - 1)).toBeLessThan(0.03);
    expect(Math.abs(((level(lamps.mean) + level(lampBounce.mean)) * Math.PI) / (lux / 0.5) - 1)).toBeLessThan(0.03);
  });

  it('tells its own error: two seeds differ as it says', async () => {
    const surfaces = await quadSurfaces(room(0, 2, { albedo: 0.5 }).slice(0, 5), { texelsPerM: 3, maxMapSize: 64 });
    const lighting = resolveCue(defaultRig(), cueWith({ sun: { illuminanceLux: 0 }, sky: uniformSky(1000) }));
    const [a, b] = [trace(surfaces, lighting).sky, trace(surfaces, lighting, { seed: 4 }).sky];
    const off = Array.from(a.mean, (v, i) => (v - b.mean[i]!) / Math.hypot(a.error[i]!, b.error[i]!));
    expect(Math.sqrt(mean(off.map((v) => v * v)))).toBeCloseTo(1, 0);
  });
});

describe('a bake at fair', () => {
  it('of an open bowl agrees with it: all light within 1 %, direct sun within a half', async () => {
    const rig = truthRig('bowl', 55);
    const surfaces = await truthSurfaces('bowl', 4);
    const plan = planBake(rig);
    const lighting = resolveCue(rig, rig.cues[0]!);
    const texels = texelsOf(surfaces);
    const light = lightBySource((await bakeWhole(surfaces, plan))[0]!, plan, lighting);
    const border = borderMask(surfaces, texels, 0);
    const inside = comparedMask(surfaces, texels, 'bowl').map((v, i) => v & (1 - border[i]!));
    const only = Array.from(texels.at.keys()).filter((i) => inside[i] && i % 9 === 0);
    const truth = trace(surfaces, lighting, { paths: 512, bounces: plan.bounces, only });
    expect(deviation(light.all, allOf(truth), inside)!.texels).toBeGreaterThan(100);
    expect(deviation(light.sun, truth.sun, inside)!.rms).toBeLessThan(0.005);
    expect(deviation(light.all, allOf(truth), inside)!.rms).toBeLessThan(0.01);
    expect(Math.abs(deviation(light.all, allOf(truth), inside)!.bias)).toBeLessThan(0.01);
    expect(deviation(light.sky, truth.sky, inside)!.rms).toBeLessThan(0.05);
  });
});
