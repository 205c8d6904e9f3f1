import type { BandStems } from './denoiseBand';
import { LAYER } from '../stems/layers';

/** A part of a file: from the first byte to that after the last. */
export type ByteRange = readonly [from: number, end: number];

const padded = (bytes: number) => Math.ceil(bytes / 4) * 4;

/** A band as bytes: which texels were gathered, filled up to a multiple of 4; the scales (32-bit floats) and the halves, layer by layer. */
export function packBand({ valid, scales, halves }: BandStems): Uint8Array {
  const out = new Uint8Array(padded(valid.length) + scales.byteLength + halves.byteLength);
  out.set(valid);
  new Float32Array(out.buffer, padded(valid.length), scales.length).set(scales);
  new Uint16Array(out.buffer, padded(valid.length) + scales.byteLength).set(halves);
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

/** Bytes in a buffer of their own, whatever larger one they are a view of. */
const own = (bytes: Uint8Array): ArrayBuffer => Uint8Array.from(bytes).buffer;
