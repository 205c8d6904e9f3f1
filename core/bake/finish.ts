import type { MapSize, Surfaces } from '../level';
import type { TileDirect } from './direct';
import type { TileStems } from './gather';
import { varianceSlots } from './paths';
import { FIRST_SUN_LAYER, GLOW_LAYER, LAYER, SKY_LAYERS, circuitLayer, layerCount, type BakePlan, type MapStems } from './stems';
import { keepOutside, regionOf } from './region';
import { joinSeams } from './seams';
import { chartOfVertex, coverTexels, type Texels } from './texels';

/** Texels on each side that the filter looks at. */
const REACH = 2;

/** Where the texels of a map lie: what the filter must not blur across. Texel by texel of {@link Cover.at}. */
export interface Cover {
  width: number;
  height: number;
  at: Uint32Array;
  /** For each texel of the map its place in `at`; -1 where no surface is. */
  placeOf: Int32Array;
  chart: Int32Array;
  position: Float32Array;
  normal: Float32Array;
}

function readCover(surfaces: Surfaces, { width, height }: MapSize, texels: Texels, charts: Uint32Array): Cover {
  const count = texels.at.length;
  const cover: Cover = {
    width,
    height,
    at: texels.at,
    placeOf: new Int32Array(width * height).fill(-1),
    chart: new Int32Array(count),
    position: new Float32Array(count * 3),
    normal: new Float32Array(count * 3),
  };
  const { positions, normals, indices } = surfaces;
  for (let i = 0; i < count; i++) {
    cover.placeOf[texels.at[i]!] = i;
    const k = (texels.start[i]! + texels.start[i + 1]!) >> 1;
    const t = texels.triangle[k]! * 3;
    const [u, v] = [texels.u[k]!, texels.v[k]!];
    const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
    cover.chart[i] = charts[a]!;
    for (let x = 0; x < 3; x++) {
      cover.position[i * 3 + x] = positions[a * 3 + x]! * (1 - u - v) + positions[b * 3 + x]! * u + positions[c * 3 + x]! * v;
      cover.normal[i * 3 + x] = normals[a * 3 + x]! * (1 - u - v) + normals[b * 3 + x]! * u + normals[c * 3 + x]! * v;
    }
    // Interpolated between corners that lean apart it is shorter than one.
    const [nx, ny, nz] = [cover.normal[i * 3]!, cover.normal[i * 3 + 1]!, cover.normal[i * 3 + 2]!];
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    for (let x = 0; x < 3; x++) cover.normal[i * 3 + x]! /= length;
  }
  return cover;
}

/** The layers of a stem that is filtered as one; the luminance of the first guides it. */
interface Group {
  layers: number[];
  /** Its slot of the variance. */
  slot: number;
}

const groupsOf = (plan: BakePlan): Group[] =>
  [
    Array.from({ length: SKY_LAYERS }, (_, i) => i),
    [GLOW_LAYER],
    ...plan.suns.map((_, s) => [FIRST_SUN_LAYER + s]),
    ...plan.circuits.flatMap((_, i) => [0, 1].map((k) => [circuitLayer(plan, i) + k])),
  ].map((layers, slot) => ({ layers, slot }));

/**
 * Puts the tiles of one lightmap together and makes it fit to be looked up: noise is filtered within charts, texels that are buried
 * are filled from their neighbours, and charts are joined where the surface goes on from one to another.
 *
 * The filter averages over a 5 x 5 window, never across charts or off the plane of a texel, and only as far as two values
 * differ no more than their own noise explains (variance-guided, after Rousselle et al. 2012). Direct sun is left as it is, and so
 * is a circuit's straight light unless its materials glow.
 *
 * @param direct all tiles of the map as the first step left them, and `tiles` as the second did
 * @param options.only layers to finish, whole stems, ascending; the stems that come out hold them alone, one after another. Default: all
 * @param options.before the same layers of the bake before, for what lies outside of the objects that the plan is held to
 * @param options.seams joins charts. Default: true
 */
