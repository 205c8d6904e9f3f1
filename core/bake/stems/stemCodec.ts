import { packHalves } from '../../trace';
import { Failure } from '../../units';
import { dilate } from '../texels/dilate';
import { fromHalf, readHalves } from './halfFloat';
import { lightOf, type StemReader } from './stemReader';
import { LAYER, type MapStems } from './layers';

/** Largest half that a layer's strongest value is scaled to; leaves room under 65504 and the finest steps above zero. */
const HALF_PEAK = 16384;

/** Stems of one lightmap as they are stored and sent: halves with one scale per layer. */
export interface HalfStems {
  width: number;
  height: number;
  /** As in {@link MapStems}. */
  at: Uint32Array;
  /** value = half x scale, per layer. */
  scales: Float32Array;
  /** Layer after layer, LAYER halves per texel of `at`. */
  halves: Uint16Array;
}

/**
 * Rounds one layer to half floats, scaled so that its strongest value is far from both ends of the range.
 *
 * @returns the scale: value = half x scale
 */
export function packLayer(values: Float32Array, halves: Uint16Array): number {
  let peak = 0;
  for (let i = 0; i < values.length; i++) {
    const size = Math.abs(values[i]!);
    if (size > peak) peak = size;
  }
  // A power of two loses no digit.
  const scale = peak > 0 ? 2 ** Math.ceil(Math.log2(peak / HALF_PEAK)) : 1;
  packHalves(values, 1 / scale, halves);
  return scale;
}

/** Rounds stems to half floats, layer by layer (see {@link packLayer}). */
export function toHalves({ width, height, at, layers }: MapStems): HalfStems {
  const perLayer = at.length * LAYER;
  const count = perLayer > 0 ? layers.length / perLayer : 0;
  const scales = new Float32Array(count);
  const halves = new Uint16Array(layers.length);
  for (let layer = 0; layer < count; layer++) {
    const [from, end] = [layer * perLayer, (layer + 1) * perLayer];
    scales[layer] = packLayer(layers.subarray(from, end), halves.subarray(from, end));
  }
  return { width, height, at, scales, halves };
}

/** The stems that halves stand for. */
export function fromHalves({ width, height, at, scales, halves }: HalfStems): MapStems {
  const perLayer = at.length * LAYER;
  const layers = new Float32Array(halves.length);
  scales.forEach((scale, k) => readHalves(halves.subarray(k * perLayer, (k + 1) * perLayer), scale, layers, k * perLayer));
  return { width, height, at, layers };
}

/** Reads stems as they are stored. */
export const halfReader = (stems: HalfStems): StemReader => {
  const { width, height, at, scales, halves } = stems;
  const read = (layer: number, place: number, channel: number) =>
    fromHalf(halves[(layer * at.length + place) * LAYER + channel]!) * scales[layer]!;
  return { width, height, source: dilate(stems), light: (gains, place) => lightOf(read, gains, place) };
};

const damaged = () => new Failure('fault', 'Stored stems are damaged.', 'Bake again.');
/** Some bytes in a buffer of their own, whatever larger one they are a view of. */
const copyOf = (bytes: Uint8Array, from: number, to: number): ArrayBuffer => Uint8Array.from(bytes.subarray(from, to)).buffer;
const words = (bytes: Uint8Array, count: number): Uint32Array => {
  if (bytes.length < count * 4) throw damaged();
  return new Uint32Array(copyOf(bytes, 0, count * 4));
};

const COVER_MAGIC = 0x564f4342; // "BCOV" read as little-endian
const COVER_HEADER = 12;

/** Which texels of a map surface covers, as bytes: magic, width and height (32-bit integers), then a bit for each texel. */
export function writeCover({ width, height, at }: Pick<MapStems, 'width' | 'height' | 'at'>): Uint8Array {
  const out = new Uint8Array(COVER_HEADER + Math.ceil((width * height) / 8));
  new Uint32Array(out.buffer, 0, 3).set([COVER_MAGIC, width, height]);
  for (const texel of at) out[COVER_HEADER + (texel >> 3)]! |= 1 << (texel & 7);
  return out;
}

