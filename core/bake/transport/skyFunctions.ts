import { AUREOLE_COUNT, DOME_COUNT, DOME_LOWER, LOW_FUNCTIONS, aureolesBasis, fullBasis } from '../../sky';
import { aureolesOf, type BakePlan } from '../plan/bakePlan';
import { SKY_BOUNCE_LAYER, skyLayers } from '../stems/layers';

/** The functions of the sky that a plan traces: all, or those about low suns alone where it traces suns and circuits. */
export interface SkyFunctions {
  count: number;
  /** The layer of each. */
  layers: number[];
  /** The layer that what of each has bounced goes to as well; -1 for those that have none. */
  bounceLayers: number[];
  /** What each counts for in the light by which the sky's noise is judged and paths are guided: an even sky, brighter about low suns. */
  weights: Float64Array;
  /** Writes the value of each towards a direction. */
  evaluate(dx: number, dy: number, dz: number, out: Float64Array): void;
}

/** Radiance of an even sky of 1 cd/m2 in its first coefficient: the first function of each half is the same all over it. */
export const EVEN_SKY = 2 * Math.sqrt(Math.PI);
/** Coefficients of the first and third function about a low sun beside an even sky of 1 cd/m2, all suns together: about a clear air's. */
const LOW_SUNS = 6;

/** Functions of the sky that a plan traces. */
export const skyNumbers = (plan: Pick<BakePlan, 'partly' | 'suns'>): number =>
  (plan.partly ? 0 : DOME_COUNT) + AUREOLE_COUNT * aureolesOf(plan.suns).length;

export function createSkyFunctions(plan: BakePlan): SkyFunctions {
  const aureoles = aureolesOf(plan.suns);
  const first = plan.partly ? 0 : DOME_COUNT;
  const count = skyNumbers(plan);
  const weights = new Float64Array(count);
  if (!plan.partly) weights[0] = weights[DOME_LOWER] = EVEN_SKY;
  for (let a = first; a < count; a += AUREOLE_COUNT) weights[a] = weights[a + 2] = LOW_SUNS / aureoles.length;
  return {
    count,
    layers: skyLayers(plan).slice(plan.partly ? DOME_COUNT : 0),
    bounceLayers: Array.from({ length: count }, (_, i) => {
      const low = plan.partly ? -1 : LOW_FUNCTIONS.indexOf(i);
      return low < 0 ? -1 : SKY_BOUNCE_LAYER + low;
    }),
    weights,
    evaluate(dx, dy, dz, out) {
      if (plan.partly) aureolesBasis(aureoles, dx, dy, dz, out, 0);
      else fullBasis(aureoles, dx, dy, dz, out);
    },
  };
}
