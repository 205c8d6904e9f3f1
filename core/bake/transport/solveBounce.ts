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
/** Most numbers, and most links, of the cells that there really are: those at the edges of charts are not full, and small charts have edges alone. */
const MOST = { numbers: 40e6, links: 16e6 } as const;
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

/** What is known of cells while their rays are followed. */
interface Traced {
  /** Links from cells to places of the light. */
  links: CellLinks;
  /** What light the rays of each cell found. */
  values: Float32Array;
  /** The cell of each place. */
  cellOf: Uint32Array;
  /** Cells and links that are found so far. */
  cells: number;
  found: number;
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
  mostNumbers: number = MOST.numbers,
): BouncedLight {
  const { maps } = scene.surfaces;
  const numbers = layerCount(plan) * 4;
  const planned = cellsFor(plan, litTexels(light));
  const { rays } = planned;
  const { side, cells } = cellsThatFit(scene, light, planned.side, Math.min(mostNumbers / numbers, MOST.links / rays));
  // A path that lands here has bounced once already.
  const tracer = createPathTracer(scene, { ...plan, bounces: plan.bounces - 1 }, light, null);
  const traced: Traced = {
    links: createCellLinks(cells, cells * rays),
    values: new Float32Array(new SharedArrayBuffer(cells * numbers * 4)),
    cellOf: new Uint32Array(new SharedArrayBuffer(light.places * 4)),
    cells: 0,
    found: 0,
  };
  const allRows = maps.reduce((sum, { height }) => sum + height, 0);
  let rows = 0;
  try {
    for (const tile of stripsOf(scene.surfaces)) {
      traceStrip(scene, plan, light, tracer, { tile, side, rays }, traced);
      progress?.((TRACED * (rows += tile.bottom - tile.top)) / allRows);
    }
  } finally {
    tracer.stored.close();
  }
  const { links, values, cellOf } = traced;
  for (let link = 0; link < traced.found; link++) links.target[link] = cellOf[links.target[link]!]!;
  const settings = { layers: numbers / 4, bounces: plan.bounces - 2, settled: SETTLED };
  bounceBetweenCells(links, values, settings, (share) => progress?.(TRACED + (1 - TRACED) * share));
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

/** How many cells a level has of the planned side, or of a larger one where those were more than `most`. */
function cellsThatFit(scene: Scene, light: DirectLight, planned: number, most: number): { side: number; cells: number } {
  for (let side = planned; ; side *= 2) {
    let cells = 0;
    for (const tile of stripsOf(scene.surfaces))
      for (const { groups } of cellsOfStrip(scene, light, tile, side).sides) cells += groups.length;
    if (cells <= most || side >= SIDES.most) return { side, cells };
  }
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

/** Follows the rays of the cells of some rows, and adds what they find. */
function traceStrip(
  scene: Scene,
  plan: BakePlan,
  light: DirectLight,
  tracer: PathTracer,
  { tile, side, rays }: { tile: Tile; side: number; rays: number },
  traced: Traced,
): void {
  const { map } = tile;
  const open = light.open[map]!;
  const { texels, sides } = cellsOfStrip(scene, light, tile, side);
  const numbers = layerCount(plan) * 4;
  const { links, values, cellOf } = traced;
  tracer.begin(0);
  for (const { back, places, groups } of sides) {
    for (const group of groups) {
      const cell = traced.cells++;
      for (const i of group) cellOf[places[texels.at[i]!]! - 1] = cell;
      tracer.stored.clear(0);
      const seed = hash32(texelSeed(texels.at[group[0]!]!, map, plan.seed), back ? 0xb1 : 0xb0);
      const stand = pointsOf(texels, group, (i) => open[texels.at[i]!]!, seed);
      for (let ray = 0; ray < rays; ray++) {
        const k = stand(ray);
        tracer.here.stand(texels.triangle[k]!, texels.u[k]!, texels.v[k]!, back);
        tracer.scatter(ray, PAIRS.direction, seed);
        const place = tracer.follow(ray, seed, 1);
        if (place < 0) continue;
        const link = traced.found++;
        links.target[link] = place;
        for (let c = 0; c < 3; c++) links.share[link * 4 + c] = tracer.throughput[c]! / rays;
      }
      links.start[cell + 1] = traced.found;
      tracer.stored.flush();
      seenOfSums(plan, tracer.stored.sums(0), rays, values.subarray(cell * numbers, (cell + 1) * numbers));
    }
  }
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
