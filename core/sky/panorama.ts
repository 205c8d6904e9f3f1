import type { Rgb } from '../units';

/** An equirectangular image of radiances, cd/m2: the centre column faces north, the right half east, the top row the zenith. */
export interface Panorama {
  width: number;
  height: number;
  /** RGBA, alpha 1, row by row from the top. */
  rgba: Float32Array;
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
