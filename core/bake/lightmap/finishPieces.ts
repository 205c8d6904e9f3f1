import { fromHalf, readHalves } from '../stems/halfFloat';
import type { Surfaces } from '../../level';
import type { BakePlan } from '../plan/bakePlan';
import { objectMask } from '../plan/objectMask';
import { LAYER, aureoleLayer, circuitLayer } from '../stems/layers';
import { packLayer, type HalfStems } from '../stems/stemCodec';
import type { Piece } from '../stems/stemParts';
import { eachStrip, mapOutline } from '../texels/mapOutline';
import { createFinisher, type LayerFinisher } from './finishLayers';
import type { BandStems } from './denoiseBand';

/** Pieces of the stems of one lightmap that are finished in one go. */
export interface FinishJob {
  map: number;
  pieces: Piece[];
}

/** What a {@link FinishJob} starts from. */
export interface FinishInputs {
  /** All bands of the map, in order; of their layers those of the job alone. */
  bands: readonly BandStems[];
  /** The same layers of the bake before, for what lies outside of the objects that the plan is held to. */
  before: HalfStems | null;
}

/** Finished layers of the pieces of a job, one after another, over all texels of their map. */
export type FinishedPieces = HalfStems;

/**
 * Last step of a bake: puts the bands of a map together and makes the layers of some pieces fit to be looked up (see
 * {@link createFinisher}), one layer after another.
 */
export function finishPieces(
  surfaces: Surfaces,
  plan: BakePlan,
  { map, pieces }: FinishJob,
  { bands, before }: FinishInputs,
): FinishedPieces {
  const { width, height, at } = mapOutline(surfaces, map);
  const finish = finisherOf(surfaces, map, joined(bands), !plan.without?.includes('seams'));
  const region = before && objectMaskOfMap(surfaces, plan, map, at.length);
  const places = before && placesBefore(at, before.at);
  const layers = pieces.flatMap((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k));
  const size = at.length * LAYER;
  const out: FinishedPieces = {
    width,
    height,
    at,
    scales: new Float32Array(layers.length),
    halves: new Uint16Array(layers.length * size),
  };
  const values = new Float32Array(size);
  layers.forEach((layer, k) => {
    let to = 0;
    for (const { valid, scales, halves } of bands) {
      const own = valid.length * LAYER;
      readHalves(halves.subarray(k * own, (k + 1) * own), scales[k]!, values, to);
      to += own;
    }
    finish(values, layer, isDirect(plan, layer));
    if (region) keepOutside(values, before!, k, region, places!);
    out.scales[k] = packLayer(values, out.halves.subarray(k * size, (k + 1) * size));
  });
  return out;
}

/** Whether a layer is the direct light of a circuit. */
const isDirect = (plan: BakePlan, layer: number): boolean =>
  layer >= circuitLayer(plan, 0) && layer < aureoleLayer(plan, 0) && (layer - circuitLayer(plan, 0)) % 2 === 0;

const joined = (bands: readonly BandStems[]): Uint8Array => {
  const out = new Uint8Array(bands.reduce((sum, b) => sum + b.valid.length, 0));
  let at = 0;
  for (const { valid } of bands) {
    out.set(valid, at);
    at += valid.length;
  }
  return out;
};

/** The last finisher of each level: the jobs of one map follow one another. */
const last = new WeakMap<Float32Array, { map: number; valid: Uint8Array; seams: boolean; finish: LayerFinisher }>();

function finisherOf(surfaces: Surfaces, map: number, valid: Uint8Array, seams: boolean): LayerFinisher {
  const known = last.get(surfaces.lightmapUv);
  if (known?.map === map && known.seams === seams && known.valid.length === valid.length && known.valid.every((v, i) => v === valid[i]))
    return known.finish;
  const finish = createFinisher(surfaces, map, valid, { seams });
  last.set(surfaces.lightmapUv, { map, valid, seams, finish });
  return finish;
}

/** Which texels of a map, of `count`, a plan that is held to some objects traces. */
export function objectMaskOfMap(surfaces: Surfaces, plan: BakePlan, map: number, count: number): Uint8Array {
  const region = new Uint8Array(count);
  let first = 0;
  eachStrip(surfaces, map, (texels) => {
    region.set(objectMask(surfaces, texels, plan), first);
    first += texels.at.length;
  });
  return region;
}

/** For each texel of a map its place among those of a bake before, -1 where that one had none there. Both ascend. */
export function placesBefore(at: Uint32Array, before: Uint32Array): Int32Array {
  const places = new Int32Array(at.length).fill(-1);
  for (let i = 0, k = 0; i < at.length; i++) {
    while (k < before.length && before[k]! < at[i]!) k++;
    if (before[k] === at[i]) places[i] = k;
  }
  return places;
}

/** Puts the light of a bake before where nothing was traced anew. */
function keepOutside(values: Float32Array, { at, scales, halves }: HalfStems, layer: number, region: Uint8Array, places: Int32Array): void {
  for (let i = 0; i < region.length; i++) {
    if (region[i] === 1) continue;
    const from = places[i]!;
    for (let c = 0; c < LAYER; c++)
      values[i * LAYER + c] = from < 0 ? 0 : fromHalf(halves[(layer * at.length + from) * LAYER + c]!) * scales[layer]!;
  }
}

/** The stems of a map whose pieces are all finished; layers that were not traced stay dark. */
export function joinPieces(layers: number, all: readonly { job: FinishJob; finished: FinishedPieces }[]): HalfStems {
  const { width, height, at } = all[0]!.finished;
  const size = at.length * LAYER;
  const stems: HalfStems = { width, height, at, scales: new Float32Array(layers).fill(1), halves: new Uint16Array(layers * size) };
  for (const { job, finished } of all) {
    let from = 0;
    for (const { layer, layers: count } of job.pieces) {
      stems.scales.set(finished.scales.subarray(from, from + count), layer);
      stems.halves.set(finished.halves.subarray(from * size, (from + count) * size), layer * size);
      from += count;
    }
  }
  return stems;
}
