import { FIRST_SUN_LAYER, GLOW_LAYER, SKY_BOUNCE_LAYER, SKY_BOUNCE_LAYERS, circuitLayer, skyLayers } from '../stems/layers';
import { circuitKey, stemParts, sunKey } from '../stems/stemParts';
import { isCues, type BakedParts } from '../plan/bakePlan';
import { COLOR_BYTES } from './colorCodes';
import { planesOf } from './groupCodes';
import type { BasisSize, GroupBasis } from './groupBasis';
import { NOISE_BYTES } from './noiseCodes';

/**
 * How finely layers are told that rise and fall together from texel to texel, those of the sky and bounced light of suns; chosen by measurement,
 * see the page on the bake. Bytes of a texel are 5 + fine + coarse / 2.
 */
export const GROUP_SIZES: Readonly<Record<'sky' | 'suns', BasisSize>> = {
  sky: { space: 96, clusters: 128, fine: 6, coarse: 24 },
  suns: { space: 96, clusters: 128, fine: 8, coarse: 40 },
};

/** What the keys of compact parts begin with, among those of parts of halves. */
export const COMPACT = 'compact ';
/** The key that the tables of a bake are stored by, with its first map. */
export const TABLES_KEY = `${COMPACT}tables`;

interface StoredParts {
  parts: Record<string, string[]>;
}

/**
 * The file of the tables that a map's compact parts are read by: its own, or the one that all maps have in common; undefined where there is none.
 *
 * @param maps of its bake: those that are not there yet may be missing
 */
export const tablesFile = (maps: readonly (StoredParts | undefined)[], map: StoredParts): string | undefined =>
  (map.parts[TABLES_KEY] ?? maps.find((m) => m?.parts[TABLES_KEY])?.parts[TABLES_KEY])?.[0];

/** A part of compact stems that is stored by itself: so many bytes of each texel. Its layers are told by {@link layerNames}. */
export type CompactPart = { key: string; bytes: number } & (
  | { kind: 'group'; size: BasisSize; layers: readonly string[] }
  /** Light in full colour: straight, and bounced. */
  | { kind: 'colors'; layers: readonly string[] }
  /** Direct light of a cue's sun: the fourth number of its layer. */
  | { kind: 'direct'; layers: readonly string[] }
  /** Whether the texel was gathered, and its noise. */
  | { kind: 'noise' }
);

/** A part with what its bytes are read by: the basis of a group; of colours the largest sum of the channels of each layer. */
export type CompactTable =
  | Exclude<CompactPart, { kind: 'group' | 'colors' }>
  | (CompactPart & { kind: 'group'; basis: GroupBasis })
  | (CompactPart & { kind: 'colors'; largest: readonly number[] });

/** A name of each layer that stays the same from bake to bake. */
export const layerNames = (baked: BakedParts): string[] =>
  stemParts(baked).flatMap(({ key, layers }) => Array.from({ length: layers }, (_, k) => `${key} ${k}`));

/** The parts of compact stems. The direct light of suns between those of cues is none of them: it is shown by live shadows. */
export function compactParts(baked: BakedParts): CompactPart[] {
  const names = layerNames(baked);
  const group = (key: 'sky' | 'suns', layers: readonly number[]): CompactPart[] => {
    const size = GROUP_SIZES[key];
    return layers.length > 0
      ? [{ key: `${COMPACT}${key}`, bytes: planesOf(size), kind: 'group', size, layers: layers.map((l) => names[l]!) }]
      : [];
  };
  const colors = (key: string, layer: number): CompactPart => ({
    key: `${COMPACT}${key}`,
    bytes: 2 * COLOR_BYTES,
    kind: 'colors',
    layers: [names[layer]!, names[layer + 1]!],
  });
  return [
    ...group('sky', [...skyLayers(baked), ...Array.from({ length: SKY_BOUNCE_LAYERS }, (_, k) => SKY_BOUNCE_LAYER + k)]),
    ...group(
      'suns',
      baked.suns.map((_, i) => FIRST_SUN_LAYER + i),
    ),
    { key: `${COMPACT}noise`, bytes: NOISE_BYTES, kind: 'noise' },
    colors('glow', GLOW_LAYER),
    ...baked.suns.flatMap((sun, i): CompactPart[] =>
      isCues(sun) ? [{ key: `${COMPACT}direct ${sunKey(sun)}`, bytes: 1, kind: 'direct', layers: [names[FIRST_SUN_LAYER + i]!] }] : [],
    ),
    ...baked.circuits.map((circuit, i) => colors(circuitKey(circuit), circuitLayer(baked, i))),
  ];
}

/** Bytes of a texel in compact stems. */
export const compactBytes = (baked: BakedParts): number => compactParts(baked).reduce((sum, p) => sum + p.bytes, 0);

/** Keys of the parts that make a compact part idle once they are all traced anew; a group stays for those of its layers that are not. */
export const supersededBy = (part: CompactPart): string[] =>
  part.kind === 'group' || part.kind === 'noise' ? ['sky'] : [...new Set(part.layers.map((name) => name.replace(/ \d+$/, '')))];
