import type { ByteRange } from './bandCodec';
import { LAYER } from '../stems/layers';
import type { HalfLayers } from '../stems/stemCodec';

/** Finished layers of a map as bytes: their scales (32-bit floats) and their halves, layer after layer. */
export function packFinished({ scales, halves }: HalfLayers): Uint8Array {
  const out = new Uint8Array(scales.byteLength + halves.byteLength);
  new Float32Array(out.buffer, 0, scales.length).set(scales);
  new Uint16Array(out.buffer, scales.byteLength, halves.length).set(halves);
  return out;
}

/**
 * Where in packed layers those of the texels from `first` to that before `end` lie: the scales, and each layer's.
 *
 * @param texels of the map
 */
export function finishedRanges(texels: number, layers: number, first: number, end: number): ByteRange[] {
  const rangeOf = (layer: number): ByteRange => {
    const at = (place: number) => layers * 4 + (layer * texels + place) * LAYER * 2;
    return [at(first), at(end)];
  };
  return [[0, layers * 4], ...Array.from({ length: layers }, (_, layer) => rangeOf(layer))];
}

/** Finished layers of some texels, from the bytes of their {@link finishedRanges}. */
export function unpackFinished([scales, ...layers]: readonly Uint8Array[]): HalfLayers {
  const size = layers.reduce((sum, l) => sum + l.length, 0);
  const halves = new Uint8Array(size);
  let at = 0;
  for (const layer of layers) {
    halves.set(layer, at);
    at += layer.length;
  }
  return { scales: new Float32Array(Uint8Array.from(scales!).buffer), halves: new Uint16Array(halves.buffer) };
}
