import { bounceBetweenCells, createCellLinks, type CellLinks } from '../../trace';
import type { BakePlan } from '../plan/bakePlan';
import { hash32, texelSeed } from '../sampling/sobol';
import { GLOW_LAYER, circuitLayer, layerCount } from '../stems/layers';
import type { Surfaces } from '../../level';
import { cellsOf } from '../texels/cells';
import { coverTexels, type Texels, type Tile } from '../texels/coverTexels';
import type { BouncedLight } from './bouncedLight';
import type { DirectLight } from './directLight';
import { openPoints } from './directTile';
import { kindLuminances, kindWeights, kindsOf } from './lightKinds';
import { PAIRS, createPathTracer, type PathTracer } from './paths';
import type { Scene } from './scene';

/** Rays from each cell for each first path of the plan, and the fewest and most. */
const RAYS = { each: 2, least: 32, most: 256 } as const;
/**
 * Most links between cells for each texel and path, where there are more than a few; most links, and most numbers of all cells together: larger
 * levels have larger cells, and those of a rough bake are larger.
 */
const LIMITS = { perPath: 0.5, few: 1_000_000, links: 8e6, numbers: 24e6 } as const;
/** Most numbers of the cells that there really are: those at the edges of charts are not full, and small charts have edges alone. */
const MOST_NUMBERS = 40e6;
/** Sides of the smallest and largest cells, texels: powers of two. */
const SIDES = { least: 1, most: 64 } as const;
/** Rows of a map that are looked at in one go: a multiple of any cell's side. */
const STRIP_ROWS = SIDES.most;
/** A bounce that adds less than this share of its light to each layer is the last. */
const SETTLED = 5e-4;
/** The golden ratio's fraction. */
const GOLDEN = (Math.sqrt(5) - 1) / 2;
/** What tracing counts for in the progress, about. */
const TRACED = 0.6;

/** The cells of some rows: their links to places, and what light their rays found. */
interface Strip {
  /** How many links each cell has. */
  counts: number[];
  target: Uint32Array;
  share: Float32Array;
  values: Float32Array;
}

/**
 * Second step of a bake: the bounced light of the whole level on cells of some texels. Rays from each cell find where its light comes from: what
 * they see of the light that is known already, and the cells that they land on. Further bounces need no more rays: they are sums over those
 * links, repeated until they add nothing (radiosity, Goral et al. 1984, its form factors found by rays).
 *
 * Paths of the next step end where they first land, and take this light there.
 *
 * @param progress told the share done, 0..1, now and then
 * @param mostNumbers the most that the light of all cells may be, where larger cells can help
 */
export function solveBounce(
  scene: Scene,
  plan: BakePlan,
  light: DirectLight,
  progress?: (share: number) => void,
  mostNumbers: number = MOST_NUMBERS,
): BouncedLight {
  const { maps } = scene.surfaces;
  const numbers = layerCount(plan) * 4;
  const planned = cellsFor(plan, litTexels(light));
  const { rays } = planned;
  const side = sideThatFits(scene, light, planned.side, mostNumbers / numbers);
  // A path that lands here has bounced once already.
  const tracer = createPathTracer(scene, { ...plan, bounces: plan.bounces - 1 }, light, null);
  const cellOf = new Uint32Array(new SharedArrayBuffer(light.places * 4));
  const strips: Strip[] = [];
  const found: Found = { target: new Uint32Array(0), share: new Float32Array(0) };
  const allRows = maps.reduce((sum, { height }) => sum + height, 0);
  let [cells, rows] = [0, 0];
  try {
    for (const tile of stripsOf(scene.surfaces)) {
      const strip = traceStrip(scene, plan, light, tracer, { tile, side, rays, first: cells, cellOf, found });
      cells += strip.counts.length;
      strips.push(strip);
      progress?.((TRACED * (rows += tile.bottom - tile.top)) / allRows);
    }
  } finally {
    tracer.stored.close();
  }
  const values = new Float32Array(new SharedArrayBuffer(cells * numbers * 4));
  let at = 0;
  for (const strip of strips) {
    values.set(strip.values, at);
    at += strip.values.length;
    strip.values = new Float32Array(0);
  }
  const settings = { layers: numbers / 4, bounces: plan.bounces - 2, settled: SETTLED };
  bounceBetweenCells(joinLinks(strips, cells, cellOf), values, settings, (share) => progress?.(TRACED + (1 - TRACED) * share));
  const kinds = kindLuminances(kindWeights(scene.surfaces.materials, plan, light.scales), kindsOf(plan), values);
  return { cellOf, values, kinds, rays: tracer.rays() };
}

