import { fromHalf, readHalves } from './halfFloat';
import { packLayer, type HalfLayers } from './stemCodec';

/**
 * Numbers of some texels column after column, where they were texel after texel. Each column has `wide` numbers of each texel.
 *
 * @param numbers of each texel all its columns, texel after texel
 */
export function toColumns(numbers: Float32Array, texels: number, wide: number): Float32Array {
  const out = new Float32Array(numbers.length);
  const columns = texels > 0 ? numbers.length / texels / wide : 0;
  for (let i = 0, from = 0; i < texels; i++)
    for (let column = 0, to = i * wide; column < columns; column++, to += texels * wide)
      for (let c = 0; c < wide; c++) out[to + c] = numbers[from++]!;
  return out;
}

/** {@link toColumns} as halves. Each column is scaled by itself, so that none is too weak for halves beside a strong one. */
export function packColumns(numbers: Float32Array, texels: number, wide: number): HalfLayers {
  const size = texels * wide;
  const all = toColumns(numbers, texels, wide);
  const out: HalfLayers = { scales: new Float32Array(size > 0 ? all.length / size : 0), halves: new Uint16Array(all.length) };
  for (let column = 0, from = 0; column < out.scales.length; column++, from += size)
    out.scales[column] = packLayer(all.subarray(from, from + size), out.halves.subarray(from, from + size));
  return out;
}

/** A column of {@link packColumns}: its numbers, texel after texel. */
export function readColumn({ scales, halves }: HalfLayers, column: number): Float32Array {
  const size = scales.length > 0 ? halves.length / scales.length : 0;
  const out = new Float32Array(size);
  readHalves(halves.subarray(column * size, (column + 1) * size), scales[column]!, out, 0);
  return out;
}

/**
 * The numbers of a column of {@link packColumns}, `wide` of each texel, of the texels from `first` to that before `end`. They come into `out` from
 * `at` on, those of each texel `stride` numbers after those of the one before.
 */
export function readColumnInto(
  { scales, halves }: HalfLayers,
  column: number,
  wide: number,
  first: number,
  end: number,
  out: Float32Array,
  at: number,
  stride: number,
): void {
  const begin = scales.length > 0 ? column * (halves.length / scales.length) : 0;
  const scale = scales[column]!;
  for (let from = begin + first * wide; from < begin + end * wide; from += wide, at += stride)
    for (let c = 0; c < wide; c++) out[at + c] = fromHalf(halves[from + c]!) * scale;
}
