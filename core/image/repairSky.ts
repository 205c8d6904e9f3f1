import { Failure, directionFromAngles, luminance, type Rgb } from '../units';
import { CLEAR_AIR, airTables, illuminanceBelow, panoramaIlluminance, resampleEquirect, type Panorama } from '../sky';
import { findSpot, findSun } from './findSun';
import { findHorizon, levelled } from './horizon';
import type { ProblemCode, RemedyCode } from './inspectSky';
import { calibrated, rebuildSun } from './splitSun';

/** What remedies may be told. */
export interface RepairOptions {
  /** Illuminance of a rebuilt sun on a plane that faces it, lux; without it, what clear air lets through at its height. */
  sunLux?: number;
  sunKelvin?: number;
  /** Illuminance on level ground that an image is set to, lux. */
  levelLux?: number;
}

/** The first remedy for each problem. */
export const FIRST_REMEDY: Readonly<Partial<Record<ProblemCode, RemedyCode>>> = {
  'not-two-to-one': 'fit-resample',
  ldr: 'expand',
  'clipped-sun': 'rebuild-sun',
  seam: 'heal-seam',
  'black-ground': 'fill-ground',
  'tilted-horizon': 'level-horizon',
  'bad-values': 'clean-values',
  'too-bright': 'calibrate',
  'too-dark': 'calibrate',
};

const REPAIRS: Readonly<Record<Exclude<RemedyCode, 'as-linear' | 'as-srgb'>, (image: Panorama, options: RepairOptions) => Panorama>> = {
  'clean-values': cleanValues,
  'fit-resample': (image) => fitted(image, (v) => v),
  'fit-pad': (image) => {
    // As many degrees a pixel up as along; what is missing above and below continues the edge rows.
    const covered = Math.min(1, (2 * image.height) / image.width);
    return fitted(image, (v) => 0.5 + (v - 0.5) / covered);
  },
  'fit-upper-half': (image) => fillGround(fitted(image, (v) => Math.min(1, v * 2))),
  expand,
  'rebuild-sun': withSun,
  'heal-seam': healSeam,
  'fill-ground': fillGround,
  'level-horizon': (image) => {
    const horizon = findHorizon(image);
    if (!horizon) throw cannot('No horizon was found that could be levelled.', 'Leave this remedy out.');
    return levelled(image, horizon);
  },
  calibrate: (image, { levelLux }) => {
    if (levelLux === undefined) throw cannot('The level to set the image to is not said.', 'Give the illuminance on level ground in lux.');
    if (!(luminance(panoramaIlluminance(image)) > 0)) throw cannot('A black image gives no light at any strength.', 'Bring another image.');
    return calibrated(image, levelLux);
  },
};

const cannot = (what: string, remedy: string) => new Failure('bad-input', what, remedy);

/**
 * Applies remedies to an image, in the order in which they make sense whatever the order they are named in; the image itself is
 * left as it is. How whole-number pixels are read is settled before, when the image is read.
 *
 * Throws a `bad-input` {@link Failure} where a remedy cannot be applied.
 */
export function repairSky(image: Panorama, remedies: RemedyCode[], options: RepairOptions = {}): Panorama {
  const order = Object.keys(REPAIRS) as (keyof typeof REPAIRS)[];
  return order.filter((code) => remedies.includes(code)).reduce((out, code) => REPAIRS[code](out, options), image);
}

/** Pixels without light filled by the mean of the nearest that have some. */
function cleanValues({ width, height, rgba }: Panorama): Panorama {
  const out = rgba.slice();
  const isGood = (i: number) => [0, 1, 2].every((c) => rgba[i * 4 + c]! >= 0 && rgba[i * 4 + c]! < Infinity);
  for (let i = 0; i < width * height; i++) {
    if (isGood(i)) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    const mean: Rgb = [0, 0, 0];
    let count = 0;
    for (let r = 1; r <= 32 && count === 0; r++) {
      for (let dy = -r; dy <= r; dy++) {
        for (let dx = -r; dx <= r; dx++) {
          if (Math.max(Math.abs(dx), Math.abs(dy)) !== r || y + dy < 0 || y + dy >= height) continue;
          const j = (y + dy) * width + ((x + dx + width) % width);
          if (!isGood(j)) continue;
          count++;
          for (let c = 0; c < 3; c++) mean[c]! += rgba[j * 4 + c]!;
        }
      }
    }
    for (let c = 0; c < 3; c++) out[i * 4 + c] = count > 0 ? mean[c]! / count : 0;
    out[i * 4 + 3] = 1;
  }
  return { width, height, rgba: out };
}

