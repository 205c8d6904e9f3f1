import { DataUtils } from 'three';
import { Failure } from '../units';
import { writeHalves } from './halfFloat';
import type { StemReader } from './mix';
import { LAYER, type MapStems } from './stems';

/** Largest half that a layer's strongest value is scaled to; leaves room under 65504 and the finest steps above zero. */
const HALF_PEAK = 16384;

/** Stems of one lightmap as they are stored and sent: halves with one scale per layer. */
export interface HalfStems {
  width: number;
  height: number;
  /** value = half x scale, per layer. */
  scales: Float32Array;
  /** Layer after layer, LAYER halves per texel. */
  halves: Uint16Array;
}

/** Rounds stems to half floats, each layer scaled so that its strongest value is far from both ends of the range. */
export function toHalves({ width, height, layers }: MapStems): HalfStems {
  const perLayer = width * height * LAYER;
  const count = layers.length / perLayer;
  const scales = new Float32Array(count);
  const halves = new Uint16Array(layers.length);
  for (let layer = 0; layer < count; layer++) {
    const part = layers.subarray(layer * perLayer, (layer + 1) * perLayer);
    let peak = 0;
    for (let i = 0; i < perLayer; i++) peak = Math.max(peak, Math.abs(part[i]!));
    // A power of two loses no digit.
    const scale = peak > 0 ? 2 ** Math.ceil(Math.log2(peak / HALF_PEAK)) : 1;
    scales[layer] = scale;
    writeHalves(part, 1 / scale, halves, layer * perLayer);
  }
  return { width, height, scales, halves };
}

/** The stems that halves stand for. */
export function fromHalves({ width, height, scales, halves }: HalfStems): MapStems {
  const perLayer = width * height * LAYER;
  const layers = new Float32Array(halves.length);
  for (let i = 0; i < halves.length; i++) layers[i] = DataUtils.fromHalfFloat(halves[i]!) * scales[Math.floor(i / perLayer)]!;
  return { width, height, layers };
}

/** Reads stems as they are stored. */
export const halfReader = ({ width, height, scales, halves }: HalfStems): StemReader => ({
  width,
  height,
  read: (layer, texel, channel) => DataUtils.fromHalfFloat(halves[(layer * width * height + texel) * LAYER + channel]!) * scales[layer]!,
});

const MAGIC = 0x4c534231; // "1BSL" read as little-endian
const HEADER = 16;

/**
 * The stems of one lightmap as bytes: a header (magic, width, height, layers: four 32-bit integers), the
 * layers' scales (32-bit floats) and the halves with their low bytes first and their high bytes after, little-endian.
 */
export function writeStems({ width, height, scales, halves }: HalfStems): Uint8Array {
  const out = new Uint8Array(HEADER + scales.byteLength + halves.byteLength);
  new Uint32Array(out.buffer, 0, 4).set([MAGIC, width, height, scales.length]);
  new Float32Array(out.buffer, HEADER, scales.length).set(scales);
  const body = HEADER + scales.byteLength;
  for (let i = 0; i < halves.length; i++) {
    const half = halves[i]!;
    if (half === 0) continue;
    out[body + i] = half & 255;
    out[body + halves.length + i] = half >> 8;
  }
  return out;
}

/** Reads what {@link writeStems} wrote. Throws a `fault` {@link Failure} for anything else. */
export function readStems(bytes: Uint8Array): HalfStems {
  const aligned = bytes.byteOffset % 4 === 0 ? bytes : new Uint8Array(bytes);
  const [magic, width, height, count] = new Uint32Array(aligned.buffer, aligned.byteOffset, 4) as unknown as [
    number,
    number,
    number,
    number,
  ];
  const length = width * height * LAYER * count;
  if (magic !== MAGIC || aligned.length !== HEADER + count * 4 + length * 2)
    throw new Failure('fault', 'Stored stems are damaged.', 'Bake again.');
  const scales = new Float32Array(aligned.buffer, aligned.byteOffset + HEADER, count).slice();
  const halves = new Uint16Array(length);
  const body = HEADER + count * 4;
  for (let i = 0; i < length; i++) halves[i] = aligned[body + i]! | (aligned[body + length + i]! << 8);
  return { width, height, scales, halves };
}
