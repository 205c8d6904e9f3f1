import type { Panorama } from './panorama';
import { angularRadiance, type Sky } from './sky';

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