/** The rows of all maps, as they are looked at. */
const stripsOf = ({ maps }: Surfaces): Tile[] =>
  maps.flatMap(({ height }, map) =>
    Array.from({ length: Math.ceil(height / STRIP_ROWS) }, (_, strip) => ({
      map,
      top: strip * STRIP_ROWS,
      bottom: Math.min(height, (strip + 1) * STRIP_ROWS),
    })),
  );

/** Groups of the texels of some rows that are one cell each, fronts and backs. */
function cellsOfStrip({ surfaces }: Scene, light: DirectLight, tile: Tile, side: number) {
  const texels = coverTexels(surfaces, tile);
  const groupsOf = (places: Uint32Array) => cellsOf(surfaces, tile, texels, side, (i) => places[texels.at[i]!] !== 0);
  const [fronts, backs] = [light.index[tile.map]!, light.backIndex[tile.map]!];
  return {
    texels,
    sides: [
      { back: false, places: fronts, groups: groupsOf(fronts) },
      { back: true, places: backs, groups: groupsOf(backs) },
    ],
  };
}

/** The planned side of cells, or a larger one where the level would have more than `most` cells of that side. */
function sideThatFits(scene: Scene, light: DirectLight, planned: number, most: number): number {
  if (litTexels(light) <= most) return planned;
  let side = planned;
  const count = () =>
    stripsOf(scene.surfaces).reduce(
      (sum, tile) => sum + cellsOfStrip(scene, light, tile, side).sides.reduce((own, { groups }) => own + groups.length, 0),
      0,
    );
  while (side < SIDES.most && count() > most) side *= 2;
  return side;
}

/** Texels that light is stored for, and backs of those on two-sided surfaces. */
function litTexels({ index, backIndex }: DirectLight): number {
  let count = 0;
  for (const places of [...index, ...backIndex]) for (let i = 0; i < places.length; i++) if (places[i] !== 0) count++;
  return count;
}

/** The smallest side of cells, and the rays from each, by which a level of so many texels keeps within the limits. */
function cellsFor(plan: BakePlan, texels: number): { side: number; rays: number } {
  const rays = Math.min(RAYS.most, Math.max(RAYS.least, RAYS.each * plan.paths));
  const numbers = layerCount(plan) * 4;
  const links = Math.min(LIMITS.links, Math.max(LIMITS.few, LIMITS.perPath * plan.paths * texels));
  let side: number = SIDES.least;
  const cells = () => texels / side ** 2;
  while (side < SIDES.most && (cells() * rays > links || cells() * numbers > LIMITS.numbers)) side *= 2;
  return { side, rays };
}

/** Rays that the bounced light of a level of so many texels takes, and the bytes that it is kept in, about: blocks at the edges of charts are not full. */
export function bounceCost(plan: BakePlan, texels: number): { rays: number; bytes: number } {
  const { side, rays } = cellsFor(plan, texels);
  const cells = texels / side ** 2;
  return { rays: cells * rays, bytes: cells * layerCount(plan) * 16 };
}

/** Room for the links of a strip, whose number is known once they are found. */
interface Found {
  target: Uint32Array;
  share: Float32Array;
}

interface StripArgs {
  tile: Tile;
  side: number;
  rays: number;
  /** The number of the first cell. */
  first: number;
  cellOf: Uint32Array;
  /** What the links of one strip are written to first. */
  found: Found;
}

