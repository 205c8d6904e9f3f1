import { readHalves } from './halfFloat';
import { packLayer, type HalfLayers } from './stemCodec';

/**
 * Numbers of some texels as halves, column after column: of `wide` numbers in each, those of one texel after another. Each column is scaled by
 * itself, so that none is too weak for halves beside a strong one.
 *
 * @param numbers of each texel all its columns, texel after texel
 */
export function packColumns(numbers: Float32Array, texels: number, wide: number): HalfLayers {
  const columns = texels > 0 ? numbers.length / texels / wide : 0;
  const out: HalfLayers = { scales: new Float32Array(columns), halves: new Uint16Array(numbers.length) };
  const size = texels * wide;
  const own = new Float32Array(size);
  for (let column = 0; column < columns; column++) {
    for (let i = 0, to = 0; i < texels; i++)
      for (let c = 0, from = (i * columns + column) * wide; c < wide; c++) own[to++] = numbers[from + c]!;
    out.scales[column] = packLayer(own, out.halves.subarray(column * size, (column + 1) * size));
  }
  return out;
}

/** A column of {@link packColumns}: its numbers, texel after texel. */
export function readColumn({ scales, halves }: HalfLayers, column: number): Float32Array {
  const size = scales.length > 0 ? halves.length / scales.length : 0;
  const out = new Float32Array(size);
  readHalves(halves.subarray(column * size, (column + 1) * size), scales[column]!, out, 0);
  return out;
}
