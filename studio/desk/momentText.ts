import type { Moment } from '../../core/rig';
import { clockText } from './quantity';

/** A moment of the day in words: "20:30", "sunset +0:10". */
export const momentText = (moment: Moment): string =>
  moment.at === 'hour'
    ? clockText(moment.hour, false)
    : `${moment.at}${moment.plusH ? ` ${moment.plusH > 0 ? '+' : '−'}${clockText(Math.abs(moment.plusH), false)}` : ''}`;
