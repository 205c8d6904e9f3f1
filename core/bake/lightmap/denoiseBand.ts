import type { Surfaces } from '../../level';
import type { BakePlan } from '../plan/bakePlan';
import { FIRST_SUN_LAYER, LAYER, NOISE_KINDS, circuitLayer, noiseLayer } from '../stems/layers';
import { readColumnInto, toColumns } from '../stems/halfColumns';
import { packLayer, type HalfLayers } from '../stems/stemCodec';
import { tracedLayers } from '../stems/stemParts';
import { bandCover, type BandCover } from '../texels/bandCover';
import type { Tile } from '../texels/coverTexels';
import { mapOutline } from '../texels/mapOutline';
import type { TileDirect } from '../transport/directTile';
import { OutdatedTiles } from '../transport/outdatedTiles';
import type { TileStems } from '../transport/gatherTile';
import { varianceSlots, type VarianceSlot } from '../transport/lightKinds';
import { DENOISE_HALO, createDenoiser } from './denoise';

/** The denoised texels of some rows of a map: of those that surface covers, the layers that a plan traces, one after another. */
export interface BandStems extends HalfLayers {
  /** 1 where the texel was gathered, 0 where it lies inside something. */
  valid: Uint8Array;
}

/** A band with where its texels lie. */
export interface DenoisedBand extends BandStems {
  /** Texels of the map: y * width + x, ascending. */
  at: Uint32Array;
}

