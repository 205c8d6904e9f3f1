import { mixRgb, rgbFromHex, scaleRgb, type Rgb } from '../../units';
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
const waterUnder = (day: Water, held: Holds['water']): Water => ({ ...day, ...held });

/** Water part of the way through a fade: the level goes evenly over where both sides have some, else it is the nearer side's. */
export function fadeWater(from: WaterNow | null, to: WaterNow | null, t: number): WaterNow | null {
  if (!from || !to) return t < 0.5 ? from : to;
  return mixWater(from, to, t);
}

/** Water between two: clarity by its ratio, the rest evenly. */
const mixWater = (a: WaterNow, b: WaterNow, t: number): WaterNow => ({
  levelM: a.levelM + (b.levelM - a.levelM) * t,
  scatter: mixRgb(a.scatter, b.scatter, t),
  clarityM: a.clarityM * (b.clarityM / a.clarityM) ** t,
  ripplesMps: a.ripplesMps + (b.ripplesMps - a.ripplesMps) * t,
});

/** Water that scatters all light back is white; none is. */
const SCATTER = 0.12;

/** The water of a moment: its level goes evenly between cues that both have some, clarity by its ratio. */
export function waterNow(day: Water, held: readonly { water: Holds['water']; share: number }[], windMps: number): WaterNow | null {
  const parts = (held.length > 0 ? held : [{ water: undefined, share: 1 }])
    .map(({ water, share }) => ({ ...waterUnder(day, water), share }))
    .filter(({ share }) => share > 0);
  const near = parts.reduce((a, b) => (b.share > a.share ? b : a));
  const other = parts.find((p) => p !== near && p.levelM !== null) ?? near;
  if (near.levelM === null) return null;
  const standing = ({ levelM, color, clarityM, ripplesMps }: Water): WaterNow => ({
    levelM: levelM!,
    scatter: scaleRgb(rgbFromHex(color), SCATTER),
    clarityM,
    ripplesMps: ripplesMps ?? windMps,
  });
  return mixWater(standing(near), standing(other), other === near ? 0 : other.share);
}