export function finishMap(
  surfaces: Surfaces,
  plan: BakePlan,
  map: number,
  direct: readonly TileDirect[],
  tiles: readonly TileStems[],
  {
    only = Array.from({ length: layerCount(plan) }, (_, layer) => layer),
    before = null,
    seams = true,
  }: { only?: readonly number[]; before?: MapStems | null; seams?: boolean } = {},
): MapStems {
  const size = surfaces.maps[map]!;
  const texels = coverTexels(surfaces, { map, top: 0, bottom: size.height });
  const cover = readCover(surfaces, size, texels, chartOfVertex(surfaces));
  const count = cover.at.length;
  const layers = new Float32Array(count * only.length * LAYER);
  const placeOfLayer = new Int32Array(layerCount(plan)).fill(-1);
  only.forEach((layer, k) => (placeOfLayer[layer] = k));
  const slots = varianceSlots(plan);
  const variance = new Float32Array(count * slots);
  const valid = new Uint8Array(count);
  for (const tile of tiles) putPaths(cover, tile, layers, placeOfLayer, variance, valid, slots);
  for (const tile of direct) putDirect(cover, tile, plan, layers, placeOfLayer);
  if (placeOfLayer[0] === 0) for (let i = 0; i < count; i++) layers[i * LAYER + 3] = valid[i]!;
  const groups = groupsOf(plan)
    .filter((g) => placeOfLayer[g.layers[0]!]! >= 0)
    .map((g) => ({ ...g, layers: g.layers.map((layer) => placeOfLayer[layer]!) }));
  filterStems(layers, cover, groups, { variance, slots }, valid, texelSpacing(cover));
  const flagged = placeOfLayer[0] === 0;
  fillBuried(layers, cover, valid, flagged);
  if (seams) joinSeams(surfaces, map, layers, cover, valid, flagged);
  const { width, height, at } = cover;
  const stems = { width, height, at, layers };
  if (before) keepOutside(stems, before, regionOf(surfaces, texels, plan));
  return stems;
}

function putPaths(
  { at, placeOf }: Cover,
  tile: TileStems,
  layers: Float32Array,
  placeOfLayer: Int32Array,
  variance: Float32Array,
  valid: Uint8Array,
  slots: number,
): void {
  const count = at.length;
  const own = tile.at.length;
  const numbers = own > 0 ? tile.values.length / own : 0;
  // Layer by layer, so that what is written lies together.
  for (let layer = 0; layer * 3 < numbers; layer++) {
    const into = placeOfLayer[layer]!;
    if (into < 0) continue;
    for (let i = 0; i < own; i++) {
      const from = i * numbers + layer * 3;
      const to = (into * count + placeOf[tile.at[i]!]!) * LAYER;
      layers[to] = tile.values[from]!;
      layers[to + 1] = tile.values[from + 1]!;
      layers[to + 2] = tile.values[from + 2]!;
    }
  }
  for (let i = 0; i < own; i++) {
    const place = placeOf[tile.at[i]!]!;
    valid[place] = tile.paths[i]! > 0 ? 1 : 0;
    if (placeOfLayer[0] === 0) layers[(count + place) * LAYER + 3] = tile.noise[i]!;
    variance.set(tile.variance.subarray(i * slots, (i + 1) * slots), place * slots);
  }
}

function putDirect({ at, placeOf }: Cover, tile: TileDirect, plan: BakePlan, layers: Float32Array, placeOfLayer: Int32Array): void {
  const count = at.length;
  const [suns, circuits] = [plan.suns.length, plan.circuits.length];
  for (let s = 0; s < suns; s++) {
    const into = placeOfLayer[FIRST_SUN_LAYER + s]! * count;
    if (into < 0) continue;
    for (let i = 0; i < tile.at.length; i++) layers[(into + placeOf[tile.at[i]!]!) * LAYER + 3] = tile.suns[i * suns + s]!;
  }
  for (let k = 0; k < circuits; k++) {
    const into = placeOfLayer[circuitLayer(plan, k)]! * count;
    if (into < 0) continue;
    for (let i = 0; i < tile.at.length; i++) {
      const to = (into + placeOf[tile.at[i]!]!) * LAYER;
      for (let c = 0; c < 3; c++) layers[to + c]! += tile.circuits[(i * circuits + k) * 3 + c]!;
    }
  }
}

