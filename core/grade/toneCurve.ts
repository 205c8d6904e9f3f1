import { encodeSrgb, whiteLuminance, type Rgb } from '../units';

const START_COMPRESSION = 0.8;
const DESATURATION = 0.15;

/**
 * The tone curve: linear up to 0.8, then compressed towards 1, hue kept, bright colours losing saturation on the way. It is the
 * highlight half of the Khronos PBR Neutral tone mapper (Khronos Group 2024, specification and reference code); its toe, which
 * takes a reflection of 4 % out of every colour, is left out, for the light judged here is diffuse and shadows would turn gaudy.
 *
 * @param rgb scene values, 1 = white at the exposure
 * @returns display-linear values, 0..1
 */
export function toneCurve(rgb: Readonly<Rgb>): Rgb {
  const peak = Math.max(...rgb);
  if (peak < START_COMPRESSION) return [...rgb];
  const d = 1 - START_COMPRESSION;
  const newPeak = 1 - (d * d) / (peak + d - START_COMPRESSION);
  const toWhite = 1 - 1 / (DESATURATION * (peak - newPeak) + 1);
  return rgb.map((v) => ((v * newPeak) / peak) * (1 - toWhite) + newPeak * toWhite) as Rgb;
}

/** The same curve in GLSL, `vec3 toneCurve(vec3)`, for the viewport. Kept beside its twin so that neither changes alone. */
export const TONE_CURVE_GLSL = /* glsl */ `
vec3 toneCurve(vec3 color) {
  float peak = max(color.r, max(color.g, color.b));
  if (peak < ${START_COMPRESSION.toFixed(4)}) return color;
  float d = 1.0 - ${START_COMPRESSION.toFixed(4)};
  float newPeak = 1.0 - d * d / (peak + d - ${START_COMPRESSION.toFixed(4)});
  return mix(color * newPeak / peak, vec3(newPeak), 1.0 - 1.0 / (${DESATURATION.toFixed(4)} * (peak - newPeak) + 1.0));
}`;

/** Encoded sRGB, 0..1 each, of a luminous RGB in cd/m2 as it is shown at `ev100`. */
export function displayColor(rgb: Readonly<Rgb>, ev100: number): Rgb {
  const gain = 1 / whiteLuminance(ev100);
  return toneCurve([rgb[0] * gain, rgb[1] * gain, rgb[2] * gain]).map(encodeSrgb) as Rgb;
}
