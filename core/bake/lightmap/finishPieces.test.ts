import { quadSurfaces, type Quad } from '../../../tests/lib/level';
import { planWith } from '../../../tests/lib/bake';
import {
  LAYER,
  layerCount,
  bakeLevel,
  fromHalves,
  dilate,
  memoryExecutor,
  planTiles,
  runJob,
  type JobInputs,
  type MapStems,
  type RunJob,
  type Scene,
  type Tile,
  type TileDirect,
  type TileStems,
} from '..';
import type { Surfaces } from '../../level';
import { packColumns } from '../stems/halfColumns';
import { chartOfVertex } from '../texels/charts';
import { coverTexels } from '../texels/coverTexels';
import { varianceSlots } from '../transport/lightKinds';
import { OutdatedTiles } from '../transport/outdatedTiles';

const plan = planWith({ paths: 16, sunRays: 1, bounces: 4 });
/** Of the sky and the glow. */
const LAYERS = layerCount(plan);
const ground: Quad = { name: 'ground', corner: [0, 0, 0], along: [0, 0, 8], up: [8, 0, 0] };
const strip: Quad = { name: 'strip', corner: [20, 0, 0], along: [0, 0, 8], up: [0.02, 0, 0] };
const layout = { texelsPerM: 4, maxMapSize: 256 };

/** A tile to which no light comes straight. */
function noDirect(tile: Tile, at: Uint32Array): TileDirect {
  const none = new Float32Array(0);
  const own = {
    sky: none,
    suns: none,
    circuits: none,
    hidden: none,
    backs: new Uint32Array(0),
    backSky: none,
    backSuns: none,
    backCircuits: none,
  };
  return { tile, at, open: new Uint16Array(at.length), ...own, rays: 0 };
}

/** The first map that comes of what was traced, by the sequence of a bake. */
async function finish(surfaces: Surfaces, direct: readonly TileDirect[], tiles: readonly TileStems[]): Promise<MapStems> {
  const scene = { surfaces } as Scene;
  const traced = { direct, gather: tiles };
  const run = ((step, job, inputs) => {
    if (step === 'denoise' || step === 'finish') return Promise.resolve(runJob(scene, plan, step, job, inputs as JobInputs[typeof step]));
    if (step === 'bounce')
      return Promise.resolve({ cellOf: new Uint32Array(0), values: new Float32Array(0), kinds: new Float32Array(0), rays: 0 });
    const { map, top, bottom } = job as Tile;
    // Tiles of the plan, of the one that was traced: as a whole, or each by itself.
    const own = (traced[step as 'direct' | 'gather'] as readonly (TileDirect | TileStems)[]).find(
      (t) => t.tile.map === map && t.tile.top <= top && t.tile.bottom >= bottom,
    )!;
    return Promise.resolve(rowsOf(own, { map, top, bottom }, surfaces.maps[map]!.width));
  }) as RunJob;
  const executor = memoryExecutor(surfaces, plan, run);
  await bakeLevel(executor);
  return fromHalves(executor.stems()[0]!);
}

/** Some rows of what was traced of a tile. */
function rowsOf<T extends TileDirect | TileStems>(all: T, tile: Tile, width: number): T {
  const kept = Array.from(all.at.keys()).filter((i) => all.at[i]! >= tile.top * width && all.at[i]! < tile.bottom * width);
  const [first, end] = [kept[0] ?? 0, (kept.at(-1) ?? -1) + 1];
  const count = all.at.length;
  const cut = Object.fromEntries(
    Object.entries(all).map(([name, value]) => {
      if (!ArrayBuffer.isView(value)) return [name, value];
      const numbers = value as Float32Array;
      const size = numbers.length / count;
      return [name, numbers.subarray(first * size, end * size)];
    }),
  );
  return { ...(cut as unknown as T), tile };
}

