import { NO_CIRCUIT } from '../../rig';
import { isCues, type BakePlan } from '../plan/bakePlan';
import { FIRST_SUN_LAYER, GLOW_LAYER, circuitLayer } from '../stems/layers';
import type { TileStems } from './gatherTile';
import { slotLight, slotPlaces } from './paths';

/** How uncertain one source's gathered light is, before the filter, as measured between runs of paths. */
export interface SourceNoise {
  /** The sky (under an even one), the glow, the bounce of each cue's sun, the bounce of each circuit. */
  source: 'sky' | 'glow' | 'sun' | 'circuit';
  /** The ids of a sun's cues, or that of a circuit. */
  ids: string[];
  /** Texels that were gathered. */
  texels: number;
  /** RMS of the standard errors of single texels, as a share of the source's mean light over all of them. */
  noise: number;
}

/** Takes the noise of tiles together, one after another, so that they need not be in memory at once. */
export interface NoiseTally {
  add(tile: TileStems): void;
  /** Of the sources that give light at all. */
  report(): SourceNoise[];
}

export function createNoiseTally(plan: BakePlan): NoiseTally {
  const slots = slotPlaces(plan);
  const slotOf = (layer: number) => slots.findIndex(({ at }) => at === layer * 3);
  const sources: { slot: number; source: SourceNoise['source']; ids: string[] }[] = [
    { slot: slotOf(0), source: 'sky', ids: [] },
    { slot: slotOf(GLOW_LAYER), source: 'glow', ids: [] },
    ...plan.suns.flatMap((sun, s) => (isCues(sun) ? [{ slot: slotOf(FIRST_SUN_LAYER + s), source: 'sun' as const, ids: sun.cues }] : [])),
    ...plan.circuits.map(({ id }, c) => ({
      slot: slotOf(circuitLayer(plan, c) + 1),
      source: 'circuit' as const,
      ids: id === NO_CIRCUIT ? [] : [id],
    })),
  ];
  const light = new Float64Array(slots.length);
  const variance = new Float64Array(slots.length);
  let texels = 0;
  return {
    add(tile) {
      const count = tile.at.length;
      const numbers = count > 0 ? tile.values.length / count : 0;
      for (let i = 0; i < count; i++) {
        if (tile.paths[i] === 0) continue;
        texels++;
        const own = tile.values.subarray(i * numbers, (i + 1) * numbers);
        for (const { slot } of sources) {
          light[slot]! += slotLight(own, slots[slot]!);
          variance[slot]! += tile.variance[i * slots.length + slot]!;
        }
      }
    },
    report: () =>
      sources
        .filter(({ slot }) => light[slot]! > 0)
        .map(({ slot, source, ids }) => ({ source, ids, texels, noise: Math.sqrt(variance[slot]! / texels) / (light[slot]! / texels) })),
  };
}
