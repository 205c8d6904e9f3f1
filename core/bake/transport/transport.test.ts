import { bakeWhole, cueWith, layerAt, litTexels, mean, planWith, uniformSky } from '../../../tests/lib/bake';
import { quadSurfaces, room, type Quad } from '../../../tests/lib/level';
import { defaultRig, resolveCue } from '../../rig';
import { aureoleBasis, skyRadiance } from '../../sky';
import { DEG, type Vec3 } from '../../units';
import { FIRST_SUN_LAYER, GLOW_LAYER, LAYER, aureoleLayer, aureolesOf, planBake, type BakePlan, type MapStems } from '..';

const LAYOUT = { texelsPerM: 4, maxMapSize: 256 };
/** E/pi (green) of the glow in every gathered texel. */
const glow = (stems: MapStems): number[] => {
  const bounced = layerAt(stems, GLOW_LAYER + 1);
  return layerAt(stems, GLOW_LAYER).map((t, i) => t.value + bounced[i]!.value);
};

/** Stems of which suns and circuits alone were traced do not say which texels were gathered: here all were. */
const withFlags = ({ layers, at }: MapStems) => layers.map((v, i) => (i < at.length * LAYER && i % LAYER === 3 ? 1 : v));

const ground = (size: number, albedo = 0.5): Quad => ({
  name: 'ground',
  corner: [-size / 2, 0, -size / 2],
  along: [0, 0, size],
  up: [size, 0, 0],
  albedo,
});

