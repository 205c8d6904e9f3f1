import type { FloatImage } from '../../core/image';
import { CLEAR_AIR, illuminanceBelow, paintPanorama, pixelDirection, rowSolidAngle, type Air, type Panorama } from '../../core/sky';
import { DEG, directionFromAngles, rgbFromKelvin, scaleRgb, type Rgb } from '../../core/units';

/** A computed sky with a sun that is known. */
export interface KnownSky {
  image: Panorama;
  azimuthDeg: number;
  elevationDeg: number;
  /** Direct light of the disc on a plane that faces it, RGB lux. */
  sun: Rgb;
}

const ABOVE: Rgb = scaleRgb(rgbFromKelvin(5772), 133_000);
export const HAZY: Air = { ...CLEAR_AIR, haze: scaleRgb(CLEAR_AIR.haze, 8), hazeAbsorption: scaleRgb(CLEAR_AIR.hazeAbsorption, 8) };

/** A disc of 0.533 degrees painted over a panorama by sampling each pixel 8 x 8 times; it gives `lux` on a plane that faces it. */
function addDisc(image: Panorama, azimuthDeg: number, elevationDeg: number, lux: Rgb): void {
  const { width, height, rgba } = image;
  const [sx, sy, sz] = directionFromAngles(azimuthDeg, elevationDeg);
  const cosineTo = ([x, y, z]: readonly number[]) => x! * sx + y! * sy + z! * sz;
  const least = Math.cos(0.2665 * DEG);
  const row = Math.round((0.5 - elevationDeg / 180) * height);
  const reach = Math.ceil(0.5 / (180 / height)) + 1;
  const disc: { i: number; share: number }[] = [];
  let facing = 0;
  for (let y = Math.max(0, row - reach); y <= Math.min(height - 1, row + reach); y++) {
    for (let x = 0; x < width; x++) {
      const middle = cosineTo(pixelDirection(x, y, width, height));
      if (middle < Math.cos((1 + 180 / height) * DEG)) continue;
      let inside = 0;
      for (let k = 0; k < 64; k++) {
        if (cosineTo(pixelDirection(x + ((k & 7) + 0.5) / 8 - 0.5, y + ((k >> 3) + 0.5) / 8 - 0.5, width, height)) >= least) inside++;
      }
      disc.push({ i: y * width + x, share: inside / 64 });
      facing += (inside / 64) * rowSolidAngle(y, width, height) * middle;
    }
  }
  for (const { i, share } of disc) for (let c = 0; c < 3; c++) rgba[i * 4 + c]! += (lux[c]! * share) / facing;
}

/** Smooth noise on the sphere, about -1..1, of a few octaves: sums of waves in fixed directions. */
function noiseOf(seed: number): (direction: readonly number[]) => number {
  const waves = Array.from({ length: 12 }, (_, k) => {
    const a = seed * 12.9898 + k * 78.233;
    const f = 2 * 1.64 ** k;
    const [p, q] = [Math.sin(a) * 6.28, Math.sin(a * 1.7) * 6.28];
    return { x: f * Math.cos(p), y: f * Math.cos(q), z: f * Math.sin(p), phase: q, weight: 1 / 1.32 ** k };
  });
  const size = waves.reduce((all, w) => all + w.weight, 0) / 3;
  return ([x, y, z]) => {
    let sum = 0;
    for (const w of waves) sum += Math.sin(w.x * x! + w.y * y! + w.z * z! + w.phase) * w.weight;
    return sum / size;
  };
}

const known = new Map<string, KnownSky>();

/** A sky of an air with its sun, clear or with broken clouds that leave the sun free; made once, not to be changed. */
export function knownSky(azimuthDeg: number, elevationDeg: number, kind: 'clear' | 'hazy' | 'broken', width = 512): KnownSky {
  const key = [azimuthDeg, elevationDeg, kind, width].join();
  const sky = known.get(key) ?? makeSky(azimuthDeg, elevationDeg, kind, width);
  known.set(key, sky);
  return sky;
}

function makeSky(azimuthDeg: number, elevationDeg: number, kind: 'clear' | 'hazy' | 'broken', width: number): KnownSky {
  const air = kind === 'hazy' ? HAZY : CLEAR_AIR;
  const image = paintPanorama(
    [
      {
        weight: 1,
        sky: {
          kind: 'air',
          air,
          heightM: 0,
          glow: [0, 0, 0],
          luminaries: [{ direction: directionFromAngles(azimuthDeg, elevationDeg), illuminance: ABOVE }],
        },
      },
    ],
    width,
  );
  if (kind === 'broken') {
    const noise = noiseOf(azimuthDeg);
    const sunAt = directionFromAngles(azimuthDeg, elevationDeg);
    for (let i = 0; i < image.width * image.height; i++) {
      const d = pixelDirection(i % width, Math.floor(i / width), width, image.height);
      if (d[1] < 0.02) continue;
      const away = Math.acos(Math.min(1, d[0] * sunAt[0] + d[1] * sunAt[1] + d[2] * sunAt[2])) / DEG;
      const cover = Math.min(1, Math.max(0, noise(d) * 2)) * Math.min(1, Math.max(0, (away - 1.2) / 2));
      // Bright where the sun shines through the rim, grey in the middle.
      const cloud = 7000 + 30_000 * Math.exp(-away / 12);
      for (let c = 0; c < 3; c++) image.rgba[i * 4 + c] = image.rgba[i * 4 + c]! * (1 - cover) + cloud * cover;
    }
  }
  const sun = illuminanceBelow(air, 0, elevationDeg, ABOVE);
  addDisc(image, azimuthDeg, elevationDeg, sun);
  return { image, azimuthDeg, elevationDeg, sun };
}

/** All values cut at a top. */
export const cutAt = (image: Panorama, top: number): FloatImage => ({
  ...image,
  rgba: image.rgba.map((v, i) => (i % 4 === 3 ? v : Math.min(top, v))),
});
