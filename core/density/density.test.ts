import { quadLevel, type Quad } from '../../tests/lib/level';
import { createScene } from '../bake';
import { prepareLevel, readLevel, readSurfaces } from '../level';
import type { GroundBox, Vec3 } from '../units';
import { allotTexels, needsUnder, objectNeeds, type ObjectNeed } from './index';

const floor = (name: string, x: number, y: number, z: number, sizeM: number): Quad => ({
  name,
  corner: [x, y, z],
  along: [0, 0, sizeM],
  up: [sizeM, 0, 0],
});
/** A wall along x that faces south. */
const wall = (name: string, x: number, z: number, wideM: number, highM: number): Quad => ({
  name,
  corner: [x, 0, z],
  along: [wideM, 0, 0],
  up: [0, highM, 0],
});

async function needsOf(quads: Quad[], { suns = [], box = null }: { suns?: Vec3[]; box?: GroundBox | null } = {}) {
  const { glb } = await prepareLevel(await readLevel(await quadLevel(quads)), { texelsPerM: 2, maxMapSize: 512 });
  const needs = objectNeeds(createScene(await readSurfaces(await readLevel(glb))), 2, suns, box, ({ name }) => (name === 'Own' ? 0.5 : 1));
  return { ...needs, of: (name: string) => needs.objects.find((o) => o.name === name)! };
}

describe('what of texels objects need', () => {
  it('is their surface and texels, and how near people come to what they see', async () => {
    const { of, eyes } = await needsOf([
      floor('Ground', -10, 0, -10, 20),
      wall('Near', -5, -9, 10, 4),
      wall('Far', -5, -60, 10, 4),
      // It faces away from all floor.
      { name: 'Back', corner: [-5, 0, -9.5], along: [0, 4, 0], up: [10, 0, 0] },
      floor('Own', 30, -50, 30, 10),
    ]);
    expect(eyes).toBeGreaterThan(50);
    expect([of('Ground').areaM2, of('Near').areaM2]).toEqual([expect.closeTo(400, 1), expect.closeTo(40, 3)]);
    expect(of('Ground').texels / (400 * 4)).toBeCloseTo(1, 1);
    expect([of('Ground').factor, of('Own').factor]).toEqual([1, 0.5]);
    // From 52 to 53 m away, and hidden in part by the near wall.
    expect(of('Far').seen).toBeGreaterThan(0);
    expect(of('Far').seen).toBeLessThan(1 / 50 ** 2);
    expect(of('Near').seen).toBeGreaterThan(1 / 8 ** 2);
    expect(of('Back').seen).toBe(0);
  });

  it('is more where a shadow of a sun ends or something stands close by, and the same each time', async () => {
    const level = [
      floor('Ground', -10, 0, -10, 20),
      ...Array.from({ length: 20 }, (_, i) => ({ ...wall(`Slat ${i}`, -10, -10 + i, 20, 0.5), doubleSided: true })),
      floor('Plain', 40, 0, -10, 20),
    ];
    const [low, again] = [await needsOf(level, { suns: [[0, 0.5, 0.866]] }), await needsOf(level, { suns: [[0, 0.5, 0.866]] })];
    expect(low.objects).toEqual(again.objects);
    expect(low.of('Plain').detail).toBe(0);
    expect(low.of('Ground').detail).toBeGreaterThan(0.2);
    const none = await needsOf(level);
    expect(none.of('Ground').detail).toBeLessThan(low.of('Ground').detail);
  });

  it('is seen from a rectangle alone, where one is given', async () => {
    const level = [floor('Ground', -100, 0, -100, 200), wall('West', -60, 0, 10, 4), wall('East', 60, 0, 10, 4)];
    const { of, box } = await needsOf(level, { box: { min: [55, 4], max: [75, 20] } });
    expect(box).toEqual({ min: [55, 4], max: [75, 20] });
    expect(of('East').seen).toBeGreaterThan(100 * of('West').seen);
    const nowhere = await needsOf(level, { box: { min: [500, 500], max: [520, 520] } });
    expect([nowhere.eyes, nowhere.of('East').seen]).toEqual([0, 0]);
  });
});

const need = (name: string, over: Partial<ObjectNeed>): ObjectNeed => ({
  name,
  areaM2: 100,
  texels: 1600,
  factor: 1,
  seen: 0.04,
  detail: 0.2,
  ...over,
});

describe('texels shared out', () => {
  const needs = [
    need('Near', { seen: 0.25 }),
    need('Far', { seen: 0.0004 }),
    need('Even', { detail: 0 }),
    need('Unseen', { seen: 0 }),
    need('Double', { factor: 2, texels: 6400 }),
    need('Left out', { factor: 0, texels: 0 }),
  ];

  it.each([3000, 8000, 20_000])('keep within a budget of %d, and use most of it', (budget) => {
    const { texels } = allotTexels(needs, budget);
    expect(texels).toBeLessThanOrEqual(budget);
    // One object more in the next step would be over it: 1.4 x 1.4 times its texels.
    expect(texels).toBeGreaterThan(budget * 0.45);
  });

  it('go where people are near and light changes, by the cube root, and to what is unseen least', () => {
    const { factors, unseen } = allotTexels(needs, 8000);
    const factor = (name: string) => factors.get(name)!;
    expect(factor('Near')).toBeGreaterThan(factor('Double'));
    expect(factor('Double')).toBeGreaterThan(factor('Even'));
    expect(factor('Even')).toBeGreaterThan(factor('Far'));
    expect(factor('Unseen')).toBe(1 / 8);
    // 625 times the need is 8.5 times the density: six steps of the root of two, give or take the half of one at both ends.
    expect(Math.abs(Math.log2(factor('Near') / factor('Far')) - 3)).toBeLessThanOrEqual(0.51);
    expect([unseen, factors.has('Left out')]).toEqual([1, false]);
  });

  it('are as few as can be where the budget is less than that', () => {
    const { factors, finer } = allotTexels(needs, 10);
    expect(new Set(factors.values())).toEqual(new Set([1 / 8]));
    expect(finer).toBe(0);
  });

  it('come to the same from densities that were taken before', () => {
    const { factors, texels } = allotTexels(needs, 8000);
    const taken = needsUnder(needs, Object.fromEntries(factors));
    expect(taken.reduce((sum, n) => sum + n.texels, 0)).toBeCloseTo(texels, -1);
    const again = allotTexels(taken, 8000);
    expect([again.factors, again.finer, again.coarser]).toEqual([factors, 0, 0]);
  });
});
