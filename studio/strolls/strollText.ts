import type { StrollMoment } from '../../core/rig';
import { clockText } from '../desk/quantity';

/** Seconds as minutes and seconds: "1:05". */
export function secondsText(seconds: number): string {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}

/** What a moment of a stroll is seen under: the time of day, or the cue. */
export const momentName = (moment: StrollMoment, twelve: boolean): string =>
  moment.by === 'day' ? clockText(moment.hour, twelve) : moment.cue.name;