/** Reads what {@link writeCover} wrote. Throws a `fault` {@link Failure} for anything else. */
export function readCover(bytes: Uint8Array): Pick<MapStems, 'width' | 'height' | 'at'> {
  const [magic, width, height] = words(bytes, 3) as unknown as [number, number, number];
  if (magic !== COVER_MAGIC || bytes.length !== COVER_HEADER + Math.ceil((width * height) / 8)) throw damaged();
  const at: number[] = [];
  for (let texel = 0; texel < width * height; texel++) if (bytes[COVER_HEADER + (texel >> 3)]! & (1 << (texel & 7))) at.push(texel);
  return { width, height, at: Uint32Array.from(at) };
}

const LAYERS_MAGIC = 0x59414c42; // "BLAY" read as little-endian
const LAYERS_HEADER = 12;

/** Some layers of the stems of one lightmap: their scales, and their halves layer after layer. */
export type HalfLayers = Pick<HalfStems, 'scales' | 'halves'>;

/** Some layers of stems. */
export function takeLayers({ at, scales, halves }: HalfStems, first: number, count: number): HalfLayers {
  const perLayer = at.length * LAYER;
  return { scales: scales.slice(first, first + count), halves: halves.subarray(first * perLayer, (first + count) * perLayer) };
}

/**
 * Layers as bytes: a header (magic, texels, layers: three 32-bit integers), the layers' scales (32-bit floats) and the halves with
 * their low bytes first and their high bytes after, little-endian.
 */
export function writeLayers({ scales, halves }: HalfLayers): Uint8Array {
  const out = new Uint8Array(LAYERS_HEADER + scales.byteLength + halves.byteLength);
  new Uint32Array(out.buffer, 0, 3).set([LAYERS_MAGIC, scales.length > 0 ? halves.length / LAYER / scales.length : 0, scales.length]);
  new Float32Array(out.buffer, LAYERS_HEADER, scales.length).set(scales);
  const body = LAYERS_HEADER + scales.byteLength;
  for (let i = 0; i < halves.length; i++) {
    const half = halves[i]!;
    if (half === 0) continue;
    out[body + i] = half & 255;
    out[body + halves.length + i] = half >> 8;
  }
  return out;
}

/** Reads what {@link writeLayers} wrote, and how many texels it holds. Throws a `fault` {@link Failure} for anything else. */
export function readLayers(bytes: Uint8Array): HalfLayers & { texels: number } {
  const [magic, texels, count] = words(bytes, 3) as unknown as [number, number, number];
  const length = texels * LAYER * count;
  const body = LAYERS_HEADER + count * 4;
  if (magic !== LAYERS_MAGIC || bytes.length !== body + length * 2) throw damaged();
  const halves = new Uint16Array(length);
  for (let i = 0; i < length; i++) halves[i] = bytes[body + i]! | (bytes[body + length + i]! << 8);
  return { texels, scales: new Float32Array(copyOf(bytes, LAYERS_HEADER, body)), halves };
}

/**
 * Puts layers that {@link writeLayers} wrote into stems from a layer on; answers how many. Throws a `fault` {@link Failure} for anything
 * else.
 */
export function readLayersInto(stems: HalfStems, first: number, bytes: Uint8Array): number {
  const { texels, scales, halves } = readLayers(bytes);
  if (texels !== stems.at.length || first + scales.length > stems.scales.length) throw damaged();
  stems.scales.set(scales, first);
  stems.halves.set(halves, first * texels * LAYER);
  return scales.length;
}

/** Stems with room for so many layers, all nought. */
export function emptyHalves(cover: Pick<MapStems, 'width' | 'height' | 'at'>, layers: number): HalfStems {
  return { ...cover, scales: new Float32Array(layers).fill(1), halves: new Uint16Array(layers * cover.at.length * LAYER) };
}
