import type { Call, CallWhen, Circuit, Cue } from '../../core/rig';
import { momentText } from '../desk/momentText';
import { grouped } from '../desk/quantity';

/** What a call waits for, in a few words. */
export function whenText(when: CallWhen): string {
  if (when.by === 'event') {
    const until = {
      over: 'until it is over',
      kept: 'kept',
      after: when.until.is === 'after' ? `for ${grouped(when.until.seconds)} s` : '',
    };
    return `${when.event}, ${until[when.until.is]}`;
  }
  if (when.by === 'place') return `a box of ${when.max.map((v, axis) => grouped(v - when.min[axis]!, 1)).join(' × ')} m`;
  const { every, moon } = when.days;
  const days = every === 1 ? '' : `, every ${every} days`;
  return `${momentText(when.from)} to ${momentText(when.to)}${days}${moon ? `, moon ${grouped(moon.from, 2)} to ${grouped(moon.to, 2)}` : ''}`;
}

/** What a call does while it holds. */
export function doesText({ cueId, circuits, clock }: Call, cues: readonly Cue[], all: readonly Circuit[]): string {
  const switched = all.filter((c) => circuits[c.id]).map((c) => `${c.name} ${circuits[c.id]!.on ? 'on' : 'off'}`);
  const cue = cues.find((c) => c.id === cueId)?.name;
  const time = !clock
    ? []
    : [clock.to ? `to ${momentText(clock.to)}` : '', clock.pace === 1 ? '' : clock.pace === 0 ? 'clock stops' : `day × ${clock.pace}`];
  return [cue, ...switched, ...time].filter(Boolean).join(', ') || 'nothing yet';
}
