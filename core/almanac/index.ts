export { MOON_MEAN_KM, moonIlluminance, moonOver, sunOver, towards, type MoonStanding, type Standing } from './bodies';
export { drawnDayFault, drawnMoon, drawnSun, type DrawnDay } from './drawnDay';
export { moonEvents, sunEvents, type DayEvents, type SunEvents } from './events';
export { dateAfter, hourAt, isDate, momentAt, type Place } from './place';
export { whenSunStands, type SunMoment } from './whenSunStands';
