import type { Rgb } from '../../units';
import type { Gains } from './gains';

/** Stems of a lightmap that can be mixed texel by texel, however they are held. */
export interface StemReader {
  width: number;
  height: number;
  /** For each texel of the map the place of the texel that it takes its light from; -1 for none (see `dilate`). */
  source: Int32Array;
  /** The mix at a place, RGB E/pi in cd/m2. */
  light(gains: Gains, place: number): Rgb;
}

/** The mix at a place of stems whose numbers can be read one by one: number `channel` at a place, in a layer. */
export function lightOf(read: (layer: number, place: number, channel: number) => number, { colors, fourths }: Gains, place: number): Rgb {
  const out: Rgb = [0, 0, 0];
  for (let layer = 0; layer < colors.length / 3; layer++) {
    const fourth = fourths[layer * 3] === 0 ? 0 : read(layer, place, 3);
    for (let c = 0; c < 3; c++) {
      const gain = colors[layer * 3 + c]!;
      if (gain !== 0) out[c]! += gain * read(layer, place, c);
      out[c]! += fourths[layer * 3 + c]! * fourth;
    }
  }
  return out;
}
