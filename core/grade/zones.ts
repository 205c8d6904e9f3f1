import { chromaticity, luminance, rgbFromHex, smoothstep, type Rgb } from '../units';
import { MID_GREY } from './midGrey';

/** What one range of brightness is multiplied by. */
export interface ZoneTone {
  ev: number;
  /** `#rrggbb`; its hue alone, strength stays with `ev`. */
  tint: string;
}

/** Shadows, mid-tones and lights apart, with the limits between them in stops over mid-grey. */
export interface Zones {
  shadows: ZoneTone;
  midTones: ZoneTone;
  lights: ZoneTone;
  lowEv: number;
  highEv: number;
}

const AS_IT_IS: ZoneTone = { ev: 0, tint: '#ffffff' };
export const NO_ZONES: Zones = { shadows: AS_IT_IS, midTones: AS_IT_IS, lights: AS_IT_IS, lowEv: -2.5, highEv: 1.5 };

/** Zones as numbers: the stops that each adds to each channel, in the order shadows, mid-tones, lights. */
export interface ZonesNow {
  stops: readonly [Rgb, Rgb, Rgb];
  lowEv: number;
  highEv: number;
}

/** The least share of a tint's channel, so that a pure hue does not take all light away. */
const LEAST_CHANNEL = 1 / 64;

export function zonesNow({ shadows, midTones, lights, lowEv, highEv }: Zones): ZonesNow {
  const stops = ({ ev, tint }: ZoneTone) =>
    tint.toLowerCase() === '#ffffff'
      ? ([ev, ev, ev] as Rgb)
      : (chromaticity(rgbFromHex(tint)).map((v) => ev + Math.log2(Math.max(LEAST_CHANNEL, v))) as Rgb);
  return { stops: [stops(shadows), stops(midTones), stops(lights)], lowEv, highEv };
}

export const isNoZones = ({ stops }: Pick<ZonesNow, 'stops'>): boolean => stops.every((zone) => zone.every((ev) => ev === 0));

/** Stops on each side of a limit over which one zone goes over into the next. */
export const ZONE_EDGE_EV = 1.25;

/**
 * Lightens, darkens and tints by how bright a value is: stops of each zone, weighted by smooth steps about the limits.
 *
 * @param rgb scene values, 1 = white
 */
export function applyZones({ stops, lowEv, highEv }: ZonesNow, rgb: Readonly<Rgb>): Rgb {
  const y = luminance(rgb);
  if (!(y > 0)) return [...rgb];
  const ev = Math.log2(y / MID_GREY);
  const shadows = 1 - smoothstep(lowEv - ZONE_EDGE_EV, lowEv + ZONE_EDGE_EV, ev);
  const lights = smoothstep(highEv - ZONE_EDGE_EV, highEv + ZONE_EDGE_EV, ev) * (1 - shadows);
  const between = 1 - shadows - lights;
  return rgb.map((v, c) => v * 2 ** (shadows * stops[0][c]! + between * stops[1][c]! + lights * stops[2][c]!)) as Rgb;
}

/** Zones part of the way from one to another: stops and limits evenly. */
export function mixZones(a: ZonesNow, b: ZonesNow, t: number): ZonesNow {
  const even = (x: number, y: number) => x + (y - x) * t;
  return {
    stops: a.stops.map((zone, z) => zone.map((x, c) => even(x, b.stops[z]![c]!)) as Rgb) as unknown as ZonesNow['stops'],
    lowEv: even(a.lowEv, b.lowEv),
    highEv: even(a.highEv, b.highEv),
  };
}