/** Median distance in metres between neighbouring texels of one chart. */
function texelSpacing({ at, width, placeOf, chart, position }: Cover): number {
  const distances: number[] = [];
  const step = Math.max(1, Math.floor(at.length / 4096));
  for (let i = 0; i < at.length; i += step) {
    const next = at[i]! % width === width - 1 ? -1 : placeOf[at[i]! + 1]!;
    if (next < 0 || chart[i] !== chart[next]) continue;
    distances.push(Math.hypot(...[0, 1, 2].map((c) => position[i * 3 + c]! - position[next * 3 + c]!)));
  }
  distances.sort((a, b) => a - b);
  return distances[distances.length >> 1] ?? 1;
}

/** Squares of the distance of two values, in units of their noise, from which on they have nothing to do with each other. */
const UNLIKE = 10;

/** The texels that the filter averages over for each texel: those of its window that lie on the same surface. */
interface Windows {
  /** Texel `i` has the members `start[i]` to `start[i + 1]`. */
  start: Uint32Array;
  member: Uint32Array;
  /** How far each counts for where it lies and faces alone. */
  share: Float32Array;
}

function findWindows({ at, width, height, placeOf, chart, position, normal }: Cover, valid: Uint8Array, spacing: number): Windows {
  const size = at.length;
  const side = 2 * REACH + 1;
  const near = Float64Array.from({ length: side * side }, (_, k) =>
    Math.exp(-((Math.floor(k / side) - REACH) ** 2 + ((k % side) - REACH) ** 2) / (2 * REACH)),
  );
  const start = new Uint32Array(size + 1);
  const member = new Uint32Array(size * side * side);
  const share = new Float32Array(size * side * side);
  let count = 0;
  for (let i = 0; i < size; i++) {
    start[i] = count;
    if (valid[i] === 0) continue;
    const x = at[i]! % width;
    const y = (at[i]! - x) / width;
    const px = position[i * 3]!;
    const py = position[i * 3 + 1]!;
    const pz = position[i * 3 + 2]!;
    const nx = normal[i * 3]!;
    const ny = normal[i * 3 + 1]!;
    const nz = normal[i * 3 + 2]!;
    for (let v = Math.max(0, y - REACH); v <= Math.min(height - 1, y + REACH); v++) {
      for (let u = Math.max(0, x - REACH); u <= Math.min(width - 1, x + REACH); u++) {
        const j = placeOf[v * width + u]!;
        if (j < 0 || valid[j] === 0 || chart[j] !== chart[i]) continue;
        const facing = nx * normal[j * 3]! + ny * normal[j * 3 + 1]! + nz * normal[j * 3 + 2]!;
        // A texel always counts itself, also where opposed corner normals leave it without one.
        if (j !== i && facing <= 0.8) continue;
        const off = (position[j * 3]! - px) * nx + (position[j * 3 + 1]! - py) * ny + (position[j * 3 + 2]! - pz) * nz;
        if (Math.abs(off) > spacing) continue;
        const four = facing * facing * facing * facing;
        member[count] = j;
        share[count++] = near[(v - y + REACH) * side + u - x + REACH]! * (j === i ? 1 : four * four);
      }
    }
  }
  start[size] = count;
  return { start, member, share };
}

function filterStems(
  layers: Float32Array,
  cover: Cover,
  groups: readonly Group[],
  { variance: noise, slots }: { variance: Float32Array; slots: number },
  valid: Uint8Array,
  spacing: number,
): void {
  const size = cover.at.length;
  const windows = findWindows(cover, valid, spacing);
  const guide = new Float32Array(size);
  const variance = new Float32Array(size);
  // One after another, so that what is looked up all over a map is small.
  for (const { layers: own, slot } of groups) {
    const source = own.map((layer) => layers.slice(layer * size * LAYER, (layer + 1) * size * LAYER));
    const into = own.map((layer) => layers.subarray(layer * size * LAYER, (layer + 1) * size * LAYER));
    const [first] = source;
    // The sky's first coefficient is what escapes above the horizon times Y00; its noise was measured without that factor.
    const toGuide = slot === 0 ? 2 * Math.sqrt(Math.PI) : 1;
    for (let i = 0; i < size; i++) {
      variance[i] = noise[i * slots + slot]!;
      const k = i * LAYER;
      guide[i] = toGuide * (0.2126 * first![k]! + 0.7152 * first![k + 1]! + 0.0722 * first![k + 2]!);
    }
    filterGroup(source, into, windows, guide, variance);
  }
}

