import { luminance, percent } from '../units';
import { faceLight, panoramaIlluminance, type FaceLight, type Panorama } from '../sky';
import { clippedPixels } from './clipped';
import { LEAST_CONFIDENCE, findSpot, type FoundSun } from './findSun';
import { LAYOUT_NAMES } from './layout';
import { findHorizon, type Horizon } from './horizon';
import { MAX_SKY_PIXELS, type SkyImage } from './readSky';
import { FORMAT_NAMES } from './sniff';

/** What can be wrong with a sky image. */
export type ProblemCode =
  | 'other-format'
  | 'other-layout'
  | 'not-two-to-one'
  | 'ldr'
  | 'clipped-sun'
  | 'seam'
  | 'black-ground'
  | 'tilted-horizon'
  | 'bad-values'
  | 'negative-values'
  | 'too-bright'
  | 'too-dark';

/** What can be done about it. */
export type RemedyCode =
  | 'fit-resample'
  | 'fit-pad'
  | 'fit-upper-half'
  | 'as-linear'
  | 'as-srgb'
  | 'expand'
  | 'rebuild-sun'
  | 'heal-seam'
  | 'fill-ground'
  | 'level-horizon'
  | 'clean-values'
  | 'calibrate';

/** One thing wrong with an image, in plain words, with what can be done. */
export interface Problem {
  code: ProblemCode;
  text: string;
  /** The first is what Basil would do. */
  remedies: RemedyCode[];
}

/** What a sky image is and what is wrong with it. */
export interface SkyReport {
  format: string;
  claimed: string | null;
  width: number;
  height: number;
  /** Size of the file's own pixels, where they were too many and were brought together. */
  reducedFrom: { width: number; height: number } | null;
  bits: number;
  encoding: 'linear' | 'srgb';
  isHdr: boolean;
  /** Least, greatest and mean luminance by solid angle, of what is a number. */
  min: number;
  max: number;
  mean: number;
  /** Pixels that hold NaN, an infinity or a negative number. */
  badPixels: number;
  /** Pixels at the top value where the top was cut off, else 0. */
  clippedPixels: number;
  /** Step at the wrap, against the usual step between neighbours. */
  seam: number;
  horizon: Horizon | null;
  sun: FoundSun | null;
  /** Its brightest spot where that is too little of a sun to be taken for one: a lamp, a gap between leaves. Reports from before have none. */
  spot?: FoundSun | null;
  /** What it gives level ground as it is, lux where its radiances are cd/m2. */
  illuminanceLux: number;
  /** E / pi on surfaces that face up, to the sides (mean of four) and down: RGB, in the image's units. */
  ambient: FaceLight;
  /** Shares of the solid angle over luminance, a bin for each half stop of EV100 from `from`. */
  histogram: { from: number; shares: number[] };
  problems: Problem[];
}

const BINS = 64;
const FROM_EV = -14;

interface Levels {
  min: number;
  max: number;
  mean: number;
  bad: number;
  shares: number[];
}

function measure({ width, height, rgba }: Panorama): Levels {
  let [min, max, sum, weight, bad] = [Infinity, 0, 0, 0, 0];
  const shares = new Array<number>(BINS).fill(0);
  for (let y = 0; y < height; y++) {
    const omega = Math.cos(Math.PI * (0.5 - (y + 0.5) / height));
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4;
      const [r, g, b] = [rgba[at]!, rgba[at + 1]!, rgba[at + 2]!];
      if (!(Math.min(r, g, b) >= 0 && Math.max(r, g, b) < Infinity)) {
        bad++;
        continue;
      }
      const l = luminance([r, g, b]);
      if (l < min) min = l;
      if (l > max) max = l;
      sum += l * omega;
      weight += omega;
      const bin = l > 0 ? Math.floor((Math.log2(l / 0.125) - FROM_EV) * 2) : 0;
      shares[Math.min(BINS - 1, Math.max(0, bin))]! += omega;
    }
  }
  return {
    min: weight > 0 ? min : 0,
    max,
    mean: weight > 0 ? sum / weight : 0,
    bad,
    shares: shares.map((s) => (weight > 0 ? s / weight : 0)),
  };
}