/** The rows that a band is denoised from, where the map has them: its own, and as many above and below as have a part in it. */
export const rowsForBand = ({ map, top, bottom }: Tile): Tile => ({ map, top: top - DENOISE_HALO, bottom: bottom + DENOISE_HALO });

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
): DenoisedBand {
  const { map, top, bottom } = rowsForBand(band);
  const rows: Tile = { map, top: Math.max(0, top), bottom: Math.min(surfaces.maps[map]!.height, bottom) };
  const cover = bandCover(surfaces, rows);
  const offset = rows.top * cover.width;
  checkCover(cover, rows, offset, direct);
  checkCover(cover, rows, offset, gathered);
  const count = cover.at.length;
  const valid = new Uint8Array(count);
  const runs = new Map([...direct, ...gathered].map((tile) => [tile, runOf(cover, tile, offset)] as const));
  for (const tile of gathered) {
    const { first, end, to } = runs.get(tile)!;
    for (let i = first; i < end; i++) valid[to + i - first] = tile.paths[i]! > 0 ? 1 : 0;
  }
  const wanted = tracedLayers(plan);
  const isWanted = new Set(wanted);
  const slots = varianceSlots(plan);
  const stems = slots.map((own, slot): Stem => ({ ...own, slot })).filter((stem) => isWanted.has(stem.layer));
  const most = Math.max(1, ...stems.map((s) => s.count));
  const { room, denoise } = createDenoiser(
    cover,
    valid,
    mapOutline(surfaces, band.map).spacingM,
    [band.top - rows.top, band.bottom - rows.top],
    most,
  );
  const straight = direct.map((tile): StraightByStem => ({
    run: runs.get(tile)!,
    texels: tile.at.length,
    suns: toColumns(tile.suns, tile.at.length, 1),
    circuits: toColumns(tile.circuits, tile.at.length, 3),
  }));
  const own = ownRange(cover, band, rows);
  const size = (own[1] - own[0]) * LAYER;
  const out: DenoisedBand = {
    at: cover.at.slice(...own).map((texel) => texel + offset),
    valid: valid.slice(...own),
    scales: new Float32Array(wanted.length),
    halves: new Uint16Array(wanted.length * size),
  };
  let layer = 0;
  for (const stem of stems) {
    const values = room(stem.count);
    const variance = new Float32Array(count);
    for (const tile of gathered) putGathered(tile, runs.get(tile)!, stem, values, variance);
    for (const tile of straight) putDirect(tile, stem, plan, values);
    if (stem.layer === 0) putNoise(gathered, runs, valid, values);
    const ownValues = (k: number) => values.subarray((k * count + own[0]) * LAYER, (k * count + own[1]) * LAYER);
    // A sun that reaches nothing has no noise either.
    const clean =
      !plan.without?.includes('filter') && variance.some((v) => v > 0)
        ? denoise({ layers: stem.count, guides: stem.layers.map((l) => l - stem.layer), toGuide: stem.scale, variance })
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

/** Texels of a tile, from the first to that before `end`, that lie among the texels of a cover one after another, from `to` on. */
interface Run {
  first: number;
  end: number;
  to: number;
}

/** Where the texels of a tile that holds those of the map lie in a cover: both have them in order. */
function runOf({ at: covered, width, height }: BandCover, { at }: { at: Uint32Array }, offset: number): Run {
  const first = at.findIndex((texel) => texel >= offset);
  if (first < 0) return { first: 0, end: 0, to: 0 };
  const after = at.findIndex((texel) => texel >= offset + width * height);
  return { first, end: after < 0 ? at.length : after, to: covered.indexOf(at[first]! - offset) };
}

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
  run: Run;
  texels: number;
  suns: Float32Array;
  circuits: Float32Array;
}

/** Puts what paths brought to a tile's texels into the layers of a stem, its fourth numbers nought. */
function putGathered(
  tile: TileStems,
  { first, end, to }: Run,
  { layer, count, slot }: Stem,
  values: Float32Array,
  variance: Float32Array,
): void {
  readColumnInto(tile.errors, slot, 1, first, end, variance, to, 1);
  for (let i = to; i < to + end - first; i++) variance[i]! *= variance[i]!;
  const size = values.length / count;
  for (let k = 0; k < count; k++) {
    const at = k * size + to * LAYER;
    readColumnInto(tile.light, layer + k, 3, first, end, values, at, LAYER);
    for (let fourth = at + 3; fourth < at + (end - first) * LAYER; fourth += LAYER) values[fourth] = 0;
  }
}

/** Puts into the fourth numbers of the sky which texels were gathered, and the noise that is left. */
function putNoise(tiles: readonly TileStems[], runs: ReadonlyMap<unknown, Run>, valid: Uint8Array, values: Float32Array): void {
  const layers = [noiseLayer('all'), ...NOISE_KINDS.map(noiseLayer)].map((layer) => layer * valid.length);
  for (let i = 0; i < valid.length; i++) values[i * LAYER + 3] = valid[i]!;
  for (const tile of tiles) {
    const { first, end, to } = runs.get(tile)!;
    for (let i = first, place = to; i < end; i++, place++) {
      let most = 0;
      for (let kind = 0; kind < NOISE_KINDS.length; kind++) {
        const noise = tile.noise[i * NOISE_KINDS.length + kind]!;
        values[(layers[kind + 1]! + place) * LAYER + 3] = noise;
        most = Math.max(most, noise);
      }
      values[(layers[0]! + place) * LAYER + 3] = most;
    }
  }
}

/** Puts direct sun into the fourth numbers of its layer, and adds a circuit's straight light to what its glow brought. */
function putDirect({ run, texels, suns, circuits }: StraightByStem, { layer }: Stem, plan: BakePlan, values: Float32Array): void {
  const { first, end, to } = run;
  const sun = layer - FIRST_SUN_LAYER;
  const circuit = (layer - circuitLayer(plan, 0)) / 2;
  if (sun >= 0 && sun < plan.suns.length)
    for (let i = first, at = to * LAYER + 3; i < end; i++, at += LAYER) values[at] = suns[sun * texels + i]!;
  if (circuit < 0 || circuit >= plan.circuits.length || !Number.isInteger(circuit)) return;
  for (let i = first, at = to * LAYER; i < end; i++, at += LAYER)
    for (let c = 0; c < 3; c++) values[at + c]! += circuits[(circuit * texels + i) * 3 + c]!;
}
