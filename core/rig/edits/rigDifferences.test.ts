import { defaultRig, moveCue, removeCue, rigDifferences, timedCue } from '..';

describe('what changed from one rig to another', () => {
  it('is told thing by thing', () => {
    const from = defaultRig();
    const to = structuredClone(from);
    to.fog.visibilityM = 300;
    to.cues[0]!.holds = { ...to.cues[0]!.holds, shadeEv: 1, skySaturation: 0.5 };
    to.cues.push(timedCue('dusk', 'Dusk', 20, 5));
    removeCue(to, 'late');
    to.circuits.push({ id: 'posts', name: 'Posts', rule: { by: 'on' }, bounce: 1, flicker: null });
    expect(rigDifferences(from, to)).toEqual([
      { part: 'fog', name: null, how: 'changed', values: null },
      { part: 'cues', name: 'Late sun', how: 'removed', values: null },
      { part: 'cues', name: 'Noon', how: 'changed', values: 2 },
      { part: 'cues', name: 'Dusk', how: 'added', values: null },
      { part: 'circuits', name: 'Posts', how: 'added', values: null },
    ]);
    expect(rigDifferences(to, to)).toEqual([]);
  });

  it('says so where the order alone is another', () => {
    const [from, to] = [defaultRig(), defaultRig()];
    moveCue(to, 'late', 0);
    expect(rigDifferences(from, to)).toEqual([{ part: 'cues', name: null, how: 'moved', values: null }]);
  });
});
