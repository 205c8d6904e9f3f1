import { FIRST_SUN_LAYER, GLOW_LAYER, SKY_LAYERS, circuitLayer } from './layers';
import { type BakedCircuit, type BakePlan, type BakedParts, type BakedSun } from '../plan/bakePlan';

/** A part of a bake that is stored by itself, and kept as long as nothing it answers to has changed. */
export interface StemPart {
  /** Stays the same from bake to bake. */
  key: string;
  kind: 'sky' | 'glow' | 'sun' | 'circuit';
  /** First of its layers, and how many. */
  layer: number;
  layers: number;
}

const rounded = (degrees: number) => degrees.toFixed(3);
export const sunKey = ({ azimuthDeg, elevationDeg, discDeg, cues }: BakedSun): string =>
  `${cues.length > 0 ? 'sun' : 'station'} ${rounded(azimuthDeg)} ${rounded(elevationDeg)} ${rounded(discDeg)}`;
export const circuitKey = ({ id }: BakedCircuit): string => `circuit ${id}`;

/** The parts of a bake, in the order of their layers. */
export function stemParts(baked: BakedParts): StemPart[] {
  return [
    { key: 'sky', kind: 'sky', layer: 0, layers: SKY_LAYERS },
    { key: 'glow', kind: 'glow', layer: GLOW_LAYER, layers: 1 },
    ...baked.suns.map((sun, i): StemPart => ({ key: sunKey(sun), kind: 'sun', layer: FIRST_SUN_LAYER + i, layers: 1 })),
    ...baked.circuits.map((c, i): StemPart => ({ key: circuitKey(c), kind: 'circuit', layer: circuitLayer(baked, i), layers: 2 })),
  ];
}

/** Keys of the parts that a plan traces. */
export const tracedParts = (plan: Pick<BakePlan, 'suns' | 'circuits' | 'partly'>): string[] =>
  stemParts(plan)
    .filter((p) => !plan.partly || p.kind === 'sun' || p.kind === 'circuit' || (p.kind === 'glow' && plan.partly.glow))
    .map((p) => p.key);