/** Tiles whose every gathered texel holds `value(i)` in the sky's first coefficient, with a variance. */
async function gathered(
  quads: Quad[],
  value: (i: number) => number,
  noiseOf: number | ((i: number) => number),
  buried: (i: number) => boolean = () => false,
) {
  const surfaces = await quadSurfaces(quads, layout);
  const own = planTiles(surfaces, plan.paths).tiles.map((tile) => ({ tile, at: coverTexels(surfaces, tile).at }));
  const tiles = own.map(({ tile, at }): TileStems => {
    const values = new Float32Array(at.length * LAYERS * 3);
    at.forEach((texel, i) => values.fill(value(texel), i * LAYERS * 3, i * LAYERS * 3 + 3));
    const paths = Uint16Array.from(at, (texel) => (buried(texel) ? 0 : 16));
    const noise = new Float32Array(at.length * 3);
    const slots = varianceSlots(plan).length;
    const variance = Float32Array.from({ length: at.length * slots }, (_, k) =>
      typeof noiseOf === 'number' ? noiseOf : noiseOf(at[Math.floor(k / slots)]!),
    );
    const [light, errors] = [packColumns(values, at.length, 3), packColumns(variance.map(Math.sqrt), at.length, 1)];
    return { tile, at, light, errors, noise, paths, rays: 0 };
  });
  const direct = own.map(({ tile, at }) => noDirect(tile, at));
  return { surfaces, direct, tiles, finished: () => finish(surfaces, direct, tiles) };
}

/** White noise about 1. */
const noisy = (i: number) => 1 + 0.4 * ((Math.imul(i ^ (i >>> 5), 0x9e3779b1) >>> 8) / 2 ** 24 - 0.5);
const spread = (values: number[]) => {
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return Math.sqrt(values.reduce((a, b) => a + (b - mean) ** 2, 0) / values.length);
};

