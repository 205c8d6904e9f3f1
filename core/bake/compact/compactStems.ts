import type { Gains } from '../stems/gains';
import type { BakedParts } from '../plan/bakePlan';
import { LAYER, NOISE_KINDS, noiseLayer, type MapStems } from '../stems/layers';
import { fromHalf, readHalves } from '../stems/halfFloat';
import type { HalfStems } from '../stems/stemCodec';
import { COLOR_BYTES, colorCode } from './colorCodes';
import { compactParts, layerNames, type CompactTable } from './compactParts';
import { findBasis } from './groupBasis';
import { encodeGroup } from './groupCodes';
import type { LayerBlock } from './layerBlock';
import { layerWeights } from './layerWeights';
import { noiseBytes } from './noiseCodes';

/** Stems of one lightmap in a few bytes of each texel for all its layers. */
export interface CompactStems extends Pick<MapStems, 'width' | 'height' | 'at'> {
  /** By the keys of the parts: plane after plane, a byte for each texel. */
  parts: Record<string, Uint8Array>;
}

/** Texels that tables are found from, about. */
const SAMPLE_TEXELS = 40_000;

/** The interval at which texels of a level are sampled to find tables from. */
export const sampleStep = (texels: number): number => Math.max(1, Math.floor(texels / SAMPLE_TEXELS));

/** The first of every `step` texels of a map: all its layers. */
export function sampleStems({ texels: all, scales, halves }: TexelHalves, step: number): LayerBlock {
  const texels = Math.ceil(all / step);
  const layers = new Float32Array(texels * scales.length * LAYER);
  scales.forEach((scale, k) => {
    for (let i = 0; i < texels; i++) {
      const from = (k * all + i * step) * LAYER;
      readHalves(halves.subarray(from, from + LAYER), scale, layers, (k * texels + i) * LAYER);
    }
  });
  return { texels, layers };
}

/** Blocks of the same layers as one. */
export function joinBlocks(blocks: readonly LayerBlock[]): LayerBlock {
  const texels = blocks.reduce((sum, b) => sum + b.texels, 0);
  const first = blocks.find((b) => b.texels > 0);
  const count = first ? first.layers.length / first.texels / LAYER : 0;
  const layers = new Float32Array(texels * count * LAYER);
  let to = 0;
  for (const { texels: own, layers: from } of blocks) {
    for (let k = 0; k < count; k++) layers.set(from.subarray(k * own * LAYER, (k + 1) * own * LAYER), (k * texels + to) * LAYER);
    to += own;
  }
  return { texels, layers };
}

/** The largest sum of the channels of a layer. */
export function largestSum({ texels, scales, halves }: TexelHalves, layer: number): number {
  let most = 0;
  const end = (layer + 1) * texels * LAYER;
  for (let i = layer * texels * LAYER; i < end; i += LAYER)
    most = Math.max(most, fromHalf(halves[i]!) + fromHalf(halves[i + 1]!) + fromHalf(halves[i + 2]!));
  return most * scales[layer]!;
}

/**
 * Finds what the bytes of compact stems are read by, for all maps of a bake.
 *
 * @param sample texels from all over the level
 * @param largest of each layer the largest sum of channels of any texel
 * @param moments gains that the stems will be mixed by, among others: at these errors are to be small
 */
export function findTables(sample: LayerBlock, largest: readonly number[], baked: BakedParts, moments: readonly Gains[]): CompactTable[] {
  const weights = layerWeights(sample, baked, moments);
  const indexOf = layerIndex(baked);
  return compactParts(baked).map((part): CompactTable => {
    if (part.kind === 'colors') return { ...part, largest: part.layers.map((name) => largest[indexOf(name)]!) };
    if (part.kind !== 'group') return part;
    const layers = part.layers.map(indexOf);
    const own = Float32Array.from(layers, (layer) => weights[layer]!);
    const numbers = { texels: sample.texels, layers: own.length, numbers: numbersOf(sample, layers) };
    return { ...part, basis: findBasis(numbers, own, part.size) };
  });
}

const indices = new WeakMap<BakedParts, Map<string, number>>();

/** Tells the layer of a name; -1 where there is none. */
export function layerIndex(baked: BakedParts): (name: string) => number {
  const known = indices.get(baked) ?? new Map(layerNames(baked).map((name, layer) => [name, layer]));
  indices.set(baked, known);
  return (name) => known.get(name) ?? -1;
}

/** Colours of some layers, of one texel after another. */
function numbersOf({ texels, layers }: LayerBlock, of: readonly number[]): Float32Array {
  const out = new Float32Array(texels * of.length * 3);
  of.forEach((layer, k) => {
    for (let i = 0, from = layer * texels * LAYER, to = k * 3; i < texels; i++, from += LAYER, to += of.length * 3)
      for (let c = 0; c < 3; c++) out[to + c] = layers[from + c]!;
  });
  return out;
}

