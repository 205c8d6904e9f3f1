import { mixRgb, type Rgb, type Vec3 } from '../units';

/** A painted sky as radiances: linear Rec. 709 in cd/m2 at the zenith, along the horizon, and below it. */
export interface BandsRadiance {
  zenith: Rgb;
  horizon: Rgb;
  ground: Rgb;
}

/**
 * Radiance of a painted sky towards a unit direction, cd/m2: from horizon to zenith in proportion to the sine of the
 * elevation (so the blend holds equal steps of projected height), and the ground's own below the horizon.
 */
export function bandsRadiance(bands: BandsRadiance, direction: Readonly<Vec3>): Rgb {
  const up = direction[1];
  return up >= 0 ? mixRgb(bands.horizon, bands.zenith, Math.min(1, up)) : [...bands.ground];
}

/** Blend of two painted skies, component by component. */
export function mixBands(a: BandsRadiance, b: BandsRadiance, t: number): BandsRadiance {
  return {
    zenith: mixRgb(a.zenith, b.zenith, t),
    horizon: mixRgb(a.horizon, b.horizon, t),
    ground: mixRgb(a.ground, b.ground, t),
  };
}
