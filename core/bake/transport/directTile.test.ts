import { planWith } from '../../../tests/lib/bake';
import { lampWith } from '../../../tests/lib/lamps';
import { quadSurfaces, type Quad } from '../../../tests/lib/level';
import { createScene, directTile, joinDirect, planTiles, type BakePlan, type BakedSun, type TileDirect } from '..';
import { coverTexels } from '../texels/coverTexels';

const layout = { texelsPerM: 4, maxMapSize: 256 };
const above: BakedSun = { azimuthDeg: 0, elevationDeg: 90, discDeg: 0.53, cues: ['noon'] };
const set: BakedSun = { azimuthDeg: 0, elevationDeg: -3, discDeg: 0.53, cues: ['night'] };
const sample: BakedSun = { azimuthDeg: 90, elevationDeg: 30, discDeg: 0.53, cues: [] };
const ground: Quad = { name: 'Ground', corner: [-3, 0, -3], along: [0, 0, 6], up: [6, 0, 0], albedo: 0.5 };

async function straight(quads: Quad[], change: Partial<BakePlan>) {
  const surfaces = await quadSurfaces(quads, layout);
  const plan = planWith({ sunRays: 16, ...change });
  const scene = createScene(surfaces);
  const tiles = planTiles(surfaces, plan.paths).tiles.map((tile) => directTile(scene, plan, tile));
  return { surfaces, plan, tiles, light: joinDirect(surfaces, plan, tiles) };
}
/** For each texel of a tile the name of its object. */
function objectsOf({ surfaces }: Awaited<ReturnType<typeof straight>>, { tile }: TileDirect): string[] {
  const { at, start, triangle } = coverTexels(surfaces, tile);
  return Array.from(at, (_, i) => surfaces.objects[surfaces.objectOf[triangle[start[i]!]!]!]!);
}

describe('light that comes straight', () => {
  it('is the cosine over pi per lux from a sun, a sun sample too, and nothing from one that has set', async () => {
    const { tiles } = await straight([ground], { suns: [above, set, sample] });
    for (const { at, suns } of tiles) {
      for (let i = 0; i < at.length; i++) {
        expect(suns[i * 3]).toBeCloseTo(1 / Math.PI, 4);
        expect(suns[i * 3 + 1]).toBe(0);
        expect(suns[i * 3 + 2]! * Math.PI).toBeCloseTo(0.5, 2);
      }
    }
  });

  it('lies on the backs of two-sided surfaces besides, where the sun shines on them', async () => {
    const roof: Quad = { name: 'Roof', corner: [-3, 2, -3], along: [6, 0, 0], up: [0, 0, 6], albedo: 0.5, doubleSided: true };
    const bake = await straight([ground, roof], { suns: [above] });
    let backs = 0;
    for (const tile of bake.tiles) {
      const names = objectsOf(bake, tile);
      tile.backs.forEach((i, k) => {
        expect(names[i]).toBe('Roof');
        // Its front looks down, its back up.
        expect(tile.suns[i]).toBe(0);
        expect(tile.backSuns[k]! * Math.PI).toBeCloseTo(1, 3);
        backs++;
      });
    }
    expect(backs).toBeGreaterThan(500);
    const { index, backIndex } = bake.light;
    const count = (all: Uint32Array[]) => all.reduce((sum, map) => sum + map.filter((p) => p > 0).length, 0);
    expect(count(backIndex)).toBe(backs);
    expect(count(index)).toBeGreaterThan(backs);
  });

  it('is not asked for at points inside of something: a texel stands for its open part', async () => {
    // A solid block half over the ground, on whose floor nobody stands.
    const block: Quad[] = [
      { name: 'top', corner: [-1, 2, -3], along: [0, 0, 6], up: [4, 0, 0] },
      { name: 'west', corner: [-1, 0, -3], along: [0, 0, 6], up: [0, 2, 0] },
      { name: 'east', corner: [3, 0, 3], along: [0, 0, -6], up: [0, 2, 0] },
      { name: 'south', corner: [-1, 0, 3], along: [4, 0, 0], up: [0, 2, 0] },
      { name: 'north', corner: [3, 0, -3], along: [-4, 0, 0], up: [0, 2, 0] },
    ];
    const bake = await straight([ground, ...block], { suns: [above] });
    let [buried, open, odd] = [0, 0, 0];
    for (const tile of bake.tiles) {
      const names = objectsOf(bake, tile);
      tile.open.forEach((mask, i) => {
        if (names[i] !== 'Ground') return;
        if (mask === 0) buried++;
        else open++;
        // What is open has its whole light, also where the block stands on part of the texel.
        if (mask !== 0 && Math.abs(tile.suns[i]! * Math.PI - 1) > 0.02) odd++;
      });
    }
    expect(buried / (buried + open)).toBeGreaterThan(0.6);
    expect(buried / (buried + open)).toBeLessThan(0.7);
    expect(odd).toBeLessThanOrEqual(0.03 * open);
  });

  it('keeps lamps whose bounce alone is baked apart from what is shown, and lets both bounce', async () => {
    const lamp = (id: string, kept: 'all' | 'bounce') => ({ ...lampWith({ id, at: [0, 2, 0] }), circuitId: null, kept });
    const circuits = [{ id: '' }];
    const both = await straight([ground], { circuits, lamps: [lamp('a', 'all'), lamp('b', 'bounce')] });
    const [shown, hidden] = [both.tiles[0]!.circuits, both.tiles[0]!.hidden];
    expect(Math.max(...shown)).toBeGreaterThan(0);
    hidden.forEach((v, i) => expect(v).toBeCloseTo(shown[i]!, 3));
    const brightest = Math.max(...both.light.circuits);
    expect(brightest / (Math.max(...shown) + Math.max(...hidden))).toBeCloseTo(1, 2);
  });
});
