import { luminance, type Rgb } from '../units';
import type { AngularRadiance } from './air/airSky';
import { panoramaIlluminance, type Panorama } from './panorama';

/** A sky that is an image. */
export interface ImageSky {
  kind: 'image';
  image: Panorama;
  /** Azimuth in the level that the image's middle column faces. */
  turnDeg: number;
  /** On its radiances, by primary. */
  gain: Rgb;
  /** 0 grey, 1 as it is. */
  saturation: number;
  /** How many times brighter it is shown than it lights. */
  shown: number;
}

const lux = new WeakMap<Panorama, number>();

/** What an image gives level ground as it is, lux where its radiances are cd/m2; worked out once for each. */
export function imageLux(image: Panorama): number {
  const known = lux.get(image);
  if (known !== undefined) return known;
  const found = luminance(panoramaIlluminance(image));
  lux.set(image, found);
  return found;
}

/** Prepares the radiance of an image sky: bilinear, round the wrap, held at the poles. */
export function imageByAngles({ image, turnDeg, gain, saturation }: ImageSky): AngularRadiance {
  const { width, height, rgba } = image;
  const turn = (turnDeg * Math.PI) / 180;
  const seen = new Float64Array(3);
  return (azimuth, elevation, out) => {
    const x = (0.5 + (azimuth - turn) / (2 * Math.PI)) * width - 0.5;
    const y = Math.min(height - 1, Math.max(0, (0.5 - elevation / Math.PI) * height - 0.5));
    const [fx, y0] = [x - Math.floor(x), Math.floor(y)];
    const fy = y - y0;
    const x0 = ((Math.floor(x) % width) + width) % width;
    const x1 = (x0 + 1) % width;
    const y1 = Math.min(height - 1, y0 + 1);
    for (let c = 0; c < 3; c++) {
      const top = rgba[(y0 * width + x0) * 4 + c]! * (1 - fx) + rgba[(y0 * width + x1) * 4 + c]! * fx;
      const bottom = rgba[(y1 * width + x0) * 4 + c]! * (1 - fx) + rgba[(y1 * width + x1) * 4 + c]! * fx;
      seen[c] = top * (1 - fy) + bottom * fy;
    }
    const grey = luminance([seen[0]!, seen[1]!, seen[2]!]);
    for (let c = 0; c < 3; c++) out[c]! += gain[c]! * Math.max(0, grey + (seen[c]! - grey) * saturation);
  };
}
