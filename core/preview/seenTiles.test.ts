import { quadSurfaces, type Quad } from '../../tests/lib/level';
import { createScene, planTiles } from '../bake';
import type { Vantage } from '../rig';
import { seenTiles } from './index';

const floor = (name: string, x: number): Quad => ({ name, corner: [x, 0, -4], along: [0, 0, 8], up: [8, 0, 0] });
const wall: Quad = { name: 'Wall', corner: [10, 0, -4], along: [0, 0, 8], up: [0, 8, 0] };
const down = (x: number, height: number): Vantage => ({ eye: [x, height, 0], target: [x, 0, 0.001], fovDeg: 60 });

async function level(quads: Quad[]) {
  const scene = createScene(await quadSurfaces(quads, { texelsPerM: 8, maxMapSize: 64 }));
  const { tiles } = planTiles(scene.surfaces, 2000);
  /** Shares of the tiles that lie on an object's chart. */
  const sharesOf = (vantage: Vantage) => seenTiles(scene, vantage, tiles);
  const mapsOf = (name: string) => {
    const object = scene.surfaces.objects.indexOf(name);
    return new Set(scene.surfaces.mapOf.filter((_, t) => scene.surfaces.objectOf[t] === object));
  };
  const shareOn = (vantage: Vantage, name: string) =>
    sharesOf(vantage).reduce((sum, share, k) => sum + (mapsOf(name).has(tiles[k]!.map) ? share : 0), 0);
  return { sharesOf, shareOn, tiles };
}
const sum = (shares: number[]) => shares.reduce((a, b) => a + b, 0);

describe('what a picture shows of the lightmaps', () => {
  it('is all of it over a floor that fills it, and none that looks away', async () => {
    const { sharesOf } = await level([floor('Floor', -4)]);
    expect(sum(sharesOf(down(0, 1)))).toBeCloseTo(1, 6);
    expect(sum(sharesOf({ eye: [0, 1, 0], target: [0, 2, 0.001], fovDeg: 60 }))).toBe(0);
  });

  it('falls with the square of the distance', async () => {
    const { sharesOf } = await level([floor('Floor', -4)]);
    // 8 m by 8 m, 20 and 40 m off: angles of 60 degrees over the height of a picture of 16 by 9.
    const share = (height: number) => 64 / ((2 * height * Math.tan(Math.PI / 6)) ** 2 * (16 / 9));
    expect(sum(sharesOf(down(0, 20)))).toBeCloseTo(share(20), 2);
    expect(sum(sharesOf(down(0, 40)))).toBeCloseTo(share(40), 2);
  });

  it('is the map of what stands before, not of what is hidden behind', async () => {
    // Three charts of 64 by 64 texels, each a map of its own.
    const { shareOn } = await level([floor('Near', -4), wall, floor('Behind', 20)]);
    const along: Vantage = { eye: [-3, 1, 0], target: [10, 1, 0], fovDeg: 50 };
    expect(shareOn(along, 'Wall')).toBeGreaterThan(0.2);
    expect(shareOn(along, 'Near')).toBeGreaterThan(0.05);
    expect(shareOn(along, 'Behind')).toBe(0);
  });
});