/** The image brought to 2:1: row v of the outcome (0 top, 1 bottom) shows row `rowOf(v)` of the image, held at its edges. */
function fitted({ width, height, rgba }: Panorama, rowOf: (v: number) => number): Panorama {
  const outHeight = Math.round(width / 2);
  const out = new Float32Array(width * outHeight * 4);
  for (let y = 0; y < outHeight; y++) {
    const from = Math.min(height - 1, Math.max(0, rowOf((y + 0.5) / outHeight) * height - 0.5));
    const y0 = Math.floor(from);
    const y1 = Math.min(height - 1, y0 + 1);
    const f = from - y0;
    for (let i = 0; i < width * 4; i++) out[y * width * 4 + i] = rgba[y0 * width * 4 + i]! * (1 - f) + rgba[y1 * width * 4 + i]! * f;
  }
  // An odd width has no half of whole pixels.
  return width % 2 === 0 ? { width, height: outHeight, rgba: out } : resampleEquirect({ width, height: outHeight, rgba: out }, width + 1);
}

/** Reflectance of land that is filled in. */
const GROUND_ALBEDO = 0.22;

/** The lower half filled with the light that level land sends back, in the colour of what lights it, from the horizon down. */
function fillGround(image: Panorama): Panorama {
  const { width, height } = image;
  const rgba = image.rgba.slice();
  const lux = panoramaIlluminance(image);
  for (let y = Math.floor(height / 2); y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4;
      for (let c = 0; c < 3; c++) rgba[at + c] = (lux[c]! * GROUND_ALBEDO) / Math.PI;
    }
  }
  return { width, height, rgba };
}

/** Share of the width on each side over which the edges are brought together. */
const HEAL = 0.04;

/** Both edges bent towards their geometric mean, less and less away from the wrap. */
function healSeam({ width, height, rgba }: Panorama): Panorama {
  const out = rgba.slice();
  const band = Math.max(2, Math.round(width * HEAL));
  const step = new Float64Array(height * 3);
  for (let y = 0; y < height; y++) {
    for (let c = 0; c < 3; c++) {
      const [left, right] = [rgba[y * width * 4 + c]!, rgba[(y * width + width - 1) * 4 + c]!];
      step[y * 3 + c] = Math.log((Math.max(0, right) + 1e-6) / (Math.max(0, left) + 1e-6)) / 2;
    }
  }
  for (let y = 0; y < height; y++) {
    for (let k = 0; k < band; k++) {
      const t = 1 - (k + 0.5) / band;
      const share = t * t * (3 - 2 * t);
      for (let c = 0; c < 3; c++) {
        // Over some rows, so that a leaf at the edge leaves no streak.
        let bend = 0;
        for (let dy = -2; dy <= 2; dy++) bend += step[Math.min(height - 1, Math.max(0, y + dy)) * 3 + c]! / 5;
        out[(y * width + k) * 4 + c]! *= Math.exp(bend * share);
        out[(y * width + width - 1 - k) * 4 + c]! *= Math.exp(-bend * share);
      }
    }
  }
  return { width, height, rgba: out };
}

/**
 * Whole-number pixels given the reach that they lost: the inverse of the curve x / (1 + x) near white, and a sun over the
 * brightest patch with the share of direct light that clear air has at its height.
 */
function expand(image: Panorama, options: RepairOptions): Panorama {
  const rgba = image.rgba.map((v, i) => (i % 4 === 3 ? 1 : v / (1.06 - Math.min(1, Math.max(0, v)))));
  return withSun({ ...image, rgba }, options, true);
}

/** The sun that is found, brought to the illuminance that is wanted of it, or that clear air lets through. */
function withSun(image: Panorama, { sunLux, sunKelvin }: RepairOptions, mayFail = false): Panorama {
  // Who has a sun rebuilt says that there is one: of a top that was cut off hardly any light is left to tell by.
  const sun = mayFail ? findSun(image) : findSpot(image);
  if (!sun || sun.elevationDeg < 0) {
    if (mayFail) return image;
    throw cannot('No sun was found in the image that could be rebuilt.', 'Take the sun of the cue instead.');
  }
  return rebuildSun(image, sun, sunLux ?? naturalSunLux(image, sun.elevationDeg), sunKelvin);
}

/** What the sun would send at its height if the image's sky were that of clear air: sky and sun go together. */
function naturalSunLux(image: Panorama, elevationDeg: number): number {
  const height = Math.max(1, elevationDeg);
  const direct = luminance(illuminanceBelow(CLEAR_AIR, 0, height, [1, 1, 1]));
  const whole = new Float64Array(3);
  const sine = directionFromAngles(0, height)[1];
  airTables(CLEAR_AIR).diffuse.groundLux(sine, whole);
  const diffuse = luminance([whole[0]!, whole[1]!, whole[2]!]) - direct * sine;
  return (luminance(panoramaIlluminance(image)) * direct) / diffuse;
}
