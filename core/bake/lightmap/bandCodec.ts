import type { BandStems, DenoisedBand } from './denoiseBand';
import { LAYER } from '../stems/layers';

/** A part of a file: from the first byte to that after the last. */
export type ByteRange = readonly [from: number, end: number];

const padded = (bytes: number) => Math.ceil(bytes / 4) * 4;

/**
 * A band as bytes: which texels were gathered, filled up to a multiple of 4; the scales (32-bit floats) and the halves, layer by layer; where the
 * texels lie (32-bit integers), which bands of earlier versions have not.
 */
export function packBand({ at, valid, scales, halves }: DenoisedBand): Uint8Array {
  const [first, last] = [padded(valid.length), padded(valid.length) + scales.byteLength + halves.byteLength];
  const out = new Uint8Array(last + at.byteLength);
  out.set(valid);
  new Float32Array(out.buffer, first, scales.length).set(scales);
  new Uint16Array(out.buffer, first + scales.byteLength, halves.length).set(halves);
  new Uint32Array(out.buffer, last).set(at);
  return out;
}

/**
 * Where in a packed band some of its layers lie: three ranges for {@link unpackBand}.
 *
 * @param texels of the band, and `all` its layers
 */
export function bandRanges(texels: number, all: number, first: number, layers: number): ByteRange[] {
  const [scales, perLayer] = [padded(texels), texels * LAYER * 2];
  const halves = scales + all * 4;
  return [
    [0, texels],
    [scales + first * 4, scales + (first + layers) * 4],
    [halves + first * perLayer, halves + (first + layers) * perLayer],
  ];
}

/** Some layers of a band, from the bytes of its three {@link bandRanges}. */
export function unpackBand([valid, scales, halves]: readonly Uint8Array[]): BandStems {
  return { valid: valid!.slice(), scales: new Float32Array(own(scales!)), halves: new Uint16Array(own(halves!)) };
}

/**
 * A whole band, which looks into the bytes that it is read from where these lie fit; null where they are no band of so many texels and layers with
 * where its texels lie.
 */
export function readBand(bytes: Uint8Array, texels: number, layers: number): DenoisedBand | null {
  const [valid, scales, halves] = bandRanges(texels, layers, 0, layers);
  const end = halves![1];
  if (bytes.length !== end + texels * 4) return null;
  const { buffer } = bytes.byteOffset % 4 === 0 ? bytes : Uint8Array.from(bytes);
  const from = buffer === bytes.buffer ? bytes.byteOffset : 0;
  return {
    valid: bytes.subarray(...valid!),
    scales: new Float32Array(buffer, from + scales![0], layers),
    halves: new Uint16Array(buffer, from + halves![0], layers * texels * LAYER),
    at: new Uint32Array(buffer, from + end, texels),
  };
}

/** Bytes in a buffer of their own, whatever larger one they are a view of. */
const own = (bytes: Uint8Array): ArrayBuffer => Uint8Array.from(bytes).buffer;
