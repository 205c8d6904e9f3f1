import { Body, Observer, SearchAltitude, SearchHourAngle, SearchRiseSet } from 'astronomy-engine';
import { hourAt, momentAt, type Place } from './place';

/** Hours of a place's date, by its clock; null for what does not happen on that date. */
export interface DayEvents {
  /** Upper limb on the horizon, refraction of 34' taken in. */
  rise: number | null;
  transit: number | null;
  set: number | null;
}

export interface SunEvents extends DayEvents {
  /** Sun's centre at -6, -12 and -18 degrees, in the morning and in the evening. */
  civil: [dawn: number | null, dusk: number | null];
  nautical: [dawn: number | null, dusk: number | null];
  astronomical: [dawn: number | null, dusk: number | null];
}

const RISING = 1;
const SETTING = -1;

function withinDate(place: Place, found: { date: Date } | null): number | null {
  if (!found) return null;
  const hour = hourAt(place, found.date);
  return hour >= 0 && hour < 24 ? hour : null;
}

function eventsOf(body: Body, place: Place): DayEvents {
  const observer = new Observer(place.latitudeDeg, place.longitudeDeg, place.heightM);
  const midnight = momentAt(place, 0);
  return {
    rise: withinDate(place, SearchRiseSet(body, observer, RISING, midnight, 1)),
    transit: withinDate(place, SearchHourAngle(body, observer, 0, midnight, 1).time),
    set: withinDate(place, SearchRiseSet(body, observer, SETTING, midnight, 1)),
  };
}

/** Sunrise, noon, sunset and the twilights of a place's date. */
export function sunEvents(place: Place): SunEvents {
  const observer = new Observer(place.latitudeDeg, place.longitudeDeg, place.heightM);
  const midnight = momentAt(place, 0);
  const twilight = (altitude: number): [number | null, number | null] => [
    withinDate(place, SearchAltitude(Body.Sun, observer, RISING, midnight, 1, altitude)),
    withinDate(place, SearchAltitude(Body.Sun, observer, SETTING, midnight, 1, altitude)),
  ];
  return { ...eventsOf(Body.Sun, place), civil: twilight(-6), nautical: twilight(-12), astronomical: twilight(-18) };
}

/** Moonrise, its highest point and moonset on a place's date. */
export const moonEvents = (place: Place): DayEvents => eventsOf(Body.Moon, place);
