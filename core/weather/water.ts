import type { Rgb } from '../units';

/** A sheet of water over the level. */
export interface Water {
  /** Height of its surface in the level, metres; null is none. */
  levelM: number | null;
  /** `#rrggbb`: what it scatters back from below. */
  color: string;
  /** How deep green light is dimmed to a third, metres: 0.3 silt, 2 a pond, 15 clear sea. */
  clarityM: number;
  /** Wind that ripples it, m/s; null is the weather's. */
  ripplesMps: number | null;
}

export const NO_WATER: Water = { levelM: null, color: '#20505a', clarityM: 5, ripplesMps: null };

export const WATER_INDEX = 1.333;
/** Absorption of clear water per metre (Pope & Fry 1997, at about 620, 550 and 450 nm), and of its green alone. */
const CLEAR: Rgb = [0.35, 0.06, 0.02];

/** Share of light that a smooth water surface reflects, by the cosine to its normal in air: Fresnel, unpolarised. */
export function waterReflectance(cosine: number): number {
  const c = Math.min(1, Math.abs(cosine));
  const below = Math.sqrt(1 - (1 - c * c) / (WATER_INDEX * WATER_INDEX));
  const s = (c - WATER_INDEX * below) / (c + WATER_INDEX * below);
  const p = (WATER_INDEX * c - below) / (WATER_INDEX * c + below);
  return (s * s + p * p) / 2;
}

/**
 * What water takes of light per metre, by channel: clear water's absorption, and as much of all colours besides as makes green fall to
 * 1/e over the clarity.
 */
export function waterExtinction(clarityM: number): Rgb {
  const green = 1 / clarityM;
  return green >= CLEAR[1] ? (CLEAR.map((a) => a + green - CLEAR[1]) as Rgb) : (CLEAR.map((a) => (a * green) / CLEAR[1]) as Rgb);
}

/** Share of light that comes through a length of water, by channel: Beer's law. */
export const throughWater = (clarityM: number, lengthM: number): Rgb => waterExtinction(clarityM).map((a) => Math.exp(-a * lengthM)) as Rgb;

/** Mean square slope of wind waves (Cox & Munk 1954), the wind at 12.5 m. */
export const waveSlope = (windMps: number): number => 0.003 + 0.00512 * windMps;

/** Reflectance of a wet diffuse surface from that of the dry one: a film of water throws light back down (Angstrom 1925). */
export const wetAlbedo = (dry: number): number => dry / (WATER_INDEX * WATER_INDEX * (1 - dry) + dry);
