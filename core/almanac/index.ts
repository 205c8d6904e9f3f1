export {
  MOON_MEAN_KM,
  moonIlluminance,
  moonOver,
  moonPhaseAt,
  moonPhaseOf,
  sunOver,
  towards,
  type MoonStanding,
  type Standing,
} from './bodies';
export { MONTH_DAYS, daylightShare, drawnDayFault, drawnMoon, drawnSun, withDaylight, type DrawnDay } from './drawnDay';
export { moonEvents, sunEvents, type DayEvents, type SunEvents } from './events';
export { nextPhase } from './nextPhase';
export { dateAfter, hourAt, isDate, momentAt, type Place } from './place';
export { zoneOffsetH } from './timeZone';
export { whenSunStands, type SunMoment } from './whenSunStands';
