import type { Surfaces } from '../../level';
import { NO_CIRCUIT, glowLightId, type Rig } from '../../rig';
import type { Vec3 } from '../../units';
import { isCues, type BakePlan } from '../plan/bakePlan';
import { FIRST_SUN_LAYER, GLOW_LAYER, NOISE_KINDS, circuitLayer, type NoiseKind } from '../stems/layers';
import { readColumn } from '../stems/halfColumns';
import { coverTexels } from '../texels/coverTexels';
import type { TileStems } from './gatherTile';
import { varianceSlots, type VarianceSlot } from './lightKinds';
import { luma } from './paths';

/** How uncertain one source's gathered light is, before the filter, as measured between runs of paths. */
export interface SourceNoise {
  /** The sky (under an even one), the bounce of the glow, the bounce of each cue's sun, the bounce of each circuit. */
  source: 'sky' | 'glow' | 'sun' | 'circuit';
  /** The ids of a sun's cues, or that of a circuit. */
  ids: string[];
  /** RMS of the standard errors of single texels, as a share of the source's mean light over all of them. */
  noise: number;
}

/** Texels that took all the paths they may, and in which a kind of light is noisier, by its own light there, than the plan allows. */
export type OverByKind = Record<NoiseKind, number>;

/** An object with texels that are too noisy. */
export interface NoisyObject {
  object: string;
  /** Texels of it that were gathered. */
  texels: number;
  over: OverByKind;
  /** The noisiest kind of light of its worst texel, its noise, and where that lies. */
  kind: NoiseKind;
  noise: number;
  atM: Vec3;
}

/** What a bake knows of the noise in what it traced, before the filter. */
export interface BakeNoise {
  /** What the plan allows. */
  allowed: number;
  /** Texels that were gathered. */
  texels: number;
  over: OverByKind;
  /** Of the sources that give light at all. */
  sources: SourceNoise[];
  /** Where most texels are too noisy, most first: {@link MOST_NAMED} at most. */
  objects: NoisyObject[];
}

const MOST_NAMED = 8;

/** What one tile tells of its noise, in numbers that are added up over tiles. */
export interface NoiseSums {
  texels: number;
  over: OverByKind;
  /** Of each source its light and its variance, summed over texels. */
  light: number[];
  variance: number[];
  objects: NoisyObject[];
}

const ofSources = (plan: BakePlan): { layer: number; source: SourceNoise['source']; ids: string[] }[] => [
  { layer: 0, source: 'sky', ids: [] },
  { layer: GLOW_LAYER + 1, source: 'glow', ids: [] },
  ...plan.suns.flatMap((sun, s) => (isCues(sun) ? [{ layer: FIRST_SUN_LAYER + s, source: 'sun' as const, ids: sun.cues }] : [])),
  ...plan.circuits.map(({ id }, c) => ({
    layer: circuitLayer(plan, c) + 1,
    source: 'circuit' as const,
    ids: id === NO_CIRCUIT ? [] : [id],
  })),
];

const none = (): OverByKind => ({ sky: 0, suns: 0, lamps: 0 });
const added = (a: OverByKind, b: OverByKind): OverByKind => ({ sky: a.sky + b.sky, suns: a.suns + b.suns, lamps: a.lamps + b.lamps });
const most = (over: OverByKind): number => Math.max(over.sky, over.suns, over.lamps);

