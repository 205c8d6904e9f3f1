import type { FaceLight } from './faceLight';
import { addToned, skyRadiance, type Sky } from './sky';
import { SH_COUNT, facingSh, projectSky, type ShRgb } from './sphericalHarmonics';

/**
 * Coefficients of the radiance that a sky lights a level with, cd/m2: part by part, so that a fade between skies stays linear. A
 * painted sky whose ambient light is painted too gives that light, and not its bands'.
 */
export function skyHarmonics(sky: Sky): ShRgb {
  const sum = new Float32Array(SH_COUNT * 3);
  for (const { weight, sky: part, saturation = 1 } of sky) {
    if (weight === 0) continue;
    const facing: FaceLight | undefined = part.kind === 'bands' ? part.facing : undefined;
    const own = facing ? facingSh(facing) : projectSky(skyRadiance([{ weight: 1, sky: part }]));
    addToned(own, weight, saturation, sum);
  }
  return sum;
}
