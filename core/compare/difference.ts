import { MID_GREY } from '../grade';
import type { Rgb } from '../units';
import { encodedRgb, vec3Glsl } from './falseColor';

/** How far a second picture is from a first one, in stops: from so many on, and the colours where it is brighter and where it is darker. */
export interface DifferenceBand {
  fromEv: number;
  brighter: string;
  darker: string;
}

/** Bands of a difference, the least first. */
export const DIFFERENCE_BANDS: readonly DifferenceBand[] = [
  { fromEv: 0, brighter: '#6c6c6c', darker: '#6c6c6c' },
  { fromEv: 1 / 6, brighter: '#93805c', darker: '#5c7186' },
  { fromEv: 1 / 2, brighter: '#bb8f3f', darker: '#41789f' },
  { fromEv: 1, brighter: '#e0982c', darker: '#2b6bbd' },
  { fromEv: 2, brighter: '#f4793a', darker: '#3350c4' },
  { fromEv: 4, brighter: '#ff4f3d', darker: '#3a2fa8' },
];

/** Scene values darker than this are black in both pictures: eight stops under mid-grey. */
export const DARK_FLOOR = MID_GREY * 2 ** -8;

/** Stops by which a second luminance is brighter than a first one; what is under the floor counts as the floor. */
export const differenceEv = (first: number, second: number, floor = DARK_FLOOR): number =>
  Math.log2(Math.max(floor, second) / Math.max(floor, first));

/** How dark a difference is drawn where the first picture is black: form stays to be seen. */
const SHADE = 0.45;

/**
 * Encoded sRGB, 0..1, that stands for a difference.
 *
 * @param ev stops by which the second picture is brighter
 * @param tone how light the first one is there, 0..1
 */
export function differenceColor(ev: number, tone: number): Rgb {
  const band = DIFFERENCE_BANDS.findLast(({ fromEv }) => Math.abs(ev) >= fromEv)!;
  const shade = SHADE + (1 - SHADE) * Math.min(1, Math.max(0, tone));
  return encodedRgb(ev > 0 ? band.brighter : band.darker).map((v) => v * shade) as Rgb;
}

/** What two pictures differ by. */
export interface DifferenceFigures {
  /** Mean of the stops by which the second one is brighter, and of their amounts. */
  meanEv: number;
  meanAmountEv: number;
  /** Share of the picture that differs by half a stop or more. */
  share: number;
  /** The most that it is brighter and darker anywhere, stops. */
  brightestEv: number;
  darkestEv: number;
}

/** Compares luminances of two pictures, point by point. Throws where they are of different sizes. */
export function measureDifference(first: ArrayLike<number>, second: ArrayLike<number>, floor = DARK_FLOOR): DifferenceFigures {
  if (first.length !== second.length) throw new Error('Pictures of different sizes cannot be compared point by point.');
  const figures: DifferenceFigures = { meanEv: 0, meanAmountEv: 0, share: 0, brightestEv: 0, darkestEv: 0 };
  const count = Math.max(1, first.length);
  for (let i = 0; i < first.length; i++) {
    const ev = differenceEv(first[i]!, second[i]!, floor);
    figures.meanEv += ev / count;
    figures.meanAmountEv += Math.abs(ev) / count;
    if (Math.abs(ev) >= 0.5) figures.share += 1 / count;
    figures.brightestEv = Math.max(figures.brightestEv, ev);
    figures.darkestEv = Math.min(figures.darkestEv, ev);
  }
  return figures;
}

/** GLSL of {@link differenceEv} and {@link differenceColor}. */
export const DIFFERENCE_GLSL = /* glsl */ `
float differenceEv(float first, float second, float least) { return log2(max(least, second) / max(least, first)); }
vec3 differenceColor(float ev, float tone) {
  vec3 color = ${vec3Glsl(DIFFERENCE_BANDS[0]!.brighter)};
${DIFFERENCE_BANDS.slice(1)
  .map(
    ({ fromEv, brighter, darker }) =>
      `  if (abs(ev) >= ${fromEv.toFixed(5)}) color = ev > 0.0 ? ${vec3Glsl(brighter)} : ${vec3Glsl(darker)};`,
  )
  .join('\n')}
  return color * mix(${SHADE.toFixed(3)}, 1.0, clamp(tone, 0.0, 1.0));
}`;
