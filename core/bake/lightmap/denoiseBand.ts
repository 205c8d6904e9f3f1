import type { Surfaces } from '../../level';
import type { BakePlan } from '../plan/bakePlan';
import { FIRST_SUN_LAYER, LAYER, NOISE_KINDS, circuitLayer, noiseLayer, type NoiseKind } from '../stems/layers';
import { readColumn, toColumns } from '../stems/halfColumns';
import { packLayer, type HalfLayers } from '../stems/stemCodec';
import { tracedLayers } from '../stems/stemParts';
import { bandCover, type BandCover } from '../texels/bandCover';
import type { Tile } from '../texels/coverTexels';
import { mapOutline } from '../texels/mapOutline';
import type { TileDirect } from '../transport/directTile';
import type { TileStems } from '../transport/gatherTile';
import { varianceSlots, type VarianceSlot } from '../transport/lightKinds';
import { DENOISE_HALO, createDenoiser } from './denoise';

/** The denoised texels of some rows of a map: of those that surface covers, the layers that a plan traces, one after another. */
export interface BandStems extends HalfLayers {
  /** 1 where the texel was gathered, 0 where it lies inside something. */
  valid: Uint8Array;
}

/** Tiles whose texels are others than those that the map has there: they were traced by another version. */
export class OutdatedTiles extends Error {
  constructor(readonly tiles: Tile[]) {
    super(`${tiles.length} tiles hold other texels than the map.`);
  }
}

/** The rows that a band is denoised from: its own, and as many above and below as have a part in it. */
export function rowsForBand(surfaces: Surfaces, { map, top, bottom }: Tile): Tile {
  return { map, top: Math.max(0, top - DENOISE_HALO), bottom: Math.min(surfaces.maps[map]!.height, bottom + DENOISE_HALO) };
}

/**
 * Fourth step of a bake: puts the tiles of some rows together and takes out the noise (see {@link createDenoiser}). Direct sun is not
 * denoised, and neither is a circuit's straight light unless its materials glow.
 *
 * @param direct what the first step left of all tiles that lie in {@link rowsForBand}, and `gathered` what the third did
 *
 * Throws {@link OutdatedTiles} where tiles hold other texels than the map.
 */
export function denoiseBand(
  surfaces: Surfaces,
  plan: BakePlan,
  band: Tile,
  direct: readonly TileDirect[],
  gathered: readonly TileStems[],
): BandStems {
  const rows = rowsForBand(surfaces, band);
  const cover = bandCover(surfaces, rows);
  const offset = rows.top * cover.width;
  const places = new Map([...direct, ...gathered].map((tile) => [tile, placesIn(cover, tile, offset)] as const));
  checkCover(cover, rows, offset, direct);
  checkCover(cover, rows, offset, gathered);
  const count = cover.at.length;
  const valid = new Uint8Array(count);
  for (const tile of gathered) places.get(tile)!.forEach((place, i) => place >= 0 && (valid[place] = tile.paths[i]! > 0 ? 1 : 0));
  const wanted = tracedLayers(plan);
  const isWanted = new Set(wanted);
  const slots = varianceSlots(plan);
  const stems = slots.map((own, slot): Stem => ({ ...own, slot })).filter((stem) => isWanted.has(stem.layer));
  const most = Math.max(1, ...stems.map((s) => s.count));
  const denoise = createDenoiser(
    cover,
    valid,
    mapOutline(surfaces, band.map).spacingM,
    [band.top - rows.top, band.bottom - rows.top],
    most,
  );
  const straight = direct.map((tile): StraightByStem => ({
    places: places.get(tile)!,
    suns: toColumns(tile.suns, tile.at.length, 1),
    circuits: toColumns(tile.circuits, tile.at.length, 3),
  }));
  const own = ownRange(cover, band, rows);
  const size = (own[1] - own[0]) * LAYER;
  const out: BandStems = {
    valid: valid.slice(...own),
    scales: new Float32Array(wanted.length),
    halves: new Uint16Array(wanted.length * size),
  };
  let layer = 0;
  for (const stem of stems) {
    const values = new Float32Array(stem.count * count * LAYER);
    const variance = new Float32Array(count);
    for (const tile of gathered) putGathered(tile, places.get(tile)!, stem, values, variance, count);
    for (const tile of straight) putDirect(tile, stem, plan, values);
    if (stem.layer === 0) for (let i = 0; i < count; i++) values[i * LAYER + 3] = valid[i]!;
    const ownValues = (k: number) => values.subarray((k * count + own[0]) * LAYER, (k * count + own[1]) * LAYER);
    // A sun that reaches nothing has no noise either.
    const clean =
      !plan.without?.includes('filter') && variance.some((v) => v > 0)
        ? denoise({ values, layers: stem.count, toGuide: stem.scale, variance })
        : null;
    for (let k = 0; k < stem.count; k++, layer++) {
      const denoised = clean ? clean.subarray(k * size, (k + 1) * size) : ownValues(k);
      out.scales[layer] = packLayer(denoised, out.halves.subarray(layer * size, (layer + 1) * size));
    }
  }
  return out;
}

