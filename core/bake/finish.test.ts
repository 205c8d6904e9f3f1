import { quadSurfaces, type Quad } from '../../tests/lib/level';
import { finishMap, LAYER, planTiles, type BakePlan, type TileStems } from './index';
import { chartOfVertex, coverTexels } from './texels';

const plan: BakePlan = { suns: [], circuits: [], lamps: [], profiles: [], models: [], paths: 16, sunRays: 1, bounces: 4 };
const LAYERS = 10;
const ground: Quad = { name: 'ground', corner: [0, 0, 0], along: [0, 0, 8], up: [8, 0, 0] };
const strip: Quad = { name: 'strip', corner: [20, 0, 0], along: [0, 0, 8], up: [0.02, 0, 0] };
const layout = { texelsPerM: 4, maxMapSize: 256 };

/** Tiles whose every gathered texel holds `value(i)` in the sky's first coefficient, with a variance. */
async function gathered(quads: Quad[], value: (i: number) => number, variance: number, buried: (i: number) => boolean = () => false) {
  const surfaces = await quadSurfaces(quads, layout);
  const tiles: TileStems[] = planTiles(surfaces, plan.paths).tiles.map((tile) => {
    const { at } = coverTexels(surfaces, tile);
    const values = new Float32Array(at.length * LAYERS * LAYER);
    at.forEach((texel, i) => {
      for (let c = 0; c < 3; c++) values[i * LAYERS * LAYER + c] = value(texel);
      values[i * LAYERS * LAYER + 3] = buried(texel) ? 0 : 1;
    });
    return { tile, at, values, variance: new Float32Array(at.length * 2).fill(variance), rays: 0 };
  });
  return { surfaces, tiles };
}

/** White noise about 1. */
const noisy = (i: number) => 1 + 0.4 * ((Math.imul(i ^ (i >>> 5), 0x9e3779b1) >>> 8) / 2 ** 24 - 0.5);
const spread = (values: number[]) => {
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return Math.sqrt(values.reduce((a, b) => a + (b - mean) ** 2, 0) / values.length);
};

describe('what makes a lightmap fit to be looked up', () => {
  it('takes out noise that the variance explains, and keeps the mean', async () => {
    const { surfaces, tiles } = await gathered([ground], noisy, 0.0133 / 0.2821 ** 2);
    const { layers } = finishMap(surfaces, plan, 0, tiles);
    const at = [...coverTexels(surfaces, { map: 0, top: 0, bottom: surfaces.maps[0]!.height }).at];
    const after = at.map((i) => layers[i * LAYER]!);
    expect(spread(after)).toBeLessThan(0.5 * spread(at.map(noisy)));
    expect(after.reduce((a, b) => a + b, 0) / after.length).toBeCloseTo(1, 2);
  });

  it('keeps an edge that the variance does not explain', async () => {
    const { surfaces, tiles } = await gathered([ground], (i) => (i % 36 < 16 ? 1 : 9), 1e-4);
    const { width, layers } = finishMap(surfaces, plan, 0, tiles);
    expect(width).toBe(36);
    const row = 16 * width;
    expect(
      [...layers.filter((_, i) => i % LAYER === 0).slice(row + 10, row + 22)].every(
        (v) => Math.abs(v - 1) < 0.01 || Math.abs(v - 9) < 0.01,
      ),
    ).toBe(true);
  });

  it('fills buried texels from their own chart and leaves none of the surface dark', async () => {
    const { surfaces, tiles } = await gathered(
      [ground],
      () => 5,
      0,
      (i) => i % 7 === 0 || i % 5 === 0,
    );
    const { layers } = finishMap(surfaces, plan, 0, tiles);
    for (const i of coverTexels(surfaces, { map: 0, top: 0, bottom: surfaces.maps[0]!.height }).at)
      expect(layers[i * LAYER]).toBeCloseTo(5, 5);
  });

  it('widens every chart by at least two texels', async () => {
    const { surfaces, tiles } = await gathered([ground], () => 5, 0);
    const { width, height, layers } = finishMap(surfaces, plan, 0, tiles);
    const own = new Set(coverTexels(surfaces, { map: 0, top: 0, bottom: height }).at);
    for (const i of own) {
      for (const [dx, dy] of [
        [-2, 0],
        [2, 0],
        [0, -2],
        [0, 2],
        [2, 2],
      ] as const) {
        const [x, y] = [(i % width) + dx, Math.floor(i / width) + dy];
        if (x >= 0 && y >= 0 && x < width && y < height) expect(layers[(y * width + x) * LAYER]).toBeCloseTo(5, 5);
      }
    }
  });

  it('gives surface thinner than a texel a light of its own', async () => {
    const surfaces = await quadSurfaces([ground, strip], layout);
    const { at, triangle } = coverTexels(surfaces, { map: 0, top: 0, bottom: surfaces.maps[0]!.height });
    // The strip is 8 m by 2 cm: 32 texels long, a twelfth of one wide.
    const ofStrip = new Set([...triangle].filter((t) => surfaces.positions[surfaces.indices[t * 3]! * 3]! >= 20));
    expect(ofStrip.size).toBe(2);
    expect(at.length).toBeGreaterThan(32 * 32 + 30);
    expect(new Set(chartOfVertex(surfaces)).size).toBe(2);
  });

  it('never turns a number into none, also where corner normals cancel each other', async () => {
    const { surfaces, tiles } = await gathered([ground], noisy, 0.04);
    surfaces.normals.forEach((_, i) => (surfaces.normals[i] = i % 3 === 1 ? (Math.floor(i / 3) % 2 ? 1 : -1) : 0));
    const { layers } = finishMap(surfaces, plan, 0, tiles);
    expect(layers.every(Number.isFinite)).toBe(true);
    for (const i of tiles[0]!.at) expect(layers[i * LAYER]).toBeGreaterThan(0.5);
  });
});
