import { bakeWhole, cueWith, gatherWhole, layerAt, litTexels, mean, planWith, uniformSky } from '../../../tests/lib/bake';
import { quadSurfaces, room, type Quad } from '../../../tests/lib/level';
import { FIRST_SUN_LAYER, LAYER, fromHalves, mixGains, mixTexels, readColumn, type BakePlan, type MapStems } from '..';
import { coverTexels } from '../texels/coverTexels';
import { defaultRig, resolveCue } from '../../rig';
import type { Surfaces } from '../../level';

const SUN = { azimuthDeg: 200, elevationDeg: 50, illuminanceLux: 100_000, colorK: 6504, discDeg: 0.53 };

/** Texels of one object under a cue, E/pi green, with where they lie. */
function lightOf(surfaces: Surfaces, stems: MapStems, plan: BakePlan, object: string, { sky = 0, sun = SUN, bounce = true } = {}) {
  const gains = mixGains(resolveCue(defaultRig(), cueWith({ sun, sky: uniformSky(sky) })), plan);
  if (!bounce) gains.colors.fill(0);
  const mixed = mixTexels(stems, gains);
  const { at, start, triangle, u, v } = coverTexels(surfaces, { map: 0, top: 0, bottom: stems.height });
  const { positions, indices, objects, objectOf } = surfaces;
  const found: { x: number; y: number; z: number; value: number }[] = [];
  at.forEach((_, i) => {
    const k = (start[i]! + start[i + 1]!) >> 1;
    if (objects[objectOf[triangle[k]!]!] !== object) return;
    const [x, y, z] = [0, 1, 2].map((c) => {
      const [a, b, d] = [0, 1, 2].map((corner) => positions[indices[triangle[k]! * 3 + corner]! * 3 + c]!) as [number, number, number];
      return a + (b - a) * u[k]! + (d - a) * v[k]!;
    }) as [number, number, number];
    found.push({ x, y, z, value: mixed[i * LAYER + 1]! });
  });
  return found;
}

const floor: Quad = { name: 'floor', corner: [-4, 0, -4], along: [0, 0, 8], up: [8, 0, 0], albedo: 0.5 };

/** Sides and top of a box on the floor: outward faces alone, so that its inside is seen from behind. */
const box = (size: number): Quad[] => {
  const h = size / 2;
  return [
    { name: 'top', corner: [-h, size, -h], along: [0, 0, size], up: [size, 0, 0] },
    { name: 'south', corner: [-h, 0, h], along: [size, 0, 0], up: [0, size, 0] },
    { name: 'north', corner: [h, 0, -h], along: [-size, 0, 0], up: [0, size, 0] },
    { name: 'east', corner: [h, 0, h], along: [0, 0, -size], up: [0, size, 0] },
    { name: 'west', corner: [-h, 0, -h], along: [0, 0, size], up: [0, size, 0] },
  ];
};

