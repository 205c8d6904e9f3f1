import { addVantage, checkRig, defaultRig, mergeRigs, moveVantage, removeVantage, vantageOfCue } from '..';

const view = (x: number) => ({ eye: [x, 2, 3] as [number, number, number], target: [0, 0, 0] as [number, number, number], fovDeg: 50 });

describe('vantages', () => {
  it('are saved by number; a cue is looked at from its own, or from the first', () => {
    const rig = defaultRig();
    const [noon, late] = rig.cues;
    expect(vantageOfCue(rig, noon!)).toBeNull();
    const ids = [addVantage(rig, view(1)), addVantage(rig, view(2))];
    late!.vantageId = ids[1]!;
    expect(rig.vantages.map((v) => v.name)).toEqual(['Vantage 1', 'Vantage 2']);
    expect([noon!, late!].map((cue) => vantageOfCue(rig, cue)!.eye[0])).toEqual([1, 2]);
    moveVantage(rig, ids[1]!, view(5));
    expect(vantageOfCue(rig, late!)).toEqual({ id: ids[1], name: 'Vantage 2', ...view(5) });
    expect(checkRig(rig)).toEqual(rig);
    removeVantage(rig, ids[1]!);
    expect([late!.vantageId, vantageOfCue(rig, late!)!.eye[0]]).toEqual([null, 1]);
    expect(() => moveVantage(rig, ids[1]!, view(1))).toThrow(RangeError);
  });

  it('that are not there are refused, and named no more where one side has removed them', () => {
    const base = defaultRig();
    const id = addVantage(base, view(1));
    expect(() => checkRig({ ...base, cues: base.cues.map((c) => ({ ...c, vantageId: 'gone' })) })).toThrow('"gone" that is not there');
    const [mine, theirs] = [structuredClone(base), structuredClone(base)];
    mine.cues[0]!.vantageId = id;
    removeVantage(theirs, id);
    const { rig, clashes } = mergeRigs(base, mine, theirs);
    expect(clashes).toEqual([]);
    expect([rig.vantages, rig.cues[0]!.vantageId]).toEqual([[], null]);
  });
});
