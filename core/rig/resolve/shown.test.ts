import { checkRig, defaultRig, openStates, readRig, resolveCue, setOpenings, showObjects } from '../index';
import { fadeLighting } from './fade';

describe('openings', () => {
  const rig = () => {
    const made = defaultRig();
    const [first] = made.cues;
    made.cues = ['a', 'b', 'c', 'd'].map((id) => ({ ...first!, id, name: id, holds: {} }));
    setOpenings(made, ['shutter', 'door'], true);
    return made;
  };

  it('are open in the cues that hide them, and each set of them is one state', () => {
    const made = rig();
    expect(openStates(made)).toEqual([]);
    showObjects(made, { cueId: 'b' }, ['shutter', 'crate'], false);
    showObjects(made, { cueId: 'c' }, ['shutter', 'door'], false);
    showObjects(made, { cueId: 'd' }, ['shutter'], false);
    expect(openStates(made)).toEqual([
      { open: ['shutter'], cueIds: ['b', 'd'] },
      { open: ['door', 'shutter'], cueIds: ['c'] },
    ]);
    const [a, b] = made.cues.map((cue) => resolveCue(made, cue));
    expect([a!.open, b!.open, b!.hidden]).toEqual([[], ['shutter'], ['shutter', 'crate']]);
    // A fade opens them as it hides them.
    expect([0.49, 0.5].map((t) => fadeLighting(a!, b!, t).open)).toEqual([[], ['shutter']]);
    // What the day hides is open in all cues that do not show it.
    showObjects(made, 'day', ['door'], false);
    showObjects(made, { cueId: 'a' }, ['door'], true);
    expect(openStates(made).map((s) => s.cueIds)).toEqual([['b', 'c', 'd']]);
    setOpenings(made, ['shutter'], false);
    expect(openStates(made)).toEqual([{ open: ['door'], cueIds: ['b', 'c', 'd'] }]);
    expect(checkRig(made)).toEqual(made);
  });

  it('are named once, and there were none up to version 17', () => {
    const made = rig();
    setOpenings(made, ['door', 'gate'], true);
    expect(made.openings).toEqual(['shutter', 'door', 'gate']);
    expect(() => checkRig({ ...made, openings: ['gate', 'gate'] })).toThrow('openings');
    expect(readRig({ ...defaultRig(), version: 17, openings: undefined }).openings).toEqual([]);
  });
});