/** Takes together what the paths of a tile tell of their noise. */
export function noiseOfTile(surfaces: Surfaces, plan: BakePlan, tile: TileStems): NoiseSums {
  const slots = varianceSlots(plan);
  const texels = coverTexels(surfaces, tile.tile);
  const count = tile.at.length;
  const allPaths = plan.paths * plan.most;
  const sums: NoiseSums = { texels: 0, over: none(), light: [], variance: [], objects: [] };
  for (const { layer } of ofSources(plan)) {
    const slot = slots.findIndex((s) => s.layer === layer);
    sums.light.push(count > 0 ? slotLight(tile, slots[slot]!) : 0);
    sums.variance.push(count > 0 ? varianceIn(tile, slot) : 0);
  }
  const objects = new Map<number, NoisyObject>();
  for (let i = 0; i < count; i++) {
    if (tile.paths[i] === 0) continue;
    sums.texels++;
    const place = texels.start[i]!;
    const of = surfaces.objectOf[texels.triangle[place]!]!;
    let noisy = objects.get(of);
    if (!noisy)
      objects.set(of, (noisy = { object: surfaces.objects[of]!, texels: 0, over: none(), kind: 'sky', noise: 0, atM: [0, 0, 0] }));
    noisy.texels++;
    if (tile.paths[i]! < allPaths) continue;
    for (const [k, kind] of NOISE_KINDS.entries()) {
      const noise = tile.noise[i * NOISE_KINDS.length + k]!;
      if (noise <= plan.noise) continue;
      sums.over[kind]++;
      noisy.over[kind]++;
      if (noise <= noisy.noise) continue;
      Object.assign(noisy, { kind, noise, atM: placeOf(surfaces, texels.triangle[place]!, texels.u[place]!, texels.v[place]!) });
    }
  }
  sums.objects = [...objects.values()];
  return sums;
}

/** Sum of the luminance in a slot over the texels of a tile that were gathered; the others hold none. */
function slotLight({ light }: TileStems, { layers, scale }: VarianceSlot): number {
  let sum = 0;
  for (const layer of layers) {
    const rgb = readColumn(light, layer);
    for (let at = 0; at < rgb.length; at += 3) sum += luma(rgb[at]!, rgb[at + 1]!, rgb[at + 2]!);
  }
  return scale * sum;
}

/** Sum of the variance in a slot over the texels of a tile. */
const varianceIn = ({ errors }: TileStems, slot: number): number => readColumn(errors, slot).reduce((sum, error) => sum + error * error, 0);

function placeOf({ positions, indices }: Surfaces, triangle: number, u: number, v: number): Vec3 {
  const corner = (k: number, c: number) => positions[indices[triangle * 3 + k]! * 3 + c]!;
  return [0, 1, 2].map((c) => corner(0, c) * (1 - u - v) + corner(1, c) * u + corner(2, c) * v) as Vec3;
}

/** What a bake knows of its noise, by what its tiles tell. */
export function bakeNoise(plan: BakePlan, tiles: readonly NoiseSums[]): BakeNoise {
  const total = (of: (tile: NoiseSums) => number) => tiles.reduce((sum, tile) => sum + of(tile), 0);
  const texels = total((t) => t.texels);
  const sources = ofSources(plan).map(({ source, ids }, s) => ({
    source,
    ids,
    light: total((t) => t.light[s]!),
    variance: total((t) => t.variance[s]!),
  }));
  const objects = new Map<string, NoisyObject>();
  for (const own of tiles.flatMap((t) => t.objects)) {
    const sum = objects.get(own.object);
    const worst = !sum || own.noise > sum.noise ? own : sum;
    objects.set(own.object, { ...worst, texels: (sum?.texels ?? 0) + own.texels, over: added(sum?.over ?? none(), own.over) });
  }
  return {
    allowed: plan.noise,
    texels,
    over: tiles.reduce((sum, t) => added(sum, t.over), none()),
    sources: sources
      .filter(({ light }) => light > 0)
      .map(({ source, ids, light, variance }) => ({ source, ids, noise: Math.sqrt(variance / texels) / (light / texels) })),
    objects: [...objects.values()]
      .filter((o) => most(o.over) > 0)
      .sort((a, b) => most(b.over) - most(a.over))
      .slice(0, MOST_NAMED),
  };
}

/** What a source of light is called, by the names of its cues or its circuit. */
export function sourceName({ source, ids }: SourceNoise, { cues, circuits, glows }: Pick<Rig, 'cues' | 'circuits' | 'glows'>): string {
  const named = [...cues, ...circuits, ...glows.map((g) => ({ id: glowLightId(g.id), name: `glow of ${g.material}` }))];
  const names = ids.map((id) => named.find((x) => x.id === id)?.name ?? 'deleted');
  return [{ sky: 'Sky', glow: 'Glow', sun: 'Sun bounce', circuit: 'Lamp bounce' }[source], ...names].join(', ');
}
