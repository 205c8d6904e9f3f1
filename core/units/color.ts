import { luminance, scaleRgb, type Rgb } from './photometry';

/** sRGB opto-electronic transfer of one linear component (IEC 61966-2-1); the input is clamped to 0..1. */
export function encodeSrgb(linear: number): number {
  const v = Math.min(1, Math.max(0, linear));
  return v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055;
}

/** Inverse of {@link encodeSrgb}: an encoded component 0..1 to linear light. */
export function decodeSrgb(encoded: number): number {
  return encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
}

const HEX_COLOR = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i;

/** Linear Rec. 709 triple of an sRGB colour written `#rrggbb`. Throws a RangeError for anything else. */
export function rgbFromHex(hex: string): Rgb {
  const parts = HEX_COLOR.exec(hex);
  if (!parts) throw new RangeError(`A colour is written #rrggbb, not "${hex}".`);
  return [1, 2, 3].map((i) => decodeSrgb(parseInt(parts[i]!, 16) / 255)) as Rgb;
}

/** `#rrggbb` of a linear triple, clamped to the sRGB cube. */
export function hexFromRgb(rgb: Readonly<Rgb>): string {
  const byte = (v: number) =>
    Math.round(encodeSrgb(v) * 255)
      .toString(16)
      .padStart(2, '0');
  return `#${byte(rgb[0])}${byte(rgb[1])}${byte(rgb[2])}`;
}

/** Hue of a linear light as `#rrggbb`, its strongest channel in full. */
export function hueHex(light: Readonly<Rgb>): string {
  const peak = Math.max(...light, 1e-12);
  return hexFromRgb(light.map((v) => Math.max(0, v / peak)) as Rgb);
}

/**
 * The chromaticity of `rgb` at luminance 1, so that a colour times a photometric amount keeps that amount.
 * Black has no chromaticity and gives white.
 */
export function chromaticity(rgb: Readonly<Rgb>): Rgb {
  const y = luminance(rgb);
  return y > 0 ? scaleRgb(rgb, 1 / y) : [1, 1, 1];
}

/** Linear Rec. 709 from CIE XYZ (D65 white), ITU-R BT.709-6. */
export function rgbFromXyz(x: number, y: number, z: number): Rgb {
  return [
    3.2404542 * x - 1.5371385 * y - 0.4985314 * z,
    -0.969266 * x + 1.8760108 * y + 0.041556 * z,
    0.0556434 * x - 0.2040259 * y + 1.0572252 * z,
  ];
}