describe('light in a level, against closed forms', () => {
  it.each([0, 0.3, 0.5, 0.8])('furnace: walls of albedo %f in a closed box gather E0 / (1 - albedo)', async (albedo) => {
    // Walls that emit L alone would give E0 = pi L; with bounces E = pi L / (1 - albedo).
    const surfaces = await quadSurfaces(room(0, 2, { albedo, glow: 100 }), LAYOUT);
    const [stems] = await bakeWhole(surfaces, planWith({ paths: 96 }));
    const values = glow(stems!);
    expect(values.length).toBeGreaterThan(200);
    expect(mean(values) / (100 / (1 - albedo))).toBeCloseTo(1, 2);
    for (const v of values) expect(Math.abs(v * (1 - albedo) - 100)).toBeLessThan(8);
  });

  it('open plane under a uniform sky L: E = pi L', async () => {
    const surfaces = await quadSurfaces([ground(4)], LAYOUT);
    const p = planWith();
    const [stems] = await bakeWhole(surfaces, p);
    const cue = cueWith({ sky: uniformSky(1000) });
    for (const v of litTexels(stems!, p, cue)) expect(Math.abs(v / 1000 - 1)).toBeLessThan(0.005);
  });

  it.each([90, 60, 30, 10])('sun at %f degrees on a plane: E = E_sun sin(elevation)', async (elevationDeg) => {
    const sun = { azimuthDeg: 140, elevationDeg, illuminanceLux: 100_000, colorK: 6504, discDeg: 0.53 };
    const cue = cueWith({ sun, sky: uniformSky(0) });
    const p = planWith({ suns: [{ cues: [cue.id], ...sun }] });
    const [stems] = await bakeWhole(await quadSurfaces([ground(4)], LAYOUT), p);
    const expected = (100_000 * Math.sin(elevationDeg * DEG)) / Math.PI;
    for (const v of litTexels(stems!, p, cue)) expect(v / expected).toBeCloseTo(1, 2);
  });

  it('a sun that has set lights nothing, from below either, whatever the walls are made of', async () => {
    const sun = { azimuthDeg: 140, elevationDeg: -5, illuminanceLux: 100_000, colorK: 6504, discDeg: 0.53 };
    const cue = cueWith({ sun, sky: uniformSky(0) });
    const p = planWith({ suns: [{ cues: [cue.id], ...sun }] });
    const down: Quad = { name: 'seen from below', corner: [-2, 1, -2], along: [4, 0, 0], up: [0, 0, 4], doubleSided: true };
    const [stems] = await bakeWhole(await quadSurfaces([down, { ...ground(4), doubleSided: true }], LAYOUT), p);
    for (const v of litTexels(stems!, p, cue)) expect(v).toBe(0);
  });

  it('the penumbra of a roof edge spans the angle of the disc', async () => {
    // A roof's edge 4 m over the ground; the sun at the zenith with a disc of 10 degrees: width = 2 h tan(5 deg) = 0.70 m.
    const roof: Quad = { name: 'roof', corner: [-3, 4, -3], along: [0, 0, 6], up: [3, 0, 0], albedo: 0, doubleSided: true };
    const sun = { azimuthDeg: 0, elevationDeg: 90, illuminanceLux: 1000, colorK: 6504, discDeg: 10 };
    const cue = cueWith({ sun, sky: uniformSky(0) });
    const p = planWith({ suns: [{ cues: [cue.id], ...sun }], paths: 1, sunRays: 256, bounces: 0 });
    const density = 10;
    const [stems] = await bakeWhole(await quadSurfaces([roof, ground(2, 0)], { texelsPerM: density, maxMapSize: 512 }), p);
    const lit = litTexels(stems!, p, cue).map((v) => (v * Math.PI) / 1000);
    // The edge runs along the middle of the ground, 2 m long; the roof's own top is lit in full.
    const partial = lit.filter((v) => v > 0.01 && v < 0.99).length / density / density / 2;
    expect(partial).toBeGreaterThan(0.6);
    expect(partial).toBeLessThan(0.8);
    expect(mean(lit.filter((v) => v > 0.01 && v < 0.99))).toBeCloseTo(0.5, 1);
  });

  it('a square panel overhead lights as its form factor says', async () => {
    // A square of side 2 a at distance h on axis, as four rectangles through their corner (Howell's catalogue, B-3):
    // F = (4 / pi) q atan(q) with q = A / sqrt(1 + A^2) and A = a / h.
    const [a, h] = [1, 2];
    const panel: Quad = { name: 'panel', corner: [-a, h, -a], along: [2 * a, 0, 0], up: [0, 0, 2 * a], albedo: 0, glow: 500 };
    const spot: Quad = { name: 'spot', corner: [-0.125, 0, -0.125], along: [0, 0, 0.25], up: [0.25, 0, 0], albedo: 0 };
    const surfaces = await quadSurfaces([spot, panel], { texelsPerM: 4, maxMapSize: 128, densities: { panel: 0 } });
    const [stems] = await bakeWhole(surfaces, planWith({ paths: 16_384, bounces: 0 }));
    const A = a / h;
    const q = A / Math.sqrt(1 + A * A);
    const factor = (4 / Math.PI) * q * Math.atan(q);
    const best = Math.max(...glow(stems!));
    expect(Math.abs(best / (500 * factor) - 1)).toBeLessThan(0.01);
  });

  it('a disc overhead lights as its form factor says', async () => {
    // From a small plane to a parallel disc of radius r at distance h on its axis: F = r^2 / (r^2 + h^2) (Howell's catalogue, B-12).
    const [r, h, strips] = [1, 1.5, 32];
    const disc = Array.from({ length: strips }, (_, i): Quad => {
      const x = -r + ((i + 0.5) * 2 * r) / strips;
      const half = Math.sqrt(r * r - x * x);
      return {
        name: `strip ${i}`,
        corner: [x - r / strips, h, -half],
        along: [(2 * r) / strips, 0, 0],
        up: [0, 0, 2 * half],
        albedo: 0,
        glow: 500,
      };
    });
    const spot: Quad = { name: 'spot', corner: [-0.125, 0, -0.125], along: [0, 0, 0.25], up: [0.25, 0, 0], albedo: 0 };
    const densities = Object.fromEntries(disc.map(({ name }) => [name, 0]));
    const surfaces = await quadSurfaces([spot, ...disc], { texelsPerM: 4, maxMapSize: 128, densities });
    const [stems] = await bakeWhole(surfaces, planWith({ paths: 16_384, bounces: 0 }));
    expect(Math.abs(Math.max(...glow(stems!)) / (500 * (r ** 2 / (r ** 2 + h ** 2))) - 1)).toBeLessThan(0.01);
  });

  it('two white walls that face each other share what one of them sends out, as an endless series of bounces says', async () => {
    // Long parallel strips: the share of what leaves one that meets the other is known in closed form (Hottel's crossed strings), and with
    // the floor and ceiling open to nothing the light on each is a geometric series of it.
    const [width, apart, length] = [2, 1, 60];
    const wall = (name: string, x: number, flip: boolean, finish: Partial<Quad>): Quad => ({
      name,
      corner: flip ? [x, 0, -length / 2] : [x, 0, length / 2],
      along: [0, 0, flip ? length : -length],
      up: [0, width, 0],
      ...finish,
    });
    const albedo = 0.6;
    const walls = [wall('sends', 0, false, { albedo, glow: 100 }), wall('takes', apart, true, { albedo })];
    const facing = await quadSurfaces(walls, { texelsPerM: 1, maxMapSize: 128 });
    const { positions, normals } = facing;
    // Both look inwards, whichever way round their corners went.
    for (let v = 0; v < positions.length / 3; v++) expect(normals[v * 3]! * (positions[v * 3]! - apart / 2)).toBeLessThan(0);
    const [stems] = await bakeWhole(facing, planWith({ paths: 2048, bounces: 60 }));
    const factor = (Math.sqrt(width ** 2 + apart ** 2) - apart) / width;
    // Means over walls, of E / pi: each takes F of what leaves the other; leaving the first is 100 + albedo x its own.
    const [takes, sends] = [(100 * factor) / (1 - (albedo * factor) ** 2), (100 * albedo * factor ** 2) / (1 - (albedo * factor) ** 2)];
    const texels = glow(stems!);
    const sorted = [...texels].sort((a, b) => a - b);
    const [dim, lit] = [sorted.slice(0, sorted.length / 2), sorted.slice(sorted.length / 2)];
    // Strips of 60 m are not endless, and light on them is not quite even, which the series takes it to be.
    expect(Math.abs(mean(lit) / takes - 1)).toBeLessThan(0.06);
    expect(Math.abs(mean(dim) / sends - 1)).toBeLessThan(0.06);
  });

  it('a painted sky over half of the view lights as the integral of its radiance says', async () => {
    // Ground at the foot of an endless black wall sees the half of the sky away from it.
    const wall: Quad = { name: 'wall', corner: [-400, 0, 0], along: [800, 0, 0], up: [0, 400, 0], albedo: 0 };
    const spot: Quad = { name: 'spot', corner: [-0.5, 0, 0.02], along: [0, 0, 0.5], up: [0.5, 0, 0], albedo: 0 };
    const surfaces = await quadSurfaces([spot, wall], { texelsPerM: 4, maxMapSize: 128, densities: { wall: 0 } });
    const p = planWith({ paths: 8192, bounces: 0 });
    const [stems] = await bakeWhole(surfaces, p);
    const sky = { ...uniformSky(2000), zenith: { color: '#ffffff', luminanceCdM2: 9000 } };
    const cue = cueWith({ sun: { illuminanceLux: 0 }, sky });
    const radiance = skyRadiance(resolveCue(defaultRig(), cue).sky);
    let wanted = 0;
    const steps = 400;
    for (let i = 0; i < steps; i++) {
      for (let k = 0; k < steps; k++) {
        // Cosine-weighted directions of the half with z above 0.
        const sine = Math.sqrt((i + 0.5) / steps);
        const phi = (Math.PI * (k + 0.5)) / steps;
        wanted += radiance([sine * Math.cos(phi), Math.sqrt(1 - sine * sine), sine * Math.sin(phi)])[1] / (2 * steps * steps);
      }
    }
    for (const v of litTexels(stems!, p, cue)) expect(Math.abs(v / wanted - 1)).toBeLessThan(0.03);
  });

  it('the sky about a low sun lights a wall as the integral of each of its functions says, traced alone as with all', async () => {
    const rig = defaultRig();
    rig.cues = [{ ...rig.cues[0]!, holds: { sun: { azimuthDeg: 80, elevationDeg: 10 } } }];
    const whole: BakePlan = { ...planBake(rig), paths: 4096, most: 1, bounces: 0 };
    whole.suns = whole.suns.filter((s) => s.cues.length > 0);
    const wall: Quad = { name: 'wall', corner: [0, 0, 1], along: [0, 0, -2], up: [0, 2, 0], albedo: 0.2 };
    const surfaces = await quadSurfaces([wall], { texelsPerM: 1, maxMapSize: 16 });
    const [x] = surfaces.normals;
    const sun = aureolesOf(whole.suns)[0]!;
    expect(x! * sun[0]).toBeGreaterThan(0.9);
    const wanted = [0, 0, 0];
    const values = [0, 0, 0];
    const n = 200_000;
    for (let i = 0; i < n; i++) {
      const up = 1 - (2 * (i + 0.5)) / n;
      const level = Math.sqrt(1 - up * up);
      const d: Vec3 = [level * Math.cos(i * 2.399963), up, level * Math.sin(i * 2.399963)];
      aureoleBasis(sun, ...d, values, 0);
      values.forEach((v, k) => (wanted[k]! += (4 * v * Math.max(0, d[0] * x!)) / n));
    }
    for (const plan of [whole, { ...whole, partly: { glow: false } }]) {
      const stems = (await bakeWhole(surfaces, plan))[0]!;
      wanted.forEach((v, k) => {
        const lit = layerAt(plan.partly ? { ...stems, layers: withFlags(stems) } : stems, aureoleLayer(plan, 0) + k).map((t) => t.value);
        expect(Math.abs(mean(lit) / v - 1)).toBeLessThan(0.03);
      });
    }
  });

  it('bounces each of several suns as much as it would alone', async () => {
    const court = room(0, 4, { albedo: 0.7 }).filter((q) => q.name !== 'ceiling');
    const surfaces = await quadSurfaces(court, { texelsPerM: 3, maxMapSize: 256 });
    const sun = { azimuthDeg: 120, elevationDeg: 55, discDeg: 0.53 };
    const others = [
      { cues: ['b'], azimuthDeg: 250, elevationDeg: 40, discDeg: 0.53 },
      { cues: ['c'], azimuthDeg: 10, elevationDeg: 70, discDeg: 0.53 },
    ];
    const bounced = async (suns: BakePlan['suns']) => {
      const [stems] = await bakeWhole(surfaces, planWith({ suns, paths: 96, bounces: 20 }));
      return mean(layerAt(stems!, FIRST_SUN_LAYER).map((t) => t.value));
    };
    const alone = await bounced([{ cues: ['a'], ...sun }]);
    const together = await bounced([{ cues: ['a'], ...sun }, ...others]);
    expect(together / alone).toBeCloseTo(1, 2);
  });

  it('gives the same stems whatever the order of the tiles', async () => {
    const surfaces = await quadSurfaces(room(0, 2, { albedo: 0.6, glow: 10 }), LAYOUT);
    const [first] = await bakeWhole(surfaces, planWith({ paths: 16 }));
    const [second] = await bakeWhole(surfaces, planWith({ paths: 16 }));
    expect(Buffer.from(first!.layers.buffer).equals(Buffer.from(second!.layers.buffer))).toBe(true);
  });

  it('keeps a closed room dark under any sky: no light leaks in through walls or corners', async () => {
    const surfaces = await quadSurfaces(
      room(0, 3, { albedo: 0.7 }).map((q) => ({ ...q, doubleSided: true })),
      LAYOUT,
    );
    const p = planWith({ paths: 64 });
    const [stems] = await bakeWhole(surfaces, p);
    for (const v of litTexels(stems!, p, cueWith({ sky: uniformSky(10_000) }))) expect(v).toBe(0);
  });

  it('tells what of sky and glow has bounced apart: without it they are as if nothing bounced, and twice it is that much more', async () => {
    const court: Quad[] = room(0, 4, { albedo: 0.6 }).filter((q) => q.name !== 'ceiling');
    const glowing = { ...court[1]!, glow: 50 };
    const surfaces = await quadSurfaces([court[0]!, glowing, ...court.slice(2)], LAYOUT);
    const p = planWith({ paths: 256 });
    const [all, none] = await Promise.all([64, 0].map(async (bounces) => (await bakeWhole(surfaces, { ...p, bounces }))[0]!));
    const band = (luminanceCdM2: number, color = '#ffffff') => ({ color, luminanceCdM2 });
    const skies = [uniformSky(1000), { zenith: band(300, '#6688ff'), horizon: band(2000, '#ffcc99'), ground: band(100) }];
    for (const [k, sky] of skies.entries()) {
      const mean3 = (stems: MapStems, level: number) => {
        const trim = { level, tint: '#ffffff' };
        const cue = cueWith({ sky, sun: { illuminanceLux: 0 } });
        return litTexels(stems, p, { ...cue, holds: { ...cue.holds, mix: { skyBounce: trim, glowBounce: trim } } });
      };
      const [straight, without, whole, twice] = [mean3(none!, 1), mean3(all!, 0), mean3(all!, 1), mean3(all!, 2)];
      expect(mean(straight)).toBeLessThan(0.85 * mean(whole));
      // Under an even sky the few functions hold its bounce whole; under another they tell it roughly, texel by texel.
      expect(mean(without) / mean(straight)).toBeCloseTo(1, k === 0 ? 2 : 1.7);
      const off = Math.sqrt(mean(without.map((v, i) => (v - straight[i]!) ** 2))) / mean(whole);
      expect(off).toBeLessThan(k === 0 ? 0.015 : 0.03);
      twice.forEach((v, i) => expect(v - whole[i]!).toBeCloseTo(whole[i]! - without[i]!, 1));
    }
  });
});