/** The bytes of a part of some texels, plane after plane. */
export function encodePart(part: CompactTable, baked: BakedParts, block: LayerBlock): Uint8Array {
  const indexOf = layerIndex(baked);
  const { texels } = block;
  const planes = new Uint8Array(part.bytes * texels);
  if (part.kind === 'group') return encodeGroup(part.basis, numbersOf(block, part.layers.map(indexOf)), texels);
  if (part.kind === 'noise') encodeNoise(block, planes);
  if (part.kind === 'direct') encodeDirect(block, indexOf(part.layers[0]!), planes);
  if (part.kind === 'colors')
    part.layers.forEach((name, k) => {
      const own = planes.subarray(k * COLOR_BYTES * texels, (k + 1) * COLOR_BYTES * texels);
      encodeColors(block, indexOf(name), part.largest[k]!, own);
    });
  return planes;
}

function encodeNoise({ texels, layers }: LayerBlock, planes: Uint8Array): void {
  const fourth = (layer: number, i: number) => layers[(layer * texels + i) * LAYER + 3]!;
  for (let i = 0; i < texels; i++) {
    const noise = NOISE_KINDS.map((kind) => fourth(noiseLayer(kind), i));
    noiseBytes(fourth(0, i) > 0, noise).forEach((byte, k) => (planes[k * texels + i] = byte));
  }
}

function encodeDirect({ texels, layers }: LayerBlock, layer: number, planes: Uint8Array): void {
  for (let i = 0, at = layer * texels * LAYER + 3; i < texels; i++, at += LAYER) planes[i] = directCode(layers[at]!);
}

function encodeColors({ texels, layers }: LayerBlock, layer: number, largest: number, planes: Uint8Array): void {
  for (let i = 0, at = layer * texels * LAYER; i < texels; i++, at += LAYER) {
    const code = colorCode(layers[at]!, layers[at + 1]!, layers[at + 2]!, largest);
    for (let b = 0; b < COLOR_BYTES; b++) planes[b * texels + i] = (code >> (8 * b)) & 255;
  }
}

/** The most that direct light gives, E/pi per lux on a plane facing it: all of it, straight on. */
export const DIRECT_MOST = 1 / Math.PI;
const directCode = (direct: number): number => Math.round(255 * Math.sqrt(Math.min(1, Math.max(0, direct / DIRECT_MOST))));
/** The direct light that a byte stands for: evenly spaced square roots, as shade and grazing light are small. */
export const directOf = (code: number): number => DIRECT_MOST * (code / 255) ** 2;

/** Texels that are encoded at a time. */
const AT_ONCE = 8192;

/** All layers of some texels as halves: layer after layer, and a scale for each. */
export interface TexelHalves {
  texels: number;
  scales: Float32Array;
  halves: Uint16Array;
}

/** The bytes of all parts of some texels, plane after plane. */
export function compactOf(tables: readonly CompactTable[], baked: BakedParts, stems: TexelHalves): CompactStems['parts'] {
  const { texels } = stems;
  const parts = Object.fromEntries(tables.map((p) => [p.key, new Uint8Array(p.bytes * texels)]));
  for (let first = 0; first < texels; first += AT_ONCE) {
    const block = blockOf(stems, first, Math.min(texels, first + AT_ONCE));
    for (const part of tables) {
      const planes = encodePart(part, baked, block);
      for (let plane = 0; plane < part.bytes; plane++)
        parts[part.key]!.set(planes.subarray(plane * block.texels, (plane + 1) * block.texels), plane * texels + first);
    }
  }
  return parts;
}

/** All layers of the texels from `first` to that before `end`. */
function blockOf({ texels: all, scales, halves }: TexelHalves, first: number, end: number): LayerBlock {
  const texels = end - first;
  const layers = new Float32Array(texels * scales.length * LAYER);
  scales.forEach((scale, k) => {
    const from = (k * all + first) * LAYER;
    readHalves(halves.subarray(from, from + texels * LAYER), scale, layers, k * texels * LAYER);
  });
  return { texels, layers };
}

/** Compact stems of a map. */
export const toCompact = (
  tables: readonly CompactTable[],
  baked: BakedParts,
  { width, height, at, scales, halves }: HalfStems,
): CompactStems => ({
  width,
  height,
  at,
  parts: compactOf(tables, baked, { texels: at.length, scales, halves }),
});

/** Compact stems of all maps of a bake, and what their bytes are read by. */
export function compactMaps(
  maps: readonly HalfStems[],
  baked: BakedParts,
  moments: readonly Gains[],
): { tables: CompactTable[]; maps: CompactStems[] } {
  const step = sampleStep(maps.reduce((sum, m) => sum + m.at.length, 0));
  const all = maps.map(({ at, scales, halves }): TexelHalves => ({ texels: at.length, scales, halves }));
  const sample = joinBlocks(all.map((m) => sampleStems(m, step)));
  const largest = layerNames(baked).map((_, layer) => Math.max(...all.map((m) => largestSum(m, layer))));
  const tables = findTables(sample, largest, baked, moments);
  return { tables, maps: maps.map((stems) => toCompact(tables, baked, stems)) };
}
