import { encodeSrgb, luminance, whiteLuminance, type Rgb } from '../units';
import { applyCdl, isNoCdl } from './cdl';
import { IDENTITY, times } from './colorMatrices';
import { CURVES, blendCurves } from './toneCurve';
import type { GradeNow } from './grade';
import { MID_GREY } from './midGrey';
import { nightVision } from './nightVision';
import { whiteBalanceMatrix } from './whiteBalance';
import { applyZones, isNoZones } from './zones';

/**
 * What a grade does to the colour of each point by itself, from scene values (1 = white) to display-linear ones: night
 * vision, white balance, colour decision list, zones, contrast and tone curve. It is what a look-up table can hold; what looks at
 * neighbouring points or at places in the picture is not in it.
 *
 * @param ev100 the exposure, from which night vision knows how bright a scene value is
 */
export function colorGrade(grade: GradeNow, ev100: number): (rgb: Readonly<Rgb>) => Rgb {
  const before = beforeCurve(grade, ev100);
  return (rgb) => blendCurves(before(rgb), grade.curves);
}

/** The same without the tone curve: scene values from scene values. Steps that are neutral are left out. */
export function beforeCurve(grade: GradeNow, ev100: number): (rgb: Readonly<Rgb>) => Rgb {
  const { cdl, zones, contrast } = grade;
  const steps: ((rgb: Readonly<Rgb>) => Rgb)[] = [];
  if (grade.nightVision > 0) {
    const white = whiteLuminance(ev100);
    steps.push(([r, g, b]) => nightVision([r * white, g * white, b * white], grade.nightVision).map((v) => v / white) as Rgb);
  }
  const matrix = whiteBalanceMatrix(grade.whiteBalance, grade.sceneWhite);
  if (matrix !== IDENTITY) steps.push((rgb) => times(matrix, rgb));
  if (!isNoCdl(cdl)) steps.push((rgb) => applyCdl(cdl, rgb));
  if (!isNoZones(zones)) steps.push((rgb) => applyZones(zones, rgb));
  if (contrast.amount !== 1)
    steps.push((rgb) => rgb.map((v) => contrast.pivot * (Math.max(0, v) / contrast.pivot) ** contrast.amount) as Rgb);
  return (rgb) => steps.reduce<Rgb>((value, step) => step(value), [...rgb]);
}

/** Whether a grade shows everything as it is shown without one. */
export const isNeutral = (grade: GradeNow): boolean => isColorNeutral(grade) && !isSpatial(grade);

/** Whether its part that a table can hold is the neutral curve alone. */
export const isColorNeutral = ({
  cdl,
  zones,
  contrast,
  curves,
  whiteBalance: { adapt, kelvin, tint },
  nightVision: night,
  sceneWhite,
}: GradeNow): boolean =>
  night === 0 &&
  whiteBalanceMatrix({ adapt, kelvin, tint }, sceneWhite) === IDENTITY &&
  isNoCdl(cdl) &&
  isNoZones(zones) &&
  contrast.amount === 1 &&
  CURVES.every((name) => curves[name] === (name === 'neutral' ? 1 : 0));

/** Whether it does something that depends on where in the picture a point is. */
export const isSpatial = ({ bloom, vignette, grain, smoothing }: GradeNow): boolean =>
  bloom.amount > 0 || vignette.ev > 0 || grain.amount > 0 || smoothing;

/** Stops by which a grade lifts mid-grey before the tone curve: what the exposure could do instead. */
export function gradeLiftEv(grade: GradeNow, ev100: number): number {
  const at = (v: number) => {
    const [r, g, b] = beforeCurve({ ...grade, nightVision: 0 }, ev100)([v, v, v]);
    return luminance([r, g, b]);
  };
  return Math.log2(Math.max(1e-6, at(MID_GREY)) / MID_GREY);
}
/** Encoded sRGB of scene values (1 = white) under a grade, without what depends on the place in the picture. */
export function gradedColor(grade: GradeNow, ev100: number): (rgb: Readonly<Rgb>) => Rgb {
  const color = colorGrade(grade, ev100);
  return (rgb) => color(rgb).map(encodeSrgb) as Rgb;
}
