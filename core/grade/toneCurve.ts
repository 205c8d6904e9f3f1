import { encodeSrgb, whiteLuminance, type Rgb } from '../units';
import { MID_GREY } from './midGrey';

/** How scene values are brought into the display's range. Each shows mid-grey as mid-grey. */
export const CURVES = ['linear', 'neutral', 'filmic', 'aces'] as const;
export type CurveName = (typeof CURVES)[number];

const START_COMPRESSION = 0.8;
const DESATURATION = 0.15;

/**
 * Linear up to 0.8, then compressed towards 1, hue kept, bright colours losing saturation on the way. It is the highlight
 * half of the Khronos PBR Neutral tone mapper (Khronos Group 2024, specification and reference code); its toe, which takes a reflection of
 * 4 % out of every colour, is left out, for the light judged here is diffuse and shadows would turn gaudy.
 */
function neutral(rgb: Readonly<Rgb>): Rgb {
  const peak = Math.max(...rgb);
  if (peak < START_COMPRESSION) return [...rgb];
  const d = 1 - START_COMPRESSION;
  const newPeak = 1 - (d * d) / (peak + d - START_COMPRESSION);
  const toWhite = 1 - 1 / (DESATURATION * (peak - newPeak) + 1);
  return rgb.map((v) => ((v * newPeak) / peak) * (1 - toWhite) + newPeak * toWhite) as Rgb;
}

/** Ratio of quadratics of J. Hable's filmic curve (Hable 2010, "Filmic Tonemapping Operators"), and the value that it shows as white. */
const FILMIC = { a: 0.15, b: 0.5, c: 0.1, d: 0.2, e: 0.02, f: 0.3, white: 11.2 };
const filmicOf = (x: number): number => {
  const { a, b, c, d, e, f } = FILMIC;
  return (x * (a * x + c * b) + d * e) / (x * (a * x + b) + d * f) - e / f;
};
/** Ratio of quadratics that follows the reference rendering of ACES (Narkowicz 2016, "ACES Filmic Tone Mapping Curve"). */
const ACES = { a: 2.51, b: 0.03, c: 2.43, d: 0.59, e: 0.14 };
const acesOf = (x: number): number => {
  const { a, b, c, d, e } = ACES;
  return Math.min(1, (x * (a * x + b)) / (x * (c * x + d) + e));
};

/** The gain under which a rising curve shows mid-grey as itself. */
function gainFor(curve: (x: number) => number): number {
  let [low, high] = [0, 64];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (curve(middle * MID_GREY) < MID_GREY) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
const filmicShown = (x: number) => Math.min(1, filmicOf(x) / filmicOf(FILMIC.white));
const FILMIC_GAIN = gainFor(filmicShown);
const ACES_GAIN = gainFor(acesOf);

const CURVE_FUNCTIONS: Readonly<Record<CurveName, (rgb: Readonly<Rgb>) => Rgb>> = {
  linear: (rgb) => rgb.map((v) => Math.min(1, Math.max(0, v))) as Rgb,
  neutral,
  filmic: (rgb) => rgb.map((v) => filmicShown(Math.max(0, v) * FILMIC_GAIN)) as Rgb,
  aces: (rgb) => rgb.map((v) => acesOf(Math.max(0, v) * ACES_GAIN)) as Rgb,
};

/**
 * A tone curve.
 *
 * @param rgb scene values, 1 = white at the exposure
 * @returns display-linear values, 0..1
 */
export const toneCurve = (rgb: Readonly<Rgb>, name: CurveName = 'neutral'): Rgb => CURVE_FUNCTIONS[name](rgb);

/** Several curves at once, each with its share. */
export function blendCurves(rgb: Readonly<Rgb>, shares: Readonly<Record<CurveName, number>>): Rgb {
  const out: Rgb = [0, 0, 0];
  for (const name of CURVES) {
    const share = shares[name];
    if (share === 0) continue;
    const shown = CURVE_FUNCTIONS[name](rgb);
    for (let c = 0; c < 3; c++) out[c]! += share * shown[c]!;
  }
  return out;
}

const float = (v: number) => v.toFixed(8);

/** The same curves in GLSL: `vec3 toneCurve(vec3)`, the neutral one, and `vec3 blendCurves(vec3, vec4)`, in the order of {@link CURVES}. */
export const TONE_CURVE_GLSL = /* glsl */ `
vec3 toneCurve(vec3 color) {
  float peak = max(color.r, max(color.g, color.b));
  if (peak < ${float(START_COMPRESSION)}) return color;
  float d = 1.0 - ${float(START_COMPRESSION)};
  float newPeak = 1.0 - d * d / (peak + d - ${float(START_COMPRESSION)});
  return mix(color * newPeak / peak, vec3(newPeak), 1.0 - 1.0 / (${float(DESATURATION)} * (peak - newPeak) + 1.0));
}
vec3 filmicCurve(vec3 color) {
  vec3 x = max(color, 0.0) * ${float(FILMIC_GAIN)};
  vec3 y = (x * (${float(FILMIC.a)} * x + ${float(FILMIC.c * FILMIC.b)}) + ${float(FILMIC.d * FILMIC.e)})
    / (x * (${float(FILMIC.a)} * x + ${float(FILMIC.b)}) + ${float(FILMIC.d * FILMIC.f)}) - ${float(FILMIC.e / FILMIC.f)};
  return min(vec3(1.0), y / ${float(filmicOf(FILMIC.white))});
}
vec3 acesCurve(vec3 color) {
  vec3 x = max(color, 0.0) * ${float(ACES_GAIN)};
  return min(vec3(1.0), x * (${float(ACES.a)} * x + ${float(ACES.b)}) / (x * (${float(ACES.c)} * x + ${float(ACES.d)}) + ${float(ACES.e)}));
}
vec3 blendCurves(vec3 color, vec4 shares) {
  vec3 sum = vec3(0.0);
  if (shares.x > 0.0) sum += shares.x * clamp(color, 0.0, 1.0);
  if (shares.y > 0.0) sum += shares.y * toneCurve(color);
  if (shares.z > 0.0) sum += shares.z * filmicCurve(color);
  if (shares.w > 0.0) sum += shares.w * acesCurve(color);
  return sum;
}`;

/** Encoded sRGB, 0..1 each, of a luminous RGB in cd/m2 as it is shown at `ev100` without a grade. */
export function displayColor(rgb: Readonly<Rgb>, ev100: number): Rgb {
  const gain = 1 / whiteLuminance(ev100);
  return neutral([rgb[0] * gain, rgb[1] * gain, rgb[2] * gain]).map(encodeSrgb) as Rgb;
}
