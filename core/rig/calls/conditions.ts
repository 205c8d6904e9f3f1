import { MONTH_DAYS, momentAt, moonPhaseAt } from '../../almanac';
import type { Vec3 } from '../../units';
import type { CallDays, CallWhen, Rig } from '../document/types';
import { hourOf, sunHours } from '../resolve/circuits';
import { rigOnDay } from '../resolve/rigOnDay';

type DayRig = Pick<Rig, 'place' | 'day'>;
type ByDay = Extract<CallWhen, { by: 'day' }>;
type ByPlace = Extract<CallWhen, { by: 'place' }>;

/** A moment of the game: days after the rig's date, and the hour, 0 to under 24. */
export interface GameMoment {
  day: number;
  hour: number;
}

/** Phase of the moon, 0 to under 1: 0 new, 0.5 full. On a drawn day, its age over the mean month. */
export function moonPhase(rig: DayRig, { day, hour }: GameMoment): number {
  if (rig.day.course === 'almanac') return moonPhaseAt(momentAt(rig.place, hour + 24 * day));
  return ((((rig.day.moonAgeDays + day + hour / 24) / MONTH_DAYS) % 1) + 1) % 1;
}

const within = (value: number, from: number, to: number): boolean =>
  from <= to ? value >= from && value <= to : value >= from || value <= to;

/** Whether a call's days have that one: by their count, and by the moon at the hour at which its span begins. */
function isDayOf(rig: DayRig, { every, first, moon }: CallDays, moment: GameMoment): boolean {
  if ((moment.day - first) % every !== 0) return false;
  return moon === null || within(moonPhase(rig, moment), moon.from, moon.to);
}

/**
 * Whether a call of the day holds at a moment. A span over midnight belongs to the day on which it begins, so a night is one and its moon is judged
 * once. A span from or to a sunrise or sunset that does not come holds all day where the sun stays down, and never where it stays up. A span from a
 * moment to the same one is the whole day.
 */
export function dayCallHolds(rig: DayRig, { from, to, days }: ByDay, { day, hour }: GameMoment): boolean {
  return [day, day - 1].some((begun) => {
    const sun = sunHours(rigOnDay(rig, begun));
    const [starts, ends] = [hourOf(from, sun), hourOf(to, sun)];
    if (starts === null || ends === null) return begun === day && !sun.upAtNoon && isDayOf(rig, days, { day: begun, hour: 0 });
    const after = hour + 24 * (day - begun) - starts;
    return after >= 0 && after < ((ends - starts + 24) % 24 || 24) && isDayOf(rig, days, { day: begun, hour: starts });
  });
}

/** Share in which a call of a place holds where someone stands: 1 within its box, down to 0 at the end of its blend distance from it. */
export function placeShare({ min, max, blendM }: ByPlace, at: Vec3 | null): number {
  if (!at) return 0;
  const apart = Math.hypot(...at.map((v, axis) => Math.max(0, min[axis]! - v, v - max[axis]!)));
  if (apart === 0) return 1;
  return blendM > 0 ? Math.max(0, 1 - apart / blendM) : 0;
}

/** Hours from a moment to the next time that the day comes to another; null where the sun does not rise or set there. */
export function hoursUntil(rig: DayRig, to: NonNullable<Parameters<typeof hourOf>[0]>, { day, hour }: GameMoment): number | null {
  const today = hourOf(to, sunHours(rigOnDay(rig, day)));
  if (today !== null && today > hour) return today - hour;
  const tomorrow = hourOf(to, sunHours(rigOnDay(rig, day + 1)));
  return tomorrow === null ? null : tomorrow + 24 - hour;
}
