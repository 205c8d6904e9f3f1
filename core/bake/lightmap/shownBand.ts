import type { SomeLayers, StoredStems } from '../compact/storedStems';
import { emptyHalves, type HalfStems } from '../stems/stemCodec';
import { LAYER } from '../stems/layers';
import type { Tile } from '../texels/coverTexels';
import type { DenoisedBand } from './denoiseBand';

/** A band that is denoised, and which of a bake's layers it holds, ascending. */
export interface TracedBand {
  rows: Tile;
  band: DenoisedBand;
  layers: readonly number[];
}

/**
 * The light of a band as it may be shown before its map is finished: seams are not joined yet, and texels inside of something are left to their
 * neighbours. Its texels are counted from the first of its rows.
 *
 * @param under the map as it is shown so far: of its layers in halves those that the band does not hold are taken too
 */
export function shownBand({ rows, band, layers }: TracedBand, width: number, under: StoredStems): SomeLayers {
  const kept = Int32Array.from(band.valid.keys()).filter((place) => band.valid[place] === 1);
  const at = Uint32Array.from(kept, (place) => band.at[place]! - rows.top * width);
  const isHeld = new Set(layers);
  const others = under.halves.layers.flatMap((layer, k) => (isHeld.has(layer) ? [] : [{ layer, k }]));
  const out = emptyHalves({ width, height: rows.bottom - rows.top, at }, layers.length + others.length);
  layers.forEach((_, k) => putLayer(out, k, band, k, kept));
  if (others.length > 0) {
    const places = placesIn(under.at, kept, band.at);
    others.forEach(({ k }, i) => putLayer(out, layers.length + i, under.halves.stems, k, places));
  }
  return { layers: [...layers, ...others.map((o) => o.layer)], stems: out };
}

type Halves = Pick<HalfStems, 'at' | 'scales' | 'halves'>;

/** Puts a layer of some stems into another's; `places` are those that its texels have there, -1 for what stays dark. */
function putLayer(out: Halves, layer: number, from: Halves, fromLayer: number, places: Int32Array): void {
  const [to, source] = [pairsOf(out, layer), pairsOf(from, fromLayer)];
  out.scales[layer] = from.scales[fromLayer]!;
  for (let k = 0; k < places.length; k++) {
    const place = places[k]! * 2;
    if (place < 0) continue;
    to[k * 2] = source[place]!;
    to[k * 2 + 1] = source[place + 1]!;
  }
}

/** The halves of a layer, two at a time. */
const pairsOf = ({ at, halves }: Halves, layer: number): Uint32Array =>
  new Uint32Array(halves.buffer, halves.byteOffset + layer * at.length * LAYER * 2, (at.length * LAYER) / 2);

/** Where some texels of a band lie among those of a map; -1 for what it has not. All ascend. */
function placesIn(map: Uint32Array, kept: Int32Array, at: Uint32Array): Int32Array {
  let place = 0;
  return kept.map((k) => {
    while (place < map.length && map[place]! < at[k]!) place++;
    return map[place] === at[k] ? place : -1;
  });
}
