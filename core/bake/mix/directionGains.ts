import type { Lighting } from '../../rig';
import { evaluateDome, projectDome, skyDome } from '../../sky';
import { luminance } from '../../units';
import type { Gains } from '../stems/gains';
import { bakedDirect } from './mix';
import { FIRST_SUN_LAYER, layerCount, skyLayers } from '../stems/layers';
import { aureolesOf, type BakedParts } from '../plan/bakePlan';
import { sunShares } from '../plan/sunSamples';

/**
 * The gains that mix, in place of a colour, where light comes from: the sum over the straight light of suns and the sky's of luminance x
 * direction, x in the first channel, y in the second, z in the third. Its direction is the main one of the light, and its length beside the
 * light itself says how much of it comes from there. Bounced suns and lamps keep no direction and are not in it.
 */
export function directionGains(lighting: Lighting, baked: BakedParts): Gains {
  const layers = layerCount(baked);
  const gains: Gains = { colors: new Float32Array(layers * 3), fourths: new Float32Array(layers * 3) };
  const { mix, suns } = lighting;
  const aureoles = aureolesOf(baked.suns);
  const dome = skyDome(lighting.sky, aureoles);
  const trim = luminance(mix.sky);
  const facing = projectDome((d) => {
    const level = luminance(evaluateDome(dome, d, aureoles)) * trim;
    return [level * d[0], level * d[1], level * d[2]];
  }, aureoles);
  skyLayers(baked).forEach((layer, i) => gains.colors.set(facing.subarray(i * 3, i * 3 + 3), layer * 3));
  for (const sun of suns) {
    const { direction, illuminance } = sun;
    const own = bakedDirect(sun, baked.suns);
    const level = luminance(illuminance) * luminance(mix.sun);
    for (const [index, share] of own >= 0 ? [[own, 1] as const] : sunShares(baked.suns, direction)) {
      for (let c = 0; c < 3; c++) gains.fourths[(FIRST_SUN_LAYER + index) * 3 + c]! += level * share * direction[c]!;
    }
  }
  return gains;
}
