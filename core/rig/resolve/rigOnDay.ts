import { dateAfter } from '../../almanac';
import type { Rig } from '../document/types';

/**
 * The rig as it stands some days after its own date: the date has gone on, and with it the sun's path and the moon, which
 * waxes and wanes. It is for looking at only; what is stored keeps its date.
 */
export function rigOnDay<R extends Pick<Rig, 'place' | 'day'>>(rig: R, days: number): R {
  if (days === 0) return rig;
  return {
    ...rig,
    place: { ...rig.place, date: dateAfter(rig.place.date, days) },
    day: { ...rig.day, moonAgeDays: rig.day.moonAgeDays + days },
  };
}
