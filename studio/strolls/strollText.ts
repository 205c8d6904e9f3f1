import type { StrollMoment } from '../../core/rig';
import { clockText } from '../desk/quantity';

/** Seconds as minutes and seconds: "1:05", or "1:05.3" to the tenth. */
export function secondsText(seconds: number, tenths = false): string {
  const unit = tenths ? 10 : 1;
  const whole = Math.round(seconds * unit);
  const minutes = Math.floor(whole / unit / 60);
  return `${minutes}:${((whole - minutes * 60 * unit) / unit).toFixed(tenths ? 1 : 0).padStart(tenths ? 4 : 2, '0')}`;
}

/** What a moment of a stroll is seen under: the time of day, or the cue. */
export const momentName = (moment: StrollMoment, twelve: boolean): string =>
  moment.by === 'day' ? clockText(moment.hour, twelve) : moment.cue.name;
