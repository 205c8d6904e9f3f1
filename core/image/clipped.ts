import type { Panorama } from '../sky';
import { luminance, type Rgb } from '../units';

/** Most of the mean sky that a flat top may be and still be called cut off: an uncut sun is thousands of times brighter. */
const CUT_CONTRAST = 5000;

/**
 * Pixels at the top of a sun that was cut off: many just at one value with next to nothing a little under it, in one small
 * patch, not thousands of times brighter than the sky. 0 where nothing was.
 */
export function clippedPixels({ width, height, rgba }: Panorama): number {
  let [top, mean, weight] = [0, 0, 0];
  for (let y = 0; y < height; y++) {
    const omega = Math.cos(Math.PI * (0.5 - (y + 0.5) / height));
    for (let i = y * width; i < (y + 1) * width; i++) {
      const rgb: Rgb = [rgba[i * 4]!, rgba[i * 4 + 1]!, rgba[i * 4 + 2]!];
      const v = Math.max(rgb[0], rgb[1], rgb[2]);
      if (!(v < Infinity)) continue;
      if (v > top) top = v;
      mean += Math.max(0, luminance(rgb)) * omega;
      weight += omega;
    }
  }
  mean /= Math.max(1e-9, weight);
  if (!(top > 0) || top > mean * CUT_CONTRAST) return 0;
  let [flat, near] = [0, 0];
  const sum = [0, 0, 0];
  for (let y = 0; y < height; y++) {
    const elevation = Math.PI * (0.5 - (y + 0.5) / height);
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4;
      const v = Math.max(rgba[at]!, rgba[at + 1]!, rgba[at + 2]!);
      if (v >= top * 0.9985) {
        flat++;
        const azimuth = 2 * Math.PI * ((x + 0.5) / width - 0.5);
        sum[0]! += Math.cos(elevation) * Math.sin(azimuth);
        sum[1]! += Math.sin(elevation);
        sum[2]! -= Math.cos(elevation) * Math.cos(azimuth);
      } else if (v >= top * 0.985) near++;
    }
  }
  // The mean direction of a small patch is nearly as long as a unit vector; a bright band all around has none.
  const gathered = Math.hypot(...sum) / flat;
  const small = flat < width * height * 0.06;
  return flat >= 3 && flat > near * 0.6 && gathered > 0.93 && small && top > mean * 1.5 ? flat : 0;
}
