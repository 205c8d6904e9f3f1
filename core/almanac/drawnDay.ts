import { DEG, anglesFromDirection, directionFromAngles, type Vec3 } from '../units';

/** The course of an invented sun over one day. */
export interface DrawnDay {
  /** Hours at which it rises, stands highest and sets; 0 <= rise < highest < set <= 24. */
  riseH: number;
  highestH: number;
  setH: number;
  /** Elevation at its highest, above 0 up to 90. */
  highestDeg: number;
  /** Azimuth at its highest; it rises a quarter turn before and sets a quarter turn after it. */
  bearingDeg: number;
}

/** Days from one new moon of an invented world to the next: the real one's synodic month. */
export const MONTH_DAYS = 29.530588;

/** Share of a full turn that the sun has done at an hour, from 0 at its rise over 1/4 at its highest and 1/2 at its set. */
function turn({ riseH, highestH, setH }: DrawnDay, hour: number): number {
  const h = ((hour % 24) + 24) % 24;
  if (h >= riseH && h < highestH) return (0.25 * (h - riseH)) / (highestH - riseH);
  if (h >= highestH && h < setH) return 0.25 + (0.25 * (h - highestH)) / (setH - highestH);
  const night = 24 - (setH - riseH);
  return 0.5 + (0.5 * ((h - setH + 24) % 24)) / night;
}

/** Direction on the tilted great circle that the day runs on, `turns` of it after its rise. */
function onCircle({ highestDeg, bearingDeg }: DrawnDay, turns: number): Vec3 {
  const a = 2 * Math.PI * turns;
  const rise = directionFromAngles(bearingDeg - 90, 0);
  const top = directionFromAngles(bearingDeg, highestDeg);
  return [0, 1, 2].map((c) => Math.cos(a) * rise[c]! + Math.sin(a) * top[c]!) as Vec3;
}

/** Azimuth and elevation of the sun of a drawn day: on a great circle through the horizon, tilted to its highest point. */
export function drawnSun(day: DrawnDay, hour: number): { azimuthDeg: number; elevationDeg: number } {
  return anglesFromDirection(onCircle(day, turn(day, hour)));
}

/**
 * The moon of a drawn day: on the sun's circle, behind the sun by as much of a turn as of its month has gone by, so that
 * it is new with the sun and full opposite to it.
 *
 * @param age days since new moon
 */
export function drawnMoon(
  day: DrawnDay,
  hour: number,
  age: number,
): { azimuthDeg: number; elevationDeg: number; phaseAngleDeg: number; litShare: number } {
  const behind = ((((age + hour / 24) / MONTH_DAYS) % 1) + 1) % 1;
  const elongation = behind * 360;
  const phaseAngleDeg = Math.abs(180 - elongation);
  return {
    ...anglesFromDirection(onCircle(day, turn(day, hour) - behind)),
    phaseAngleDeg,
    litShare: (1 + Math.cos(phaseAngleDeg * DEG)) / 2,
  };
}

/** What is wrong with a drawn day, in words, or null. */
export function drawnDayFault({ riseH, highestH, setH, highestDeg }: DrawnDay): string | null {
  if (!(riseH < highestH)) return 'The sun must rise before it stands highest.';
  if (!(highestH < setH)) return 'The sun must set after it stands highest.';
  if (!(highestDeg > 0)) return 'The highest point of the sun must lie above the horizon.';
  return null;
}

/** Share of the day with the sun up, 0..1. */
export const daylightShare = ({ riseH, setH }: DrawnDay) => (setH - riseH) / 24;

/** The day with another share of daylight: rise and set move about the highest point as they lie, and stay within the day. */
export function withDaylight(day: DrawnDay, share: number): DrawnDay {
  const { riseH, highestH, setH } = day;
  const morning = (highestH - riseH) / (setH - riseH);
  const length = share * 24;
  const rise = Math.min(24 - length, Math.max(0, highestH - length * morning));
  const top = rise + length * morning;
  return { ...day, riseH: rise, highestH: top, setH: rise + length };
}