/** How much larger the step across the wrap is than between other neighbours: 1 for an image that closes. */
function seamOf({ width, height, rgba }: Panorama): number {
  const log = (x: number, y: number) => {
    const at = (y * width + x) * 4;
    const l = luminance([rgba[at]!, rgba[at + 1]!, rgba[at + 2]!]);
    return Math.log(Math.max(1e-6, l < Infinity ? l : 1));
  };
  const [from, to] = [Math.floor(height * 0.05), Math.ceil(height * 0.95)];
  const step = (a: number, b: number) => {
    let sum = 0;
    for (let y = from; y < to; y++) sum += Math.abs(log(a, y) - log(b, y));
    return sum / (to - from);
  };
  const others: number[] = [];
  const stride = Math.max(1, Math.floor(width / 200));
  for (let x = 0; x + 1 < width; x += stride) others.push(step(x, x + 1));
  others.sort((a, b) => a - b);
  const usual = others[Math.floor(others.length * 0.9)]!;
  return step(width - 1, 0) / Math.max(usual, 0.004);
}

/** Luminance means of the sky over and of the ground under the horizon. */
function halves({ width, height, rgba }: Panorama): [above: number, below: number] {
  const sum: [number, number] = [0, 0];
  const weight: [number, number] = [0, 0];
  for (let y = 0; y < height; y++) {
    const elevation = 90 - ((y + 0.5) / height) * 180;
    if (Math.abs(elevation) < 8) continue;
    const side = elevation > 0 ? 0 : 1;
    const omega = Math.cos((elevation * Math.PI) / 180);
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4;
      const l = luminance([rgba[at]!, rgba[at + 1]!, rgba[at + 2]!]);
      if (!(l >= 0 && l < Infinity)) continue;
      sum[side] += l * omega;
      weight[side] += omega;
    }
  }
  return [sum[0] / Math.max(1e-9, weight[0]), sum[1] / Math.max(1e-9, weight[1])];
}

/** More than the brightest moon gives level ground, with its sky. */
const FULL_MOON_LUX = 0.4;

/** Step at the wrap that shows, against the usual one. */
const SEAM = 3;

/** What an image of these sides might have been taken for, and why it is not. */
function otherwise(ratio: number): string {
  const isCross = [4 / 3, 3 / 4].some((cross) => Math.abs(ratio / cross - 1) < 0.005);
  if (isCross) return ' It is no cross of six faces: where one is empty, this is not.';
  return Math.abs(ratio - 1) < 0.005 ? ' It is no dome: the corners of one are empty, and these are not.' : '';
}

