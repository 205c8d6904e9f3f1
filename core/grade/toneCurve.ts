import { encodeSrgb, whiteLuminance, type Rgb } from '../units';

const START_COMPRESSION = 0.8 - 0.04;
const DESATURATION = 0.15;

/**
 * Khronos PBR Neutral tone mapper (Khronos Group 2024, specification and reference code): keeps base colours as they
 * are up to 0.76, compresses the rest towards 1 and lets it lose saturation.
 *
 * @param rgb scene values, 1 = white at the exposure
 * @returns display-linear values, 0..1
 */
export function toneNeutral([r, g, b]: Readonly<Rgb>): Rgb {
  const low = Math.min(r, g, b);
  const offset = low < 0.08 ? low - 6.25 * low * low : 0.04;
  const color: Rgb = [r - offset, g - offset, b - offset];
  const peak = Math.max(...color);
  if (peak < START_COMPRESSION) return color;
  const d = 1 - START_COMPRESSION;
  const newPeak = 1 - (d * d) / (peak + d - START_COMPRESSION);
  const toWhite = 1 - 1 / (DESATURATION * (peak - newPeak) + 1);
  return color.map((v) => ((v * newPeak) / peak) * (1 - toWhite) + newPeak * toWhite) as Rgb;
}

/** Encoded sRGB, 0..1 each, of a luminous RGB in cd/m2 as it is shown at `ev100`. */
export function displayColor(rgb: Readonly<Rgb>, ev100: number): Rgb {
  const gain = 1 / whiteLuminance(ev100);
  return toneNeutral([rgb[0] * gain, rgb[1] * gain, rgb[2] * gain]).map(encodeSrgb) as Rgb;
}
