import type { Surfaces } from '../../level';
import type { TileDirect } from '../transport/directTile';
import { filterLayers, type Group } from './denoise';
import type { TileStems } from '../transport/gatherTile';
import { readCover, type Cover } from '../texels/mapCover';
import { slotPlaces, varianceSlots } from '../transport/paths';
import { FIRST_SUN_LAYER, GLOW_LAYER, LAYER, SKY_LAYERS, circuitLayer, layerCount, type MapStems } from '../stems/layers';
import { type BakePlan } from '../plan/bakePlan';
import { keepOutside, regionOf } from '../plan/objectMask';
import { joinSeams } from './stitchSeams';
import { chartOfVertex, coverTexels } from '../texels/coverTexels';

const groupsOf = (plan: BakePlan): Group[] =>
  [
    Array.from({ length: SKY_LAYERS }, (_, i) => i),
    [GLOW_LAYER],
    ...plan.suns.map((_, s) => [FIRST_SUN_LAYER + s]),
    ...plan.circuits.flatMap((_, i) => [0, 1].map((k) => [circuitLayer(plan, i) + k])),
  ].map((layers, slot) => ({ layers, slot, toGuide: slotPlaces(plan)[slot]!.scale }));

/**
 * Puts the tiles of one lightmap together and makes it fit to be looked up: noise is filtered within charts, texels that are buried
 * are filled from their neighbours, and charts are joined where the surface goes on from one to another.
 *
 * Direct sun is not filtered, and neither is a circuit's straight light unless its materials glow (see {@link filterLayers}).
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
  filterLayers(layers, cover, groups, { variance, slots }, valid);
  const flagged = placeOfLayer[0] === 0;
  fillBuried(layers, cover, valid, flagged);
  if (seams) joinSeams(surfaces, map, layers, cover, valid, flagged);
  const { width, height, at } = cover;
  const stems = { width, height, at, layers };
  if (before) keepOutside(stems, before, regionOf(surfaces, texels, plan));
  return stems;
}

/** Texels whose numbers are put into their layers at a time. */
const AT_ONCE = 64;

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
  // Some texels at a time, layer by layer, so that what is read and what is written both lie together.
  for (let first = 0; first < own; first += AT_ONCE) {
    const end = Math.min(own, first + AT_ONCE);
    for (let layer = 0; layer * 3 < numbers; layer++) {
      const into = placeOfLayer[layer]!;
      if (into < 0) continue;
      for (let i = first; i < end; i++) {
        const from = i * numbers + layer * 3;
        const to = (into * count + placeOf[tile.at[i]!]!) * LAYER;
        layers[to] = tile.values[from]!;
        layers[to + 1] = tile.values[from + 1]!;
        layers[to + 2] = tile.values[from + 2]!;
      }
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
