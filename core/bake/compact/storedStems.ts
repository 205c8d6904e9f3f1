import type { Rgb } from '../../units';
import type { Gains } from '../stems/gains';
import type { BakedParts } from '../plan/bakePlan';
import { emptyHalves, halfReader, packLayer, type HalfStems } from '../stems/stemCodec';
import type { StemReader } from '../stems/stemReader';
import { LAYER, type MapStems } from '../stems/layers';
import { dilateOnce } from '../texels/dilate';
import { layerOf, mixPart, type AddPart } from './compactMix';
import type { CompactTable } from './compactParts';
import type { CompactStems } from './compactStems';

/** Some of the layers of a bake as halves: which they are, and they, one after another. */
export interface SomeLayers {
  layers: readonly number[];
  stems: HalfStems;
}

/** Stems of one lightmap as they are kept: compact parts, and some layers as halves. A layer that both have is that of the halves. */
export interface StoredStems extends Pick<MapStems, 'width' | 'height' | 'at'> {
  halves: SomeLayers;
  tables: readonly CompactTable[];
  parts: CompactStems['parts'];
}

/** Stems all of whose layers are halves. */
export const storedHalves = (stems: HalfStems): StoredStems => ({
  width: stems.width,
  height: stems.height,
  at: stems.at,
  halves: { layers: Array.from(stems.scales.keys()), stems },
  tables: [],
  parts: {},
});

/** The gains of some layers alone, one after another. */
export function gainsOfLayers({ colors, fourths }: Gains, layers: readonly number[]): Gains {
  const pick = (numbers: Float32Array) =>
    Float32Array.from(layers.flatMap((layer) => Array.from(numbers.subarray(layer * 3, layer * 3 + 3))));
  return { colors: pick(colors), fourths: pick(fourths) };
}

/** Gains without those of some layers. */
export function gainsWithout({ colors, fourths }: Gains, layers: readonly number[]): Gains {
  if (layers.length === 0) return { colors, fourths };
  const out = { colors: colors.slice(), fourths: fourths.slice() };
  for (const layer of layers) for (const numbers of [out.colors, out.fourths]) numbers.fill(0, layer * 3, layer * 3 + 3);
  return out;
}

/** Reads stems as they are kept. */
export function storedReader(stored: StoredStems, baked: BakedParts): StemReader {
  const { width, height, halves } = stored;
  const { layers } = halves;
  const ofHalves = halfReader(halves.stems);
  const ofParts = partsReader(stored, baked);
  const split = lastOf((gains) => ({ own: gainsOfLayers(gains, layers), others: gainsWithout(gains, layers) }));
  return {
    width,
    height,
    source: dilateOnce(stored),
    light(gains, place) {
      const { own, others } = split(gains);
      return addRgb(layers.length > 0 ? ofHalves.light(own, place) : [0, 0, 0], ofParts(others, place));
    },
  };
}

/** Works something out of gains, and keeps it until it is asked with others. */
function lastOf<T>(work: (gains: Gains) => T): (gains: Gains) => T {
  let last: { gains: Gains; made: T } | null = null;
  return (gains) => {
    if (last?.gains !== gains) last = { gains, made: work(gains) };
    return last.made;
  };
}

/** Tells the light of compact parts at a place. */
function partsReader({ tables, parts, at }: StoredStems, baked: BakedParts): (gains: Gains, place: number) => Rgb {
  const heard = lastOf((gains) =>
    tables.flatMap((part): { planes: Uint8Array; add: AddPart }[] => {
      const planes = parts[part.key];
      const add = planes ? mixPart(part, baked, gains) : null;
      return planes && add ? [{ planes, add }] : [];
    }),
  );
  return (gains, place) => {
    const sum = new Float32Array(4);
    for (const { planes, add } of heard(gains)) add(bytesAt(planes, at.length, place), sum);
    return [sum[0]!, sum[1]!, sum[2]!];
  };
}

/** The bytes of one texel of a part. */
const bytesAt = (planes: Uint8Array, texels: number, place: number): Uint8Array =>
  Uint8Array.from({ length: planes.length / texels }, (_, plane) => planes[plane * texels + place]!);

const addRgb = (a: Rgb, b: Rgb): Rgb => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];

/**
 * A band over some stems, `top` being its first row among theirs: of the layers that the band has its own light, of all others that of the compact
 * parts under it.
 */
export function bandReader(band: SomeLayers, top: number, under: StoredStems, baked: BakedParts): StemReader {
  const { width, height, at } = band.stems;
  const ofBand = halfReader(band.stems);
  const ofParts = partsReader(under, baked);
  const split = lastOf((gains) => ({ own: gainsOfLayers(gains, band.layers), others: gainsWithout(gains, band.layers) }));
  return {
    width,
    height,
    source: ofBand.source,
    light(gains, place) {
      const { own, others } = split(gains);
      const light = ofBand.light(own, place);
      const below = under.tables.length > 0 ? placeOf(under.at, at[place]! + top * width) : -1;
      return below < 0 ? light : addRgb(light, ofParts(others, below));
    },
  };
}

/** The place of a texel among those of a map, which ascend; -1 where it is none of them. */
function placeOf(at: Uint32Array, texel: number): number {
  let [low, high] = [0, at.length - 1];
  while (low <= high) {
    const middle = (low + high) >> 1;
    if (at[middle] === texel) return middle;
    if (at[middle]! < texel) low = middle + 1;
    else high = middle - 1;
  }
  return -1;
}

/** Some layers of stems as halves, one after another. */
export function layersOf({ halves, tables, parts, ...map }: StoredStems, baked: BakedParts, layers: readonly number[]): HalfStems {
  const out = emptyHalves(map, layers.length);
  const size = map.at.length * LAYER;
  layers.forEach((layer, k) => {
    const to = out.halves.subarray(k * size, (k + 1) * size);
    const place = halves.layers.indexOf(layer);
    if (place >= 0) {
      out.scales[k] = halves.stems.scales[place]!;
      to.set(halves.stems.halves.subarray(place * size, (place + 1) * size));
    } else out.scales[k] = packLayer(layerOf(tables, baked, { ...map, parts }, layer), to);
  });
  return out;
}
