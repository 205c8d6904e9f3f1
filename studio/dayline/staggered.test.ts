import { timedCue, type Cue } from '../../core/rig';
import { FLAG_PX, staggered } from './staggered';

const cues = (...hours: number[]): Cue[] => hours.map((hour, i) => timedCue(`c${i}`, `Cue ${i}`, hour, 10));
const x = (hour: number) => (hour / 24) * 1280;
const near = (FLAG_PX / 1280) * 24;

describe('the pins of the dayline', () => {
  it('keep the numbers of their keys, whatever the hours, and leave out what is not timed', () => {
    const all = cues(18, 6, 12);
    all[1]!.kind = 'bench';
    expect(staggered(all, x).map((p) => [p.cue.id, p.number])).toEqual([
      ['c0', 1],
      ['c2', 3],
    ]);
  });

  it('stand in one row where there is room', () => {
    expect(staggered(cues(3, 9, 15, 21), x).map((p) => p.low)).toEqual([false, false, false, false]);
  });

  it('every second of a crowd stands a row lower, in the order of the day', () => {
    const crowd = staggered(cues(12 + near * 0.8, 12, 12 + near * 0.4), x);
    const low = Object.fromEntries(crowd.map((p) => [p.cue.id, p.low]));
    expect(low).toEqual({ c1: false, c2: true, c0: false });
  });
});
