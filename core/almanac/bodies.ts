import { Body, Equator, Horizon, Illumination, KM_PER_AU, MoonPhase, Observer, Refraction } from 'astronomy-engine';
import { DEG, type Vec3, directionFromAngles } from '../units';
import type { Place } from './place';

/** Where a body stands over a place. */
export interface Standing {
  /** Clockwise from true north, 0..360. */
  azimuthDeg: number;
  /** As it is seen: lifted by refraction. */
  elevationDeg: number;
  /** Of the body itself, without refraction. */
  geometricElevationDeg: number;
  distanceKm: number;
  /** Full angle under which its disc is seen. */
  diameterDeg: number;
}

/** The moon, and how much of it shines. */
export interface MoonStanding extends Standing {
  /** Angle sun - moon - eye: 0 at full moon, 180 at new moon. */
  phaseAngleDeg: number;
  /** Share of the disc that is lit, 0..1. */
  litShare: number;
}

const SUN_RADIUS_KM = 695_700;
const MOON_RADIUS_KM = 1737.4;
/** Mean distance of the moon that its illuminance is stated for. */
export const MOON_MEAN_KM = 384_400;

const observerOf = ({ latitudeDeg, longitudeDeg, heightM }: Place) => new Observer(latitudeDeg, longitudeDeg, heightM);

function standing(body: Body, place: Place, moment: Date, radiusKm: number): Standing {
  const observer = observerOf(place);
  const { ra, dec, dist } = Equator(body, moment, observer, true, true);
  const { azimuth, altitude } = Horizon(moment, observer, ra, dec);
  const distanceKm = dist * KM_PER_AU;
  return {
    azimuthDeg: azimuth,
    // The library's "normal" refraction is Saemundsson's formula for 1010 mbar and 10 C, brought to nothing far below the horizon.
    elevationDeg: altitude + Refraction('normal', altitude),
    geometricElevationDeg: altitude,
    distanceKm,
    diameterDeg: (2 * Math.asin(radiusKm / distanceKm)) / DEG,
  };
}

/** The sun over a place at a moment: topocentric, of date, with aberration. */
export const sunOver = (place: Place, moment: Date): Standing => standing(Body.Sun, place, moment, SUN_RADIUS_KM);

/** The moon over a place at a moment. */
export function moonOver(place: Place, moment: Date): MoonStanding {
  const { phase_angle, phase_fraction } = Illumination(Body.Moon, moment);
  return { ...standing(Body.Moon, place, moment, MOON_RADIUS_KM), phaseAngleDeg: phase_angle, litShare: phase_fraction };
}

/** Illuminance of the full moon at its mean distance, on a plane facing it, above the air: lux. */
const FULL_MOON_LUX = 0.27;

/**
 * Illuminance of the moon above the air on a plane facing it, in lux: the phase law of Krisciunas & Schaefer 1991, eq. 9,
 * m = -12.73 + 0.026 |a| + 4e-9 a^4 with the phase angle a in degrees, and the inverse square of its distance.
 */
export function moonIlluminance(phaseAngleDeg: number, distanceKm = MOON_MEAN_KM): number {
  const a = Math.abs(phaseAngleDeg);
  return FULL_MOON_LUX * 10 ** (-0.4 * (0.026 * a + 4e-9 * a ** 4)) * (MOON_MEAN_KM / distanceKm) ** 2;
}

/** Phase angle at which so much of a moon's disc is seen lit, degrees: 0 full, 180 new. */
export const moonPhaseOf = (litShare: number): number => Math.acos(Math.max(-1, Math.min(1, 2 * litShare - 1))) / DEG;

/** Phase of the moon at a moment, 0 to under 1: 0 new, 0.25 first quarter, 0.5 full, by its distance from the sun along the ecliptic. */
export const moonPhaseAt = (moment: Date): number => (MoonPhase(moment) / 360) % 1;

/** Unit vector towards a standing body in the level, which is turned so that its north lies `northDeg` from -Z, clockwise. */
export function towards({ azimuthDeg, elevationDeg }: Pick<Standing, 'azimuthDeg' | 'elevationDeg'>, northDeg = 0): Vec3 {
  return directionFromAngles(azimuthDeg + northDeg, elevationDeg);
}
