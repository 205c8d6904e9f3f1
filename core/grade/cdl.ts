import { LUMINANCE_WEIGHTS, type Rgb } from '../units';

/** A colour decision list of the American Society of Cinematographers, version 1.2. */
export interface Cdl {
  slope: Rgb;
  offset: Rgb;
  power: Rgb;
  saturation: number;
}

/** The list that changes nothing. */
export const NO_CDL: Cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 };

export const isNoCdl = ({ slope, offset, power, saturation }: Cdl): boolean =>
  saturation === 1 && [0, 1, 2].every((c) => slope[c] === 1 && offset[c] === 0 && power[c] === 1);

/**
 * Applies a list to linear scene values (ASC CDL v1.2): (v x slope + offset) ^ power for each channel, then saturation about the
 * luminance of Rec. 709. What comes under 0 is 0. Values over 1 stay, as the standard lets it be for scene values: the tone
 * curve brings them into the display's range.
 */
export function applyCdl({ slope, offset, power, saturation }: Cdl, rgb: Readonly<Rgb>): Rgb {
  const out = rgb.map((v, c) => Math.max(0, v * slope[c]! + offset[c]!) ** power[c]!) as Rgb;
  const luma = out[0] * LUMINANCE_WEIGHTS[0] + out[1] * LUMINANCE_WEIGHTS[1] + out[2] * LUMINANCE_WEIGHTS[2];
  return out.map((v) => Math.max(0, luma + saturation * (v - luma))) as Rgb;
}

/** The list part of the way from one to another: slope and power by their ratio, offset and saturation evenly. */
export function mixCdl(a: Cdl, b: Cdl, t: number): Cdl {
  const even = (x: number, y: number) => x + (y - x) * t;
  // A slope of 0 has no ratio to another.
  const ratio = (x: number, y: number) => (x > 0 && y > 0 ? x * (y / x) ** t : even(x, y));
  const each = (key: 'slope' | 'offset' | 'power', blend: typeof even) => a[key].map((x, c) => blend(x, b[key][c]!)) as Rgb;
  return {
    slope: each('slope', ratio),
    offset: each('offset', even),
    power: each('power', ratio),
    saturation: even(a.saturation, b.saturation),
  };
}