describe('what makes a lightmap fit to be looked up', () => {
  it('takes out noise that the variance explains, and keeps the mean', async () => {
    const { surfaces, finished } = await gathered([ground], noisy, 0.0133 / 0.2821 ** 2);
    const { layers } = await finished();
    const at = [...coverTexels(surfaces, { map: 0, top: 0, bottom: surfaces.maps[0]!.height }).at];
    const after = at.map((_, i) => layers[i * LAYER]!);
    expect(spread(after)).toBeLessThan(0.5 * spread(at.map(noisy)));
    expect(after.reduce((a, b) => a + b, 0) / after.length).toBeCloseTo(1, 2);
  });

  it('spreads what rare paths found over those that missed it, and adds or loses nothing by that', async () => {
    // Of one texel in nine a single path found a light, and it knows how uncertain that is; the others think that there is none.
    const found = (i: number) => ((Math.imul(i ^ (i >>> 7), 0x9e3779b1) >>> 8) / 2 ** 24 < 1 / 9 ? 9 : 0);
    const { surfaces, finished } = await gathered([ground], found, (i) => (found(i) / 0.2821) ** 2);
    const { layers } = await finished();
    const at = [...coverTexels(surfaces, { map: 0, top: 0, bottom: surfaces.maps[0]!.height }).at];
    const after = at.map((_, i) => layers[i * LAYER]!);
    const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;
    expect(Math.min(...after)).toBeGreaterThan(0.02);
    expect(spread(after)).toBeLessThan(0.3 * spread(at.map(found)));
    expect(mean(after) / mean(at.map(found))).toBeGreaterThan(0.93);
    expect(mean(after) / mean(at.map(found))).toBeLessThan(1.07);
  });

  it('keeps an edge that the variance does not explain', async () => {
    const { finished } = await gathered([ground], (i) => (i % 36 < 16 ? 1 : 9), 1e-4);
    const { width, at, layers } = await finished();
    expect(width).toBe(36);
    const row = [...at.keys()].filter((i) => Math.floor(at[i]! / width) === 16);
    expect(row.length).toBeGreaterThan(20);
    for (const i of row) expect(Math.abs(layers[i * LAYER]! - (at[i]! % width < 16 ? 1 : 9))).toBeLessThan(0.01);
  });

  it('fills buried texels from their own chart and leaves none of the surface dark', async () => {
    const { finished } = await gathered(
      [ground],
      () => 5,
      0,
      (i) => i % 7 === 0 || i % 5 === 0,
    );
    const { at, layers } = await finished();
    for (const i of at.keys()) expect(layers[i * LAYER]).toBeCloseTo(5, 3);
  });

  it('widens every chart by at least two texels', async () => {
    const { finished } = await gathered([ground, strip], () => 5, 0);
    const stems = await finished();
    const { width, height, at } = stems;
    const source = dilate(stems);
    for (const i of at) {
      for (const [dx, dy] of [
        [-2, 0],
        [2, 0],
        [0, -2],
        [0, 2],
        [2, 2],
      ] as const) {
        const [x, y] = [(i % width) + dx, Math.floor(i / width) + dy];
        if (x >= 0 && y >= 0 && x < width && y < height) expect(source[y * width + x]).toBeGreaterThanOrEqual(0);
      }
    }
  });

  it('refuses tiles that hold other texels than the map, and names them', async () => {
    const { surfaces, direct, tiles } = await gathered([ground, strip], noisy, 0.04);
    const lost = tiles.map((t, i) => (i === 0 ? { ...t, at: t.at.map((texel) => texel + 1) } : t));
    const fault = await finish(surfaces, direct, lost).catch((error: unknown) => error);
    expect(fault).toBeInstanceOf(OutdatedTiles);
    expect((fault as OutdatedTiles).tiles).toMatchObject([{ map: 0, top: tiles[0]!.tile.top }]);
  });

  it('joins charts where one surface goes on from one to the other, and not where it bends', async () => {
    // Two halves of one floor with a wall on the far edge of the second, each a chart of its own, of unlike light.
    const halves: Quad[] = [
      { name: 'near half', corner: [0, 0, 0], along: [0, 0, 4], up: [4, 0, 0] },
      { name: 'far half', corner: [4, 0, 0], along: [0, 0, 4], up: [4, 0, 0] },
      { name: 'wall', corner: [8, 0, 4], along: [0, 0, -4], up: [0, 4, 0] },
    ];
    const surfaces = await quadSurfaces(halves, layout);
    const charts = chartOfVertex(surfaces);
    const texels = coverTexels(surfaces, { map: 0, top: 0, bottom: surfaces.maps[0]!.height });
    const objectAt = new Map([...texels.at].map((t, i) => [t, surfaces.objects[surfaces.objectOf[texels.triangle[texels.start[i]!]!]!]!]));
    expect(new Set(charts).size).toBe(3);
    const level = { 'near half': 1, 'far half': 3, wall: 9 } as Record<string, number>;
    const tile = { map: 0, top: 0, bottom: surfaces.maps[0]!.height };
    const values = new Float32Array(texels.at.length * LAYERS * 3);
    texels.at.forEach((t, i) => values.fill(level[objectAt.get(t)!]!, i * LAYERS * 3, (i + 1) * LAYERS * 3));
    const count = texels.at.length;
    const { layers } = await finish(
      surfaces,
      [noDirect(tile, texels.at)],
      [
        {
          tile,
          at: texels.at,
          light: packColumns(values, count, 3),
          errors: packColumns(new Float32Array(count * 2), count, 1),
          noise: new Float32Array(count * 3),
          paths: new Uint16Array(count).fill(16),
          rays: 0,
        },
      ],
    );
    const found = [...texels.at.keys()].map((i) => ({ object: objectAt.get(texels.at[i]!)!, value: layers[i * LAYER]! }));
    const changed = (object: string) => found.filter((t) => t.object === object && Math.abs(t.value - level[object]!) > 1e-6);
    expect(changed('near half').length).toBeGreaterThan(8);
    expect(changed('far half').length).toBeGreaterThan(8);
    for (const t of [...changed('near half'), ...changed('far half')]) expect(t.value).toBeCloseTo(2, 3);
    expect(changed('wall')).toEqual([]);
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
    const { surfaces, finished } = await gathered([ground], noisy, 0.04);
    surfaces.normals.forEach((_, i) => (surfaces.normals[i] = i % 3 === 1 ? (Math.floor(i / 3) % 2 ? 1 : -1) : 0));
    const { at, layers } = await finished();
    expect(layers.every(Number.isFinite)).toBe(true);
    for (const i of at.keys()) expect(layers[i * LAYER]).toBeGreaterThan(0.5);
  });
});