/** Averages the layers of one group over the windows of its texels. */
function filterGroup(
  source: readonly Float32Array[],
  into: readonly Float32Array[],
  { start, member, share }: Windows,
  guide: Float32Array,
  variance: Float32Array,
): void {
  const weights = new Float64Array((2 * REACH + 1) ** 2);
  for (let i = 0; i < guide.length; i++) {
    const from = start[i]!;
    const count = start[i + 1]! - from;
    const ownNoise = variance[i]!;
    if (count === 0 || ownNoise === 0) continue;
    const own = guide[i]!;
    let whole = 0;
    for (let k = 0; k < count; k++) {
      const j = member[from + k]!;
      const apart = own - guide[j]!;
      // A bell over the distance in units of both values' noise, which ends where they have nothing to do with each other.
      const like = 1 - (apart * apart) / (UNLIKE * (ownNoise + variance[j]!) + 1e-30);
      whole += weights[k] = like > 0 ? share[from + k]! * like * like * like * like : 0;
    }
    for (let layer = 0; layer < source.length; layer++) {
      const values = source[layer]!;
      let [r, g, b] = [0, 0, 0];
      for (let k = 0; k < count; k++) {
        const at = member[from + k]! * LAYER;
        const weight = weights[k]!;
        r += weight * values[at]!;
        g += weight * values[at + 1]!;
        b += weight * values[at + 2]!;
      }
      const out = into[layer]!;
      out[i * LAYER] = r / whole;
      out[i * LAYER + 1] = g / whole;
      out[i * LAYER + 2] = b / whole;
    }
  }
}

/**
 * Fills buried texels from the mean of their filled neighbours of the same chart, ring by ring; of a chart that is buried altogether
 * from any neighbours. The flag of gathered texels stays, where the layers have it (`flagged`).
 */
function fillBuried(layers: Float32Array, cover: Cover, valid: Uint8Array, flagged: boolean): void {
  const { at, chart } = cover;
  const count = at.length;
  const size = layers.length / count / LAYER;
  const filled = valid.slice();
  for (const sameChart of [true, false]) {
    let open = Array.from(at.keys()).filter((i) => filled[i] === 0);
    while (open.length > 0) {
      const reached: number[] = [];
      const from: number[][] = [];
      for (const i of open) {
        const sources = around(cover, i).filter((j) => filled[j] === 1 && (!sameChart || chart[j] === chart[i]));
        if (sources.length === 0) continue;
        reached.push(i);
        from.push(sources);
      }
      if (reached.length === 0) break;
      for (let layer = 0; layer < size; layer++) {
        reached.forEach((i, k) => {
          const to = (layer * count + i) * LAYER;
          for (let c = 0; c < LAYER; c++) {
            if (flagged && layer === 0 && c === 3) continue;
            layers[to + c] = from[k]!.reduce((sum, j) => sum + layers[(layer * count + j) * LAYER + c]!, 0) / from[k]!.length;
          }
        });
      }
      for (const i of reached) filled[i] = 1;
      open = open.filter((i) => filled[i] === 0);
    }
  }
}

/** Places of the up to eight neighbours of a texel that surface covers. */
function around({ at, width, height, placeOf }: Cover, i: number): number[] {
  const x = at[i]! % width;
  const y = (at[i]! - x) / width;
  const out: number[] = [];
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++) {
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
      const j = placeOf[v * width + u]!;
      if (j >= 0 && j !== i) out.push(j);
    }
  }
  return out;
}
