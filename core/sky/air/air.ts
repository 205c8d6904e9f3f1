import type { Rgb } from '../../units';

/** The air of a world. Coefficients are per metre at sea level, for the red, green and blue primaries. */
export interface Air {
  /** Molecules: Rayleigh scattering, and the height over which they thin out to 1/e, in metres. */
  molecules: Rgb;
  moleculesHeightM: number;
  /** Haze: Mie scattering and absorption, its height, and how far forward it scatters (0 evenly, towards 1 straight on). */
  haze: Rgb;
  hazeAbsorption: Rgb;
  hazeHeightM: number;
  hazeForward: number;
  /** Absorption of a layer (ozone on Earth): a tent about a height, with a half-width. */
  absorption: Rgb;
  absorptionCentreM: number;
  absorptionHalfWidthM: number;
  /** Diffuse reflectance of the ground around, 0..1. */
  groundAlbedo: Rgb;
}

/** Radius of the planet's ground and of the top of its air, metres. */
export const GROUND_M = 6_360_000;
export const TOP_M = 6_460_000;

const RAYLEIGH: Rgb = [5.802e-6, 13.558e-6, 33.1e-6];
const grey = (v: number): Rgb => [v, v, v];

/** Clear air of the Earth at sea level (coefficients of Bruneton & Neyret 2008 and Hillaire 2020). */
export const CLEAR_AIR: Air = {
  molecules: RAYLEIGH,
  moleculesHeightM: 8000,
  haze: grey(3.996e-6),
  hazeAbsorption: grey(0.444e-6),
  hazeHeightM: 1200,
  hazeForward: 0.8,
  absorption: [0.65e-6, 1.881e-6, 0.085e-6],
  absorptionCentreM: 25_000,
  absorptionHalfWidthM: 15_000,
  groundAlbedo: grey(0.3),
};

/** What a metre of air at a height holds, as shares of what it holds at sea level. */
export interface Densities {
  molecules: number;
  haze: number;
  absorption: number;
}

export function densitiesAt(air: Air, heightM: number): Densities {
  return {
    molecules: Math.exp(-heightM / air.moleculesHeightM),
    haze: Math.exp(-heightM / air.hazeHeightM),
    absorption: Math.max(0, 1 - Math.abs(heightM - air.absorptionCentreM) / air.absorptionHalfWidthM),
  };
}

/** Whether there is anything to scatter light. */
export const isAirless = ({ molecules, haze }: Air): boolean => [...molecules, ...haze].every((v) => v === 0);
