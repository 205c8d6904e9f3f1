import { timedCue, type Cue } from '../../core/rig';
import { flagPx, staggered } from './staggered';

const cues = (...hours: number[]): Cue[] => hours.map((hour, i) => timedCue(`c${i}`, `Cue ${i}`, hour, 10));
const x = (hour: number) => (hour / 24) * 1280;
const near = (flagPx({ name: 'Cue 0' }) / 1280) * 24;
const rows = (list: Cue[]) => Object.fromEntries(staggered(list, x).map((p) => [p.cue.id, p.row]));

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
    expect(rows(cues(3, 9, 15, 21))).toEqual({ c0: 0, c1: 0, c2: 0, c3: 0 });
  });

  it('of a crowd stand each in a row of its own, in the order of the day', () => {
    expect(rows(cues(12 + near * 0.8, 12, 12 + near * 0.4))).toEqual({ c1: 0, c2: 1, c0: 2 });
  });

  it('make room for long names, and for flags that stand to the left at the end of the day', () => {
    const [a, b] = cues(12, 12 + near * 1.2);
    expect(rows([{ ...a!, name: 'A name that is rather long' }, b!])).toEqual({ c0: 0, c1: 1 });
    const [c, d] = cues(21.1, 23.8);
    expect(rows([c!, { ...d!, name: 'Another name that is long' }])).toEqual({ c0: 0, c1: 1 });
  });
});
