import { mixRgb, type Rgb, type Vec3 } from '../units';

/** A painted sky as radiances: linear Rec. 709 in cd/m2 at the zenith, along the horizon, and below it. */
export interface BandsRadiance {
  zenith: Rgb;
  /** At 30 degrees, half the projected height; without it the horizon goes over straight into the zenith. */
  middle?: Rgb;
  horizon: Rgb;
  ground: Rgb;
  /** How softly the bands over the horizon go over into each other: 1 evenly from one to the next, 0 by a hard edge. */
  softness?: number;
}

/**
 * Radiance of a painted sky towards a unit direction, cd/m2: from horizon over the middle to the zenith in proportion to the sine
 * of the elevation (so the blend holds equal steps of projected height), and the ground's own below the horizon.
 */
export function bandsRadiance({ zenith, middle, horizon, ground, softness = 1 }: BandsRadiance, direction: Readonly<Vec3>): Rgb {
  const up = Math.min(1, direction[1]);
  if (up < 0) return [...ground];
  if (!middle) return mixRgb(horizon, zenith, softened(up, softness));
  return up < 0.5 ? mixRgb(horizon, middle, softened(up * 2, softness)) : mixRgb(middle, zenith, softened(up * 2 - 1, softness));
}

/** The way from one band to the next, drawn together about its half. */
function softened(t: number, softness: number): number {
  if (softness >= 1) return t;
  return softness <= 0 ? Number(t >= 0.5) : Math.min(1, Math.max(0, (t - 0.5) / softness + 0.5));
}