/** Follows the rays of the cells of some rows. */
function traceStrip(
  scene: Scene,
  plan: BakePlan,
  light: DirectLight,
  tracer: PathTracer,
  { tile, side, rays, first, cellOf, found }: StripArgs,
): Strip {
  const { map } = tile;
  const open = light.open[map]!;
  const { texels, sides } = cellsOfStrip(scene, light, tile, side);
  const numbers = layerCount(plan) * 4;
  const cells = sides.reduce((sum, { groups }) => sum + groups.length, 0);
  const counts: number[] = [];
  const values = new Float32Array(cells * numbers);
  if (found.target.length < cells * rays) {
    found.target = new Uint32Array(cells * rays);
    found.share = new Float32Array(cells * rays * 3);
  }
  tracer.begin(0);
  let links = 0;
  for (const { back, places, groups } of sides) {
    for (const group of groups) {
      const before = links;
      const cell = counts.length;
      for (const i of group) cellOf[places[texels.at[i]!]! - 1] = first + cell;
      tracer.stored.clear(0);
      const seed = hash32(texelSeed(texels.at[group[0]!]!, map, plan.seed), back ? 0xb1 : 0xb0);
      const stand = pointsOf(texels, group, (i) => open[texels.at[i]!]!, seed);
      for (let ray = 0; ray < rays; ray++) {
        const k = stand(ray);
        tracer.here.stand(texels.triangle[k]!, texels.u[k]!, texels.v[k]!, back);
        tracer.scatter(ray, PAIRS.direction, seed);
        const place = tracer.follow(ray, seed, 1);
        if (place < 0) continue;
        found.target[links] = place;
        for (let c = 0; c < 3; c++) found.share[links * 3 + c] = tracer.throughput[c]! / rays;
        links++;
      }
      counts.push(links - before);
      tracer.stored.flush();
      seenOfSums(plan, tracer.stored.sums(0), rays, values.subarray(cell * numbers, (cell + 1) * numbers));
    }
  }
  return { counts, values, target: found.target.slice(0, links), share: found.share.slice(0, links * 3) };
}

/** Points of a group of texels, by the number of a ray: all over the group, so that a texel counts by how much of it is surface. */
function pointsOf(texels: Texels, group: readonly number[], maskOf: (i: number) => number, seed: number): (ray: number) => number {
  const points = group.flatMap((i) => openPoints(texels, i, maskOf(i)));
  // Steps of about the golden ratio come to places all over the list, from a place of the group's own.
  const begin = (seed >>> 8) / 2 ** 24;
  return (ray) => points[Math.floor(((begin + ray * GOLDEN) % 1) * points.length)]!;
}

/** Means of what rays brought: what a cell sees of glowing surfaces bounces for who looks at the cell. */
function seenOfSums(plan: BakePlan, sums: Float32Array, rays: number, out: Float32Array): void {
  for (let k = 0; k < sums.length; k++) out[k] = sums[k]! / rays;
  for (const straight of [GLOW_LAYER, ...plan.circuits.map((_, circuit) => circuitLayer(plan, circuit))]) {
    for (let k = straight * 4; k < straight * 4 + 3; k++) {
      out[k + 4]! += out[k]!;
      out[k] = 0;
    }
  }
}

/** Links of all strips, from cell to cell; what strips held of them is let go of. */
function joinLinks(strips: readonly Strip[], cells: number, cellOf: Uint32Array): CellLinks {
  const links = createCellLinks(
    cells,
    strips.reduce((sum, s) => sum + s.target.length, 0),
  );
  let [cell, at] = [0, 0];
  for (const strip of strips) {
    const { counts, target, share } = strip;
    for (let link = 0; link < target.length; link++, at++) {
      links.target[at] = cellOf[target[link]!]!;
      for (let c = 0; c < 3; c++) links.share[at * 4 + c] = share[link * 3 + c]!;
    }
    for (const own of counts) links.start[++cell] = links.start[cell - 1]! + own;
    strip.target = new Uint32Array(0);
    strip.share = new Float32Array(0);
  }
  return links;
}
