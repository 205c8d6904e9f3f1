import { DEG, angleBetween, directionFromAngles } from '../units';
import { sunOver } from './bodies';
import { dateAfter, momentAt, type Place } from './place';

/** A date and hour at which the sun stands where it was asked for. */
export interface SunMoment {
  date: string;
  hour: number;
  /** How far off it stands then, degrees. */
  offDeg: number;
}

/** How near the sun has to come to a direction to count as standing there. */
const TOLERANCE_DEG = 0.3;

/**
 * When, over the year from a place's date on, the sun stands in a direction: at most two spells of the year, the first of
 * each. Empty where it never does (the nearest it comes is farther than {@link TOLERANCE_DEG}).
 *
 * The declination that the direction asks for tells which dates come into question
 * (sin d = sin(lat) sin(el) + cos(lat) cos(el) cos(az)); within those dates the hour is found by the ephemeris itself.
 */
export function whenSunStands(place: Place, azimuthDeg: number, elevationDeg: number): SunMoment[] {
  const [lat, el, az] = [place.latitudeDeg * DEG, elevationDeg * DEG, azimuthDeg * DEG];
  const declination = Math.asin(Math.sin(lat) * Math.sin(el) + Math.cos(lat) * Math.cos(el) * Math.cos(az)) / DEG;
  if (Math.abs(declination) > 24) return [];
  const wanted = directionFromAngles(azimuthDeg, elevationDeg);
  const found: SunMoment[] = [];
  let best: SunMoment | null = null;
  for (let days = 0; days <= 366; days++) {
    const date = dateAfter(place.date, days);
    const nearest = nearestHour({ ...place, date }, wanted);
    if (nearest.offDeg <= TOLERANCE_DEG) {
      if (!best || nearest.offDeg < best.offDeg) best = { date, ...nearest };
    } else if (best) {
      found.push(best);
      best = null;
    }
  }
  if (best) found.push(best);
  return found.slice(0, 2);
}

/** The hour of a date at which the sun comes nearest to a direction. */
function nearestHour(place: Place, wanted: readonly [number, number, number]): { hour: number; offDeg: number } {
  const off = (hour: number) => {
    const { azimuthDeg, elevationDeg } = sunOver(place, momentAt(place, hour));
    return angleBetween(directionFromAngles(azimuthDeg, elevationDeg), [...wanted]);
  };
  let [hour, step] = [0, 1];
  let offDeg = Infinity;
  for (let h = 0; h < 24; h += 2) {
    const o = off(h);
    if (o < offDeg) [hour, offDeg] = [h, o];
  }
  for (; step > 1e-3; step /= 2) {
    for (const next of [hour - step, hour + step]) {
      const o = off(next);
      if (o < offDeg) [hour, offDeg] = [next, o];
    }
  }
  return { hour: ((hour % 24) + 24) % 24, offDeg };
}