describe('light stays where it belongs', () => {
  it('a thin wall leaks less than a hundredth of its lit side', async () => {
    // A closed room of thin, two-sided walls under a sun and a bright sky.
    const surfaces = await quadSurfaces(
      room(0, 3, { albedo: 0.7 }).map((q) => ({ ...q, doubleSided: true })),
      { texelsPerM: 4, maxMapSize: 256 },
    );
    const plan = planWith({ suns: [{ cues: ['noon'], ...SUN }], paths: 64, sunRays: 16 });
    const [stems] = await bakeWhole(surfaces, plan);
    const lit = litTexels(stems!, plan, cueWith({ sun: SUN, sky: uniformSky(10_000) }));
    expect(Math.max(...lit)).toBeLessThan(0.01 * (100_000 / Math.PI));
  });

  it('a wall without a back lets no sun through from behind', async () => {
    // It faces away from the sun, which stands behind it; the floor before it lies in its shadow.
    const wall: Quad = { name: 'wall', corner: [3, 0, 1], along: [-6, 0, 0], up: [0, 4, 0], albedo: 0.5 };
    const sun = { ...SUN, azimuthDeg: 180, elevationDeg: 45 };
    const surfaces = await quadSurfaces([floor, wall], { texelsPerM: 4, maxMapSize: 256 });
    const plan = planWith({ suns: [{ cues: ['noon'], ...sun }], paths: 64, sunRays: 16 });
    const [stems] = await bakeWhole(surfaces, plan);
    // Of the straight light alone: what bounces off the floor reaches the shadow rightly.
    const all = lightOf(surfaces, stems!, plan, 'floor', { sun, bounce: false });
    // Its shadow falls to the north of it, 4 m long; half a metre off its edges.
    const shadow = all.filter((t) => Math.abs(t.x) < 2.5 && t.z < 0.5 && t.z > -2.5).map((t) => t.value);
    const open = all.filter((t) => t.z > 1.5).map((t) => t.value);
    expect(shadow.length).toBeGreaterThan(100);
    expect(mean(open)).toBeGreaterThan(20_000);
    expect(Math.max(...shadow)).toBeLessThan(0.01 * mean(open));
  });

  it('the floor under a box is filled from around it, and neither darkens nor brightens its edge', async () => {
    const surfaces = await quadSurfaces([floor, ...box(2)], { texelsPerM: 3, maxMapSize: 256 });
    const plan = planWith({ suns: [{ cues: ['noon'], ...SUN }], paths: 128, sunRays: 16 });
    const [stems] = await bakeWhole(surfaces, plan);
    const lit = lightOf(surfaces, stems!, plan, 'floor', { sky: 1000 });
    // To the south, where the sun comes from, the floor is lit up to the box; texels that the box half covers stand for their open half.
    const south = lit.filter((t) => Math.abs(t.x) < 0.8 && t.z > 1.02 && t.z < 1.6);
    const far = lit.filter((t) => t.z > 3);
    expect(south.length).toBeGreaterThan(4);
    for (const t of south) expect(t.value / mean(far.map((f) => f.value))).toBeGreaterThan(0.6);
    const inside = stems!.at.length - layerAt(stems!, FIRST_SUN_LAYER).length;
    expect(inside).toBeGreaterThan(20);
    for (const t of lit) expect(Number.isFinite(t.value)).toBe(true);
  });

  it('a hall lit through a small hole converges: texels far from it agree with one another', async () => {
    // A closed hall of 6 m with a hole of 0.5 m in its roof, under an even sky: a 144th of its ceiling.
    const side = 6;
    const [a, b] = [2.75, 3.25];
    const walls = room(0, side, { albedo: 0.6 }).filter((q) => q.name !== 'ceiling');
    const piece = (name: string, x0: number, x1: number, z0: number, z1: number): Quad => ({
      name,
      corner: [x0, side, z0],
      along: [x1 - x0, 0, 0],
      up: [0, 0, z1 - z0],
      albedo: 0.6,
    });
    const roof = [piece('r1', 0, side, 0, a), piece('r2', 0, side, b, side), piece('r3', 0, a, a, b), piece('r4', b, side, a, b)];
    const surfaces = await quadSurfaces([...walls, ...roof], { texelsPerM: 1, maxMapSize: 128 });
    const floorOf = async (paths: number, most: number) => {
      const plan = planWith({ paths, noise: 0.05, most, bounces: 8 });
      const { tiles, executor } = await gatherWhole(surfaces, plan);
      const onFloor = ({ triangle, start }: ReturnType<typeof coverTexels>, i: number) =>
        surfaces.objects[surfaces.objectOf[triangle[start[i]!]!]!] === 'floor';
      const gathered = tiles.flatMap(({ tile, at, light }) => {
        const texels = coverTexels(surfaces, tile);
        const rgb = readColumn(light, 0);
        return Array.from(at.keys(), (i) => rgb[i * 3 + 1]!).filter((_, i) => onFloor(texels, i));
      });
      const stems = fromHalves(executor.stems()[0]!);
      const whole = coverTexels(surfaces, { map: 0, top: 0, bottom: stems.height });
      return { gathered, finished: Array.from(stems.at.keys(), (i) => stems.layers[i * LAYER + 1]!).filter((_, i) => onFloor(whole, i)) };
    };
    const [plain, guided, many] = [await floorOf(128, 1), await floorOf(128, 8), await floorOf(1024, 1)];
    expect(plain.gathered.length).toBeGreaterThan(30);
    // What light there is differs from place to place by far less than the noise of the first paths.
    const rough = (lit: number[]) => Math.sqrt(mean(lit.map((v) => (v - mean(lit)) ** 2))) / mean(lit);
    expect(rough(guided.gathered)).toBeLessThan(0.5 * rough(plain.gathered));
    // Unbiased: guided paths agree with many plain ones in the mean of the whole floor, and filtering takes none of the light of rare paths away.
    expect(mean(guided.gathered) / mean(many.gathered)).toBeGreaterThan(0.8);
    expect(mean(guided.gathered) / mean(many.gathered)).toBeLessThan(1.25);
    for (const { gathered, finished } of [plain, guided]) expect(Math.abs(mean(finished) / mean(gathered) - 1)).toBeLessThan(0.05);
    expect(rough(plain.finished)).toBeLessThan(0.5 * rough(plain.gathered));
  });
});
