import { SearchMoonPhase } from 'astronomy-engine';
import { dateAfter, hourAt, momentAt, type Place } from './place';

/** Angle of the moon from the sun along the ecliptic, degrees. */
const PHASES = { new: 0, full: 180 } as const;
/** Days within which each phase comes round: a month is 29.8 days at the most. */
const WITHIN_DAYS = 40;

/** The first date of a place, after its own, on which the moon is new or full (astronomy-engine's search by ecliptic longitude). */
export function nextPhase(place: Pick<Place, 'date' | 'utcOffsetH'>, phase: keyof typeof PHASES): string {
  const found = SearchMoonPhase(PHASES[phase], momentAt(place, 24), WITHIN_DAYS);
  if (!found) throw new Error(`No ${phase} moon within ${WITHIN_DAYS} days of ${place.date}.`);
  return dateAfter(place.date, Math.floor(hourAt(place, found.date) / 24));
}
