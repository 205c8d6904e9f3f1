import type { Rgb } from '../../units';
import { openGroundLight } from './exposure';
import type { Lighting } from './lighting';
import type { WaterNow } from './water';

/** Radiance that water of a lighting sends back from below, RGB cd/m2: of the sun and the sky over open ground. */
export function waterGlow(water: WaterNow, lighting: Lighting): Rgb {
  const { sun, sky } = openGroundLight(lighting);
  const { mix } = lighting;
  return water.scatter.map((v, c) => (v * (sun[c]! * mix.sun[c]! + Math.max(0, sky[c]!) * mix.sky[c]!)) / Math.PI) as Rgb;
}