/** Layers that are denoised as one, and the number of their variance. */
type Stem = VarianceSlot & { slot: number };

/** Where the texels of a tile stand in a cover; -1 for those outside of it. */
const placesIn = ({ placeOf }: BandCover, { at }: { at: Uint32Array }, offset: number): Int32Array =>
  Int32Array.from(at, (texel) => (texel >= offset && texel - offset < placeOf.length ? placeOf[texel - offset]! : -1));

/** The range of a cover's texels that lie in a band. */
function ownRange({ at, width }: BandCover, band: Tile, rows: Tile): [number, number] {
  const before = (row: number) => at.findIndex((texel) => texel >= row * width);
  const [first, end] = [before(band.top - rows.top), before(band.bottom - rows.top)];
  return [first < 0 ? at.length : first, end < 0 ? at.length : end];
}

/** Whether the tiles of some rows hold the texels that surface covers there, each once. */
function checkCover(cover: BandCover, rows: Tile, offset: number, tiles: readonly { tile: Tile; at: Uint32Array }[]): void {
  const outdated = tiles.filter(({ tile, at }) => {
    const [top, bottom] = [Math.max(rows.top, tile.top) * cover.width - offset, Math.min(rows.bottom, tile.bottom) * cover.width - offset];
    const held = at.map((texel) => texel - offset).filter((texel) => texel >= top && texel < bottom);
    const there = cover.at.filter((texel) => texel >= top && texel < bottom);
    return held.length !== there.length || held.some((texel, i) => texel !== there[i]);
  });
  if (outdated.length > 0) throw new OutdatedTiles(outdated.map((t) => t.tile));
}

/** The straight light of the texels of a tile, sun after sun and circuit after circuit (three numbers for each texel). */
interface StraightByStem {
  places: Int32Array;
  suns: Float32Array;
  circuits: Float32Array;
}

function putGathered(
  tile: TileStems,
  places: Int32Array,
  { layer: first, count: layers, slot }: Stem,
  values: Float32Array,
  variance: Float32Array,
  count: number,
): void {
  const own = places.length;
  if (own === 0) return;
  const errors = readColumn(tile.errors, slot);
  for (let i = 0; i < own; i++) if (places[i]! >= 0) variance[places[i]!] = errors[i]! * errors[i]!;
  for (let k = 0; k < layers; k++) {
    const rgb = readColumn(tile.light, first + k);
    for (let i = 0; i < own; i++) {
      const to = (k * count + places[i]!) * LAYER;
      for (let c = 0; c < 3 && places[i]! >= 0; c++) values[to + c] = rgb[i * 3 + c]!;
    }
  }
  if (first > 0) return;
  // The noise that is left goes with the sky.
  for (let i = 0; i < own; i++) {
    const place = places[i]!;
    if (place < 0) continue;
    const put = (kind: NoiseKind | 'all', noise: number) => (values[(noiseLayer(kind) * count + place) * LAYER + 3] = noise);
    const noise = tile.noise.subarray(i * NOISE_KINDS.length, (i + 1) * NOISE_KINDS.length);
    NOISE_KINDS.forEach((kind, k) => put(kind, noise[k]!));
    put('all', Math.max(...noise));
  }
}

/** Puts direct sun into the fourth numbers of its layer, and adds a circuit's straight light to what its glow brought. */
function putDirect({ places, suns, circuits }: StraightByStem, { layer: first }: Stem, plan: BakePlan, values: Float32Array): void {
  const own = places.length;
  const sun = first - FIRST_SUN_LAYER;
  const circuit = (first - circuitLayer(plan, 0)) / 2;
  if (sun >= 0 && sun < plan.suns.length)
    for (let i = 0; i < own; i++) if (places[i]! >= 0) values[places[i]! * LAYER + 3] = suns[sun * own + i]!;
  if (circuit < 0 || circuit >= plan.circuits.length || !Number.isInteger(circuit)) return;
  for (let i = 0; i < own; i++) {
    const to = places[i]! * LAYER;
    for (let c = 0; c < 3 && to >= 0; c++) values[to + c]! += circuits[(circuit * own + i) * 3 + c]!;
  }
}
