import { DEG, directionFromAngles, discSolidAngle, kelvinFromRgb, luminance, rgbFromKelvin, scaleRgb, type Rgb, type Vec3 } from '../units';
import { panoramaIlluminance, type Panorama } from '../sky';
import { eachAround, medianAround, type FoundSun } from './findSun';

/** A sun taken out of an image. */
export interface SunSplit {
  /** The image without it, filled from the sky around. */
  image: Panorama;
  azimuthDeg: number;
  elevationDeg: number;
  /** On a plane that faces it, RGB lux, so that it gives level ground what the image lost. */
  illuminance: Rgb;
  lux: number;
  kelvin: number | null;
}

const SECTORS = 24;

/** Position angle of a direction about an axis, 0..1. */
function angleAbout(d: Readonly<Vec3>, east: Readonly<Vec3>, up: Readonly<Vec3>): number {
  const a = Math.atan2(d[0] * east[0] + d[1] * east[1] + d[2] * east[2], d[0] * up[0] + d[1] * up[1] + d[2] * up[2]);
  return (a / (2 * Math.PI) + 1) % 1;
}

/**
 * Takes the sun and its glow out of an image and answers it as a light of its own. What is under it is filled from the sky
 * around; what it gave level ground and the filled image gives it no more is the light of the sun: nothing is counted twice or
 * lost.
 */
export function splitSun(image: Panorama, { azimuthDeg, elevationDeg, direction, reachDeg }: FoundSun): SunSplit {
  const rgba = image.rgba.slice();
  const rim = medianAround(image, direction, reachDeg, reachDeg + 1.5);
  const east = directionFromAngles(azimuthDeg + 90, 0);
  const up = directionFromAngles(azimuthDeg, elevationDeg + 90);
  const sectors = Array.from({ length: SECTORS }, () => ({ sum: [0, 0, 0] as Rgb, weight: 0 }));
  const inner = Math.cos(reachDeg * DEG);
  eachAround(image, direction, reachDeg + 1.5, (i, d, cosine, omega) => {
    if (cosine >= inner) return;
    const sector = sectors[Math.floor(angleAbout(d, east, up) * SECTORS) % SECTORS]!;
    // Leaves of a cloud's bright rim or of a dark mast do not run into the fill.
    for (let c = 0; c < 3; c++) sector.sum[c]! += Math.min(image.rgba[i * 4 + c]!, rim[c]! * 4) * omega;
    sector.weight += omega;
  });
  const edge = sectors.map(({ sum, weight }) => (weight > 0 ? scaleRgb(sum, 1 / weight) : rim));

  const lost: Rgb = [0, 0, 0];
  const facing: Rgb = [0, 0, 0];
  eachAround(image, direction, reachDeg, (i, d, cosine, omega) => {
    const s = angleAbout(d, east, up) * SECTORS - 0.5;
    const [a, b] = [edge[(Math.floor(s) + SECTORS) % SECTORS]!, edge[(Math.floor(s) + 1 + SECTORS) % SECTORS]!];
    const t = s - Math.floor(s);
    const outwards = Math.min(1, Math.acos(Math.min(1, cosine)) / DEG / reachDeg);
    for (let c = 0; c < 3; c++) {
      const before = rgba[i * 4 + c]!;
      const fill = rim[c]! + (a[c]! * (1 - t) + b[c]! * t - rim[c]!) * outwards;
      const after = before < fill ? before : fill;
      rgba[i * 4 + c] = after;
      lost[c]! += (before - after) * omega * Math.max(0, d[1]);
      facing[c]! += (before - after) * omega * cosine;
    }
  });
  // A sun on the horizon lights no ground: there its light is what it gives a plane that faces it.
  const sine = Math.sin(elevationDeg * DEG);
  const illuminance = sine > 0.03 ? scaleRgb(lost, 1 / sine) : facing;
  return {
    image: { ...image, rgba },
    azimuthDeg,
    elevationDeg,
    illuminance,
    lux: luminance(illuminance),
    kelvin: kelvinFromRgb(illuminance),
  };
}

/**
 * Paints a sun's disc over an image so that, with what is there already of it, a plane that faces it gets the wanted
 * illuminance: for a sun whose top was cut off.
 *
 * @param kelvin colour of what is added
 */
export function rebuildSun(
  image: Panorama,
  { direction, lux }: Pick<FoundSun, 'direction' | 'lux'>,
  wantedLux: number,
  kelvin = 5500,
): Panorama {
  const missing = wantedLux - lux;
  if (missing <= 0) return image;
  const rgba = image.rgba.slice();
  const discDeg = 0.533;
  // Wide enough for whole pixels to be covered.
  const radius = Math.max(discDeg / 2, 180 / image.height);
  const pixels: { i: number; weight: number }[] = [];
  let sum = 0;
  const soft = 90 / image.height;
  eachAround(image, direction, radius + soft, (i, _, cosine, omega) => {
    const away = Math.acos(Math.min(1, cosine)) / DEG;
    const weight = Math.min(1, Math.max(0, (radius + soft - away) / (2 * soft)));
    pixels.push({ i, weight });
    sum += weight * omega * cosine;
  });
  const radiance = scaleRgb(rgbFromKelvin(kelvin), missing / Math.max(sum, discSolidAngle(discDeg) * 1e-3));
  for (const { i, weight } of pixels) for (let c = 0; c < 3; c++) rgba[i * 4 + c]! += radiance[c]! * weight;
  return { ...image, rgba };
}

/** The image times a gain. */
export function scaled(image: Panorama, gain: number): Panorama {
  const rgba = image.rgba.map((v, i) => (i % 4 === 3 ? v : v * gain));
  return { ...image, rgba };
}

/** The image at the strength at which it gives level ground an illuminance, lux. Throws a RangeError for a black one. */
export function calibrated(image: Panorama, wantedLux: number): Panorama {
  const now = luminance(panoramaIlluminance(image));
  if (!(now > 0)) throw new RangeError('A black image gives no light at any strength.');
  return scaled(image, wantedLux / now);
}
