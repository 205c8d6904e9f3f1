import { MID_GREY } from '../grade';
import type { Rgb } from '../units';

/** A range of brightness, in stops about mid-grey as it is exposed, and the colour that stands for it. */
export interface EvZone {
  /** The least stops over mid-grey that belong to it; those of the next zone end it. */
  fromEv: number;
  /** The stop at its middle, as it is written; null for the two that are open at one end. */
  stop: number | null;
  /** Encoded sRGB, `#rrggbb`. */
  color: string;
}

/**
 * Zones of one stop each. Their lightness rises with the stop, so that a picture of them still reads as the picture; mid-grey is grey, and what is
 * over display white stands out.
 */
export const EV_ZONES: readonly EvZone[] = [
  { fromEv: -Infinity, stop: null, color: '#0d0a14' },
  { fromEv: -5.5, stop: -5, color: '#2d1b45' },
  { fromEv: -4.5, stop: -4, color: '#2f3a74' },
  { fromEv: -3.5, stop: -3, color: '#1f6079' },
  { fromEv: -2.5, stop: -2, color: '#287c6c' },
  { fromEv: -1.5, stop: -1, color: '#5f9455' },
  { fromEv: -0.5, stop: 0, color: '#a0a0a0' },
  { fromEv: 0.5, stop: 1, color: '#d3b65c' },
  { fromEv: 1.5, stop: 2, color: '#f1cfa6' },
  // Display white lies log2(1 / 0.18) = 2.47 stops over mid-grey.
  { fromEv: Math.log2(1 / MID_GREY), stop: null, color: '#ff5a46' },
];

/** Stops of a scene luminance (1 = display white) over mid-grey; -Infinity for none. */
export const stopsOverGrey = (value: number): number => (value > 0 ? Math.log2(value / MID_GREY) : -Infinity);

/** The number of the zone that some stops over mid-grey fall into. */
export function zoneAt(ev: number): number {
  let zone = 0;
  while (zone + 1 < EV_ZONES.length && ev >= EV_ZONES[zone + 1]!.fromEv) zone++;
  return zone;
}

/** Encoded sRGB, 0..1, that stands for a scene luminance (1 = display white). */
export const falseColor = (value: number): Rgb => encodedRgb(EV_ZONES[zoneAt(stopsOverGrey(value))]!.color);

/** The channels of `#rrggbb` as they are written, 0..1. */
export function encodedRgb(hex: string): Rgb {
  return [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255) as Rgb;
}

/** Share of a picture in each zone. Values are scene luminances, 1 = display white. */
export function zoneShares(values: ArrayLike<number>): number[] {
  const shares = EV_ZONES.map(() => 0);
  for (let i = 0; i < values.length; i++) shares[zoneAt(stopsOverGrey(values[i]!))]! += 1 / values.length;
  return shares;
}

/** A colour as GLSL has it. */
export const vec3Glsl = (hex: string) =>
  `vec3(${encodedRgb(hex)
    .map((v) => v.toFixed(5))
    .join(', ')})`;

/** GLSL of {@link falseColor}: `vec3 falseColor(float value)`. */
export const FALSE_COLOR_GLSL = /* glsl */ `
vec3 falseColor(float value) {
  float ev = log2(max(value, 1e-9) / ${MID_GREY.toFixed(5)});
  vec3 color = ${vec3Glsl(EV_ZONES[0]!.color)};
${EV_ZONES.slice(1)
  .map(({ fromEv, color }) => `  if (ev >= ${fromEv.toFixed(5)}) color = ${vec3Glsl(color)};`)
  .join('\n')}
  return color;
}`;
