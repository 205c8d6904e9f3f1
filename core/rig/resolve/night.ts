import type { Rgb } from '../../units';
import type { Night } from '../document/night';
import type { Holds } from '../document/types';
import { nightGlow } from './bodies';

/** Elevations of the sun between which night comes, degrees: from the middle of civil twilight to the end of the nautical one. */
const DUSK: readonly [number, number] = [-3, -12];

/** The night of a moment. */
export interface NightNow {
  /** Luminance of the moonless sky, RGB cd/m2. */
  glow: Rgb;
  /** What stars, and what the sky, are multiplied by. */
  stars: number;
  sky: number;
}

/** How far it is night: 0 while the sun is up, 1 once it is far below the horizon. */
export function nightShare(sunElevationDeg: number): number {
  const t = Math.min(1, Math.max(0, (sunElevationDeg - DUSK[0]) / (DUSK[1] - DUSK[0])));
  return t * t * (3 - 2 * t);
}

/** What of the night holds in a cue: its own fields over the day's. */
const nightUnder = (day: Night, held: Holds['night']): Night => ({ ...day, ...held });

/** Glow mixed by its light where one side has none, else by its ratio. */
function mixGlow(parts: readonly { glow: Rgb; share: number }[]): Rgb {
  if (parts.some(({ glow, share }) => share > 0 && glow.every((v) => v <= 0)))
    return parts.reduce<Rgb>((sum, { glow, share }) => sum.map((v, c) => v + share * glow[c]!) as Rgb, [0, 0, 0]);
  return [0, 1, 2].map((c) =>
    Math.exp(parts.reduce((sum, { glow, share }) => sum + share * Math.log(Math.max(1e-12, glow[c]!)), 0)),
  ) as Rgb;
}

/** The night as cues hold it by their shares; the day's where there are none. */
export function nightNow(day: Night, held: readonly { night: Holds['night']; share: number }[], sunElevationDeg: number): NightNow {
  const parts = held.length > 0 ? held : [{ night: undefined, share: 1 }];
  const set = parts.map(({ night, share }) => ({ night: nightUnder(day, night), share }));
  const ev = (key: 'starsEv' | 'skyEv') => set.reduce((sum, { night, share }) => sum + share * night[key], 0);
  return {
    glow: mixGlow(set.map(({ night, share }) => ({ glow: nightGlow(night), share }))),
    stars: 2 ** ev('starsEv'),
    sky: 2 ** (ev('skyEv') * nightShare(sunElevationDeg)),
  };
}
