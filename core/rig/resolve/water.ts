import { mixRgb, rgbFromHex, type Rgb } from '../../units';
import type { Water } from '../../weather';
import type { Holds } from '../document/types';

/** Water as it stands at a moment. */
export interface WaterNow {
  levelM: number;
  /** Share of the light from above that it scatters back, by channel. */
  scatter: Rgb;
  clarityM: number;
  ripplesMps: number;
}

/** What of the water holds in a cue: its own values over the day's. */
export const waterUnder = (day: Water, held: Holds['water']): Water => ({ ...day, ...held });

/** Water that scatters all light back is white; none is. */
const SCATTER = 0.12;

/** The water of a moment: its level goes evenly between cues that both have some, clarity by its ratio. */
export function waterNow(day: Water, held: readonly { water: Holds['water']; share: number }[], windMps: number): WaterNow | null {
  const parts = (held.length > 0 ? held : [{ water: undefined, share: 1 }])
    .map(({ water, share }) => ({ ...waterUnder(day, water), share }))
    .filter(({ share }) => share > 0);
  const near = parts.reduce((a, b) => (b.share > a.share ? b : a));
  if (near.levelM === null) return null;
  const [a, b] = [near, parts.find((p) => p !== near && p.levelM !== null) ?? near];
  const t = a === b ? 0 : b.share;
  const even = (x: number, y: number) => x + (y - x) * t;
  return {
    levelM: even(a.levelM!, b.levelM!),
    scatter: mixRgb(rgbFromHex(a.color), rgbFromHex(b.color), t).map((v) => v * SCATTER) as Rgb,
    clarityM: a.clarityM * (b.clarityM / a.clarityM) ** t,
    ripplesMps: even(a.ripplesMps ?? windMps, b.ripplesMps ?? windMps),
  };
}