/** Looks a sky image over: what it is, what light it gives, where its sun stands, what is wrong and what can be done about it. */
export function inspectSky({ image, file, format, claimed, layout, bits, encoding, isHdr, negative = 0 }: SkyImage): SkyReport {
  const { width, height } = image;
  const levels = measure(image);
  const cut = clippedPixels(image);
  const seam = seamOf(image);
  const [above, below] = halves(image);
  const isTwoToOne = Math.abs(width / height / 2 - 1) < 0.005;
  const horizon = isTwoToOne ? findHorizon(image) : null;
  const spot = findSpot(image, cut > 0);
  const sun = spot && spot.confidence >= LEAST_CONFIDENCE ? spot : null;
  const lux = luminance(panoramaIlluminance(image));
  const problems: Problem[] = [];
  const add = (code: ProblemCode, text: string, ...remedies: RemedyCode[]) => problems.push({ code, text, remedies });

  if (claimed) add('other-format', `Its name says ${claimed.toUpperCase()}; it is ${FORMAT_NAMES[format]} and was read as that.`);
  if (layout !== 'panorama') add('other-layout', `It is ${LAYOUT_NAMES[layout]}, and was brought to 2:1.`);
  if (!isTwoToOne) {
    const off = width / height / 2 - 1;
    add(
      'not-two-to-one',
      `${width} x ${height} is not 2:1: ${percent(Math.abs(off))} too ${off > 0 ? 'wide' : 'high'}. As it is, heights in the sky would be ${off > 0 ? 'stretched' : 'squeezed'} by that, the sun's too.${otherwise(width / height)}`,
      ...((width / height > 3.2
        ? ['fit-upper-half', 'fit-pad', 'fit-resample']
        : off > 0
          ? ['fit-pad', 'fit-resample', 'fit-upper-half']
          : ['fit-resample', 'fit-pad']) as RemedyCode[]),
    );
  }
  if (levels.bad > 0) {
    add(
      'bad-values',
      `${levels.bad} pixel${levels.bad > 1 ? 's hold' : ' holds'} no light: not a number, infinite or negative.`,
      'clean-values',
    );
  }
  if (negative > 0)
    add(
      'negative-values',
      `${negative} pixel${negative > 1 ? 's' : ''} held values below zero, as lossy compression leaves them; they are read as 0, and nothing else need be done.`,
    );
  if (!isHdr) {
    add(
      'ldr',
      `It holds ${bits} bits without light brighter than white, read as ${encoding === 'srgb' ? 'sRGB' : 'linear'}: its sun is thousands of times too weak.`,
      'expand',
      encoding === 'srgb' ? 'as-linear' : 'as-srgb',
    );
  }
  if (cut > 0) {
    const at = sun ? ` at azimuth ${sun.azimuthDeg.toFixed(0)}, elevation ${sun.elevationDeg.toFixed(0)} deg` : '';
    add(
      'clipped-sun',
      `The top of its sun${at} is cut off: ${cut} pixels all hold the greatest value. It lights too weakly and casts no shadow.`,
      'rebuild-sun',
    );
  }
  if (seam > SEAM)
    add('seam', `Its left and right edges do not meet: the step is ${seam.toFixed(1)} times that between other columns.`, 'heal-seam');
  if (below < above * 1e-3)
    add('black-ground', 'Its lower half is black: nothing is lit from below, and floors under roofs turn dark.', 'fill-ground');
  // Edges of clouds make a rough one, high over the middle.
  if (
    horizon &&
    horizon.tiltDeg > 1 &&
    horizon.tiltDeg > horizon.roughDeg * 1.5 &&
    horizon.roughDeg < 2.5 &&
    Math.abs(horizon.heightDeg) < 8
  ) {
    add(
      'tilted-horizon',
      `Its horizon is tilted by ${horizon.tiltDeg.toFixed(1)} deg, highest towards azimuth ${horizon.towardsDeg.toFixed(0)} deg.`,
      'level-horizon',
    );
  }
  const direct = sun && cut === 0 && isHdr ? sun.lux : 0;
  if (lux > 250_000)
    add('too-bright', `It would give level ground ${lux.toPrecision(3)} lx; the brightest day gives about 120 000.`, 'calibrate');
  // A sun that outshines its sky has a day's light; what gives less than a full moon may be one.
  else if (sun && isHdr && direct > lux * 0.2 && sun.elevationDeg > 2 && lux > FULL_MOON_LUX && lux < 400) {
    add(
      'too-dark',
      `It shows a sun and would give level ground ${lux.toPrecision(2)} lx; a day with the sun up gives 400 to 120 000. Its scale is arbitrary.`,
      'calibrate',
    );
  } else if (lux === 0) add('too-dark', 'It is black: it gives no light at all.');

  return {
    format,
    claimed,
    width,
    height,
    reducedFrom: file.width * file.height > MAX_SKY_PIXELS ? file : null,
    bits,
    encoding,
    isHdr,
    min: levels.min,
    max: levels.max,
    mean: levels.mean,
    badPixels: levels.bad,
    clippedPixels: cut,
    seam,
    horizon,
    sun,
    spot: sun ? null : spot,
    illuminanceLux: lux,
    ambient: faceLight(image),
    histogram: { from: FROM_EV, shares: levels.shares },
    problems,
  };
}
