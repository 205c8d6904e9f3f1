import type { Material } from '../../level';
import { AUREOLE_COUNT, DOME_LOWER, LOW_FUNCTIONS } from '../../sky';
import type { SumSlot } from '../../trace';
import { luminance } from '../../units';
import { aureolesOf, isCues, type BakePlan } from '../plan/bakePlan';
import {
  FIRST_SUN_LAYER,
  GLOW_LAYER,
  SKY_BOUNCE_LAYER,
  SKY_BOUNCE_LAYERS,
  SKY_LAYERS,
  aureoleLayer,
  circuitLayer,
  layerCount,
} from '../stems/layers';
import { EVEN_SKY, createSkyFunctions } from './skyFunctions';

/** Kinds of light whose noise is watched: the sky, all suns together, all circuits together, and each cue's sun. */
export const [SKY, SUNS, LAMPS, FIRST_CUE] = [0, 1, 2, 3] as const;
export const kindsOf = (plan: Pick<BakePlan, 'suns'>): number => FIRST_CUE + plan.suns.filter(isCues).length;
/** The kind of light of each sun that is a cue's, 0 for the others. */
export function sunKinds({ suns }: Pick<BakePlan, 'suns'>): Uint16Array {
  const kinds = new Uint16Array(suns.length);
  suns.filter(isCues).forEach((sun, k) => (kinds[suns.indexOf(sun)] = FIRST_CUE + k));
  return kinds;
}

/** In place of a circuit, where the glow of a material goes into a light that is not traced now. */
export const NOT_TRACED = -2;

/**
 * What the luminance of each layer counts for in each kind of light: kind after kind, one number for each layer. The sky is judged by an even one,
 * lamps and glows by how bright they are where they shine.
 *
 * @param scales mean luminance of each circuit's lamps where they shine at all
 */
export function kindWeights(materials: readonly Material[], plan: BakePlan, scales: Float32Array): Float64Array {
  const layers = layerCount(plan);
  const out = new Float64Array(kindsOf(plan) * layers);
  const { layers: skies, weights } = createSkyFunctions(plan);
  skies.forEach((layer, i) => (out[SKY * layers + layer] = weights[i]!));
  const kindOf = sunKinds(plan);
  plan.suns.forEach((_, s) => {
    out[SUNS * layers + FIRST_SUN_LAYER + s] = 1 / plan.suns.length;
    if (kindOf[s]! > 0) out[kindOf[s]! * layers + FIRST_SUN_LAYER + s] = 1;
  });
  const { scaleOf } = glowsOf(plan, materials);
  out[LAMPS * layers + GLOW_LAYER + 1] = scaleOf(-1);
  plan.circuits.forEach((_, c) => {
    out[LAMPS * layers + circuitLayer(plan, c) + 1] = scales[c]! > 0 ? 1 / scales[c]! : scaleOf(c);
  });
  return out;
}

/** The circuit that each material glows with (-1 for none), and what counts as 1 of the glow of a circuit: its brightest. */
export function glowsOf(plan: BakePlan, materials: readonly Material[]) {
  const circuitOf = new Map(plan.circuits.map(({ id }, i) => [id, i]));
  const circuits = Int16Array.from(materials, ({ lightId }) => (lightId === undefined ? -1 : (circuitOf.get(lightId) ?? NOT_TRACED)));
  const scaleOf = (circuit: number): number => {
    const brightest = Math.max(0, ...materials.map(({ emission }, m) => (circuits[m] === circuit ? luminance(emission) : 0)));
    return brightest > 0 ? 1 / brightest : 0;
  };
  return { circuits, scaleOf };
}

/** Luminance of light by kinds, as noise is judged by: `kinds` numbers of each place or cell, from four numbers for each layer of it. */
export function kindLuminances(weights: Float64Array, kinds: number, values: Float32Array): Float32Array {
  const layers = weights.length / kinds;
  const count = values.length / (layers * 4);
  const out = new Float32Array(new SharedArrayBuffer(count * kinds * 4));
  for (let i = 0; i < count; i++) {
    for (let layer = 0; layer < layers; layer++) {
      const at = (i * layers + layer) * 4;
      const level = luminance([values[at]!, values[at + 1]!, values[at + 2]!]);
      if (level !== 0) for (let kind = 0; kind < kinds; kind++) out[i * kinds + kind]! += level * weights[kind * layers + layer]!;
    }
  }
  return out;
}

/** Light whose variance is known as one: the first of its layers tells it. */
export interface VarianceSlot extends SumSlot {
  layer: number;
  count: number;
}

/**
 * Slots of a texel's variance, by layer: sky, its bounce, glow seen straight and its bounce, each sun's bounce, each circuit's glow seen straight and
 * its bounce, each aureole. The sky's are those of the light under an even one, which each half has a function for.
 */
export function varianceSlots(plan: Pick<BakePlan, 'suns' | 'circuits'>): VarianceSlot[] {
  const one = (layer: number, count = 1): VarianceSlot => ({ layer, count, layers: [layer], scale: 1 });
  return [
    { layer: 0, count: SKY_LAYERS, layers: [0, DOME_LOWER], scale: EVEN_SKY },
    {
      layer: SKY_BOUNCE_LAYER,
      count: SKY_BOUNCE_LAYERS,
      layers: [SKY_BOUNCE_LAYER, SKY_BOUNCE_LAYER + LOW_FUNCTIONS.indexOf(DOME_LOWER)],
      scale: EVEN_SKY,
    },
    one(GLOW_LAYER),
    one(GLOW_LAYER + 1),
    ...plan.suns.map((_, s) => one(FIRST_SUN_LAYER + s)),
    ...plan.circuits.flatMap((_, c) => [one(circuitLayer(plan, c)), one(circuitLayer(plan, c) + 1)]),
    ...aureolesOf(plan.suns).map((_, a) => one(aureoleLayer(plan, a), AUREOLE_COUNT)),
  ];
}
