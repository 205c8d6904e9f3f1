import { addCodes, type Codes } from '../../trace';
import type { Gains } from '../stems/gains';
import type { BakedParts } from '../plan/bakePlan';
import { NOISE_KINDS, layerCount, noiseLayer } from '../stems/layers';
import { COLOR_BYTES, addColor, levelsOf } from './colorCodes';
import type { CompactTable } from './compactParts';
import { DIRECT_MOST, directOf, layerIndex, type CompactStems } from './compactStems';
import { addGroup, gainTable, kernelTable } from './groupCodes';
import { isGatheredIn, noiseIn } from './noiseCodes';

/** Adds the light of some texels, of their planes, to four numbers of each; the fourth is left. */
export type AddPart = (planes: Uint8Array, out: Float32Array) => void;

/** Three gains; those of a layer that a bake has not are 0. */
export type RgbGains = readonly [number, number, number];
const gainsAt = (numbers: Float32Array, layer: number): RgbGains =>
  layer < 0 ? [0, 0, 0] : [numbers[layer * 3]!, numbers[layer * 3 + 1]!, numbers[layer * 3 + 2]!];
const isDark = (gains: readonly number[]) => gains.every((v) => v === 0);

/**
 * What the bytes of a part are multiplied by, for one set of gains; null where the part has no share in the mix.
 *
 * - a group: a table as {@link gainTable} makes it;
 * - colours: the gains of straight and of bounced light;
 * - direct light: the gains of the sun;
 * - noise: those of what says which texels were gathered, of the largest noise, and of each kind's.
 */
export type PartGains =
  | { kind: 'group'; table: Float32Array }
  | { kind: 'colors'; gains: readonly RgbGains[] }
  | { kind: 'direct'; gains: RgbGains }
  | { kind: 'noise'; gathered: RgbGains; all: RgbGains; kinds: readonly RgbGains[] };

export function partGains(part: CompactTable, baked: BakedParts, { colors, fourths }: Gains): PartGains | null {
  const indexOf = layerIndex(baked);
  if (part.kind === 'group') {
    const own = Float32Array.from(part.layers.flatMap((name) => gainsAt(colors, indexOf(name))));
    return isDark(Array.from(own)) ? null : { kind: 'group', table: knownTable(part, own) };
  }
  if (part.kind === 'colors') {
    const gains = part.layers.map((name) => gainsAt(colors, indexOf(name)));
    return gains.every(isDark) ? null : { kind: 'colors', gains };
  }
  if (part.kind === 'direct') {
    const gains = gainsAt(fourths, indexOf(part.layers[0]!));
    return isDark(gains) ? null : { kind: 'direct', gains };
  }
  const [gathered, all] = [gainsAt(fourths, 0), gainsAt(fourths, noiseLayer('all'))];
  const kinds = NOISE_KINDS.map((kind) => gainsAt(fourths, noiseLayer(kind)));
  return [gathered, all, ...kinds].every(isDark) ? null : { kind: 'noise', gathered, all, kinds };
}

/** Tables that are kept of each group: all maps of a bake ask for the same, and bands over them for another. */
const TABLES_KEPT = 2;
const known = new WeakMap<CompactTable, { gains: Float32Array; table: Float32Array }[]>();

function knownTable(part: CompactTable & { kind: 'group' }, gains: Float32Array): Float32Array {
  const kept = known.get(part) ?? [];
  const same = kept.find((k) => k.gains.every((v, i) => v === gains[i]));
  const own = same ?? { gains, table: gainTable(part.basis, gains) };
  known.set(part, [own, ...kept.filter((k) => k !== own)].slice(0, TABLES_KEPT));
  return own.table;
}

/** Prepares the mix of a part by some gains; null where it has no share in it. */
export function mixPart(part: CompactTable, baked: BakedParts, gains: Gains): AddPart | null {
  const own = partGains(part, baked, gains);
  if (!own) return null;
  if (own.kind === 'group') {
    const { basis } = part as CompactTable & { kind: 'group' };
    return (planes, out) => addGroup(basis, planes, own.table, out);
  }
  if (own.kind === 'colors') return addColors((part as CompactTable & { kind: 'colors' }).largest, own.gains);
  return own.kind === 'direct' ? addDirect(own.gains) : addNoise(own);
}

