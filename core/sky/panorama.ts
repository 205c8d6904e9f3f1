import type { Rgb } from '../units';
import { angularRadiance, type Sky } from './sky';
import type { ShRgb } from './sphericalHarmonics';

/** An equirectangular image of radiances, cd/m2: the centre column faces north, the right half east, the top row the zenith. */
export interface Panorama {
  width: number;
  height: number;
  /** RGBA, alpha 1, row by row from the top. */
  rgba: Float32Array;
}

/** Paints a sky's radiance over a panorama `width` wide and half as high. */
export function paintPanorama(sky: Sky, width: number): Panorama {
  const height = Math.round(width / 2);
  const rgba = new Float32Array(width * height * 4);
  const radiance = angularRadiance(sky);
  const out = new Float64Array(3);
  for (let y = 0; y < height; y++) {
    const elevation = Math.PI * (0.5 - (y + 0.5) / height);
    for (let x = 0; x < width; x++) {
      out.fill(0);
      radiance(2 * Math.PI * ((x + 0.5) / width - 0.5), elevation, out);
      const at = (y * width + x) * 4;
      rgba[at] = out[0]!;
      rgba[at + 1] = out[1]!;
      rgba[at + 2] = out[2]!;
      rgba[at + 3] = 1;
    }
  }
  return { width, height, rgba };
}

/** Illuminance that a panorama gives on a level plane from above, RGB lux: the sum of radiance, sine of elevation and solid angle. */
export function panoramaIlluminance({ width, height, rgba }: Panorama): Rgb {
  const sum: Rgb = [0, 0, 0];
  for (let y = 0; y < height / 2; y++) {
    // The middle row of an odd number lies half under the horizon.
    const [top, bottom] = [Math.PI * (0.5 - y / height), Math.max(0, Math.PI * (0.5 - (y + 1) / height))];
    // The integral of sin(e) cos(e) over the row, times its width in azimuth.
    const weight = ((Math.sin(top) ** 2 - Math.sin(bottom) ** 2) / 2) * ((2 * Math.PI) / width);
    for (let x = 0; x < width; x++) for (let c = 0; c < 3; c++) sum[c]! += weight * rgba[(y * width + x) * 4 + c]!;
  }
  return sum;
}

/** Illuminance that a radiance gives on a level plane from above, RGB lux, from its harmonics: E = pi times the diffuse lobe facing up. */
export function horizontalIlluminance(sh: ShRgb): Rgb {
  // Facing up only (0,0), (1,0) and (2,0) are other than nought.
  return [0, 1, 2].map(
    (c) =>
      Math.PI *
      (0.5 * Math.sqrt(1 / Math.PI) * sh[c]! +
        (2 / 3) * Math.sqrt(3 / (4 * Math.PI)) * sh[2 * 3 + c]! +
        (1 / 4) * 0.25 * Math.sqrt(5 / Math.PI) * 2 * sh[6 * 3 + c]!),
  ) as Rgb;
}