const addColors =
  (largest: readonly number[], both: readonly RgbGains[]): AddPart =>
  (planes, out) => {
    const texels = planes.length / (2 * COLOR_BYTES);
    both.forEach((gains, k) => {
      if (isDark(gains)) return;
      const at = k * COLOR_BYTES * texels;
      for (let i = 0; i < texels; i++) {
        const code = planes[at + i]! | (planes[at + texels + i]! << 8) | (planes[at + 2 * texels + i]! << 16);
        if (code !== 0) addColor(code, largest[k]!, gains, out, i * 4);
      }
    });
  };

const DIRECT = Float64Array.from({ length: 256 }, (_, code) => directOf(code));

const addDirect =
  (gains: RgbGains): AddPart =>
  (planes, out) => {
    for (let i = 0; i < planes.length; i++) {
      const direct = DIRECT[planes[i]!]!;
      for (let c = 0; c < 3; c++) out[i * 4 + c] = out[i * 4 + c]! + gains[c]! * direct;
    }
  };

const addNoise =
  ({ gathered, all, kinds }: PartGains & { kind: 'noise' }): AddPart =>
  (planes, out) => {
    const texels = planes.length / NOISE_KINDS.length;
    for (let i = 0; i < texels; i++) {
      const is = isGatheredIn(planes[i]!) ? 1 : 0;
      let most = 0;
      for (let kind = 0; kind < NOISE_KINDS.length; kind++) {
        const noise = noiseIn(planes[kind * texels + i]!);
        most = Math.max(most, noise);
        for (let c = 0; c < 3; c++) out[i * 4 + c] = out[i * 4 + c]! + noise * kinds[kind]![c]!;
      }
      for (let c = 0; c < 3; c++) out[i * 4 + c] = out[i * 4 + c]! + is * gathered[c]! + most * all[c]!;
    }
  };

/** The bytes of a part as the kernel sums them up; none of what it does not. */
function codesOf(part: CompactTable, own: PartGains, planes: Uint8Array): Codes[] {
  if (own.kind === 'group') {
    const { basis } = part as CompactTable & { kind: 'group' };
    return [{ kind: 'group', planes, table: kernelTable(basis, own.table) }];
  }
  if (own.kind === 'direct') return [{ kind: 'squares', planes, gains: own.gains.map((v) => (v * DIRECT_MOST) / 255 ** 2) }];
  if (own.kind === 'noise') return [];
  const { largest } = part as CompactTable & { kind: 'colors' };
  const size = planes.length / own.gains.length;
  return own.gains.flatMap((gains, k): Codes[] =>
    isDark(gains) ? [] : [{ kind: 'colors', planes: planes.subarray(k * size, (k + 1) * size), levels: levelsOf(largest[k]!), gains }],
  );
}

/**
 * Mixes compact stems of a lightmap, of those texels alone that surface covers: what `mixTexels` makes of stems as they were computed, but for the
 * direct light of suns that no cue has.
 *
 * @returns 4 numbers for each texel of `at`: RGB E/pi in cd/m2, and 1 where the texel was gathered, 0 where it was filled from neighbours
 */
export function mixCompact(
  tables: readonly CompactTable[],
  baked: BakedParts,
  { at, parts }: Pick<CompactStems, 'at' | 'parts'>,
  gains: Gains,
): Float32Array {
  const out = new Float32Array(at.length * 4);
  const codes: Codes[] = [];
  for (const part of tables) {
    const planes = parts[part.key];
    if (!planes) continue;
    const own = partGains(part, baked, gains);
    if (own?.kind === 'noise') addNoise(own)(planes, out);
    else if (own) codes.push(...codesOf(part, own, planes));
    if (part.kind === 'noise') for (let i = 0; i < at.length; i++) out[i * 4 + 3] = isGatheredIn(planes[i]!) ? 1 : 0;
  }
  addCodes(codes, at.length, out);
  return out;
}

/** A layer as compact stems tell it: four numbers for each texel. What they do not keep of it is 0. */
export function layerOf(tables: readonly CompactTable[], baked: BakedParts, stems: CompactStems, layer: number): Float32Array {
  const nothing = () => new Float32Array(layerCount(baked) * 3);
  const [colors, fourths] = [nothing(), nothing()];
  colors.fill(1, layer * 3, layer * 3 + 3);
  const out = mixCompact(tables, baked, stems, { colors, fourths: nothing() });
  fourths.fill(1, layer * 3, layer * 3 + 3);
  const fourth = mixCompact(tables, baked, stems, { colors: nothing(), fourths });
  for (let i = 0; i < out.length; i += 4) out[i + 3] = fourth[i]!;
  return out;
}
