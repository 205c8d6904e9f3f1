import { MID_GREY, NEUTRAL_GRADE, NO_CDL, SHIPPED_GRADES, gradeLiftEv, gradedColor } from '../../grade';
import { glowOf } from '../../roles';
import {
  checkRig,
  defaultRig,
  forgetGrade,
  gradeSets,
  gradeUnder,
  keepGrade,
  liftByExposure,
  readRig,
  releasePart,
  releaseGrade,
  resolveCue,
  setPart,
  setGrade,
  setGlow,
  takeGrade,
  shownGlow,
  type Lighting,
} from '../index';

describe('edits of fog and grade', () => {
  it('are held by a cue, field by field, and let go of', () => {
    const rig = defaultRig();
    const cue = rig.cues[0]!;
    setPart(rig, { cueId: cue.id }, 'fog', { visibilityM: 300 });
    setPart(rig, { cueId: cue.id }, 'fog', { baseM: 2 });
    setPart(rig, 'day', 'fog', { color: '#aabbcc' });
    expect(cue.holds.fog).toEqual({ visibilityM: 300, baseM: 2 });
    expect(rig.fog.color).toBe('#aabbcc');
    releasePart(rig, cue.id, 'fog', 'baseM');
    expect(cue.holds.fog).toEqual({ visibilityM: 300 });
    releasePart(rig, cue.id, 'fog', 'visibilityM');
    expect(cue.holds).not.toHaveProperty('fog');
    setGrade(rig, { cueId: cue.id }, 'curve', 'filmic');
    setGrade(rig, 'day', 'nightVision', 0.5);
    expect(cue.holds.grade).toEqual({ curve: 'filmic' });
    expect(resolveCue(rig, rig.cues[1]!).grade.nightVision).toBe(0.5);
    releaseGrade(rig, cue.id);
    expect(cue.holds).not.toHaveProperty('grade');
    expect(checkRig(rig)).toEqual(rig);
  });

  it('leave the day as it is where a cue is told, and name a cue that is not there', () => {
    const rig = defaultRig();
    setPart(rig, { cueId: rig.cues[0]!.id }, 'fog', { visibilityM: 300 });
    expect(rig.fog).toEqual(defaultRig().fog);
    expect(() => setPart(rig, { cueId: 'gone' }, 'fog', { baseM: 1 })).toThrow('no cue "gone"');
  });

  it('take a grade of the shelf as a copy: a cue holds what is not the day’s, smoothed edges stay', () => {
    const rig = defaultRig();
    const cue = rig.cues[0]!;
    rig.grade.smoothing = true;
    for (const { grade } of SHIPPED_GRADES) {
      takeGrade(rig, { cueId: cue.id }, grade);
      expect(gradeUnder(rig.grade, cue.holds.grade)).toEqual({ ...grade, smoothing: true });
      expect(checkRig(rig)).toEqual(rig);
      // What exposure is for stays with the exposure.
      const { grade: now, exposure } = resolveCue(rig, cue);
      expect(Math.abs(gradeLiftEv(now, exposure.lowEv))).toBeLessThan(1 / 3);
    }
    setGrade(rig, { cueId: cue.id }, 'smoothing', false);
    takeGrade(rig, { cueId: cue.id }, NEUTRAL_GRADE);
    expect(cue.holds.grade).toEqual({ smoothing: false });
    releaseGrade(rig, cue.id);
    takeGrade(rig, { cueId: cue.id }, rig.grade);
    expect(cue.holds).not.toHaveProperty('grade');
    takeGrade(rig, 'day', SHIPPED_GRADES[1]!.grade);
    expect(rig.grade).toEqual({ ...SHIPPED_GRADES[1]!.grade, smoothing: true });
  });

  it('keep a grade as one of the project, which later changes leave as it is, and forget it alone', () => {
    const rig = defaultRig();
    keepGrade(rig, 'mine', 'Mine', rig.grade);
    setGrade(rig, 'day', 'cdl', { ...NO_CDL, saturation: 0.2 });
    expect(gradeSets(checkRig(rig)).find((g) => g.id === 'mine')!.grade).toEqual(NEUTRAL_GRADE);
    keepGrade(rig, 'other', 'mine', rig.grade);
    expect(() => checkRig(rig)).toThrow('grades');
    forgetGrade(rig, 'other');
    expect(rig.grades.map((g) => g.id)).toEqual(['mine']);
    const nine = { ...defaultRig(), version: 9, grades: undefined };
    expect(readRig(JSON.parse(JSON.stringify(nine)))).toEqual(defaultRig());
  });

  it('move what a grade lifts over to the exposure: mid-grey is shown as before', () => {
    const rig = defaultRig();
    const cue = rig.cues[0]!;
    cue.holds.grade = { cdl: { ...NO_CDL, slope: [3.25, 3.25, 3.25] }, curve: 'linear' };
    const before = resolveCue(rig, cue);
    const lift = gradeLiftEv(before.grade, before.exposure.lowEv);
    expect(lift).toBeCloseTo(1.7, 2);
    liftByExposure(rig, cue.id, lift);
    const after = resolveCue(rig, cue);
    expect(after.exposure.lowEv).toBeCloseTo(before.exposure.lowEv - lift, 9);
    expect(gradeLiftEv(after.grade, after.exposure.lowEv)).toBeCloseTo(0, 6);
    const shown = (lighting: typeof before, scene: number) =>
      gradedColor(lighting.grade, lighting.exposure.lowEv)([scene, scene, scene])[0];
    expect(shown(after, (MID_GREY / 4) * 2 ** lift)).toBeCloseTo(shown(before, MID_GREY / 4), 6);
  });

  it('show a glowing material darker than it lights: what is seen changes, and no gain of the mix', () => {
    const rig = defaultRig();
    rig.circuits = [{ id: 'street', name: 'Street', rule: { by: 'on' }, bounce: 1, flicker: null }];
    setGlow(rig, 'glass', null, { circuitId: 'street' });
    const shown = (lighting: Lighting, material: string) =>
      shownGlow(glowOf(lighting.glows, { material, object: '', copy: null }), lighting.circuits, [1, 1, 1])[0];
    const cue = rig.cues[0]!;
    cue.holds.dimmers = { street: { on: true, level: 0.5, tint: '#ffffff' } };
    const before = resolveCue(rig, cue);
    expect(shown(before, 'glass')).toBeCloseTo(0.5, 9);
    setGlow(rig, 'glass', null, { shownEv: -3 });
    setGlow(rig, 'ember', null, { shownEv: 1 });
    const after = resolveCue(checkRig(rig), cue);
    expect(shown(after, 'glass')).toBeCloseTo(0.5 / 8, 9);
    expect(shown(after, 'ember')).toBe(2);
    expect(after.circuits.filter((c) => c.id !== 'glow glow-2')).toEqual(before.circuits);
    // What is only shown otherwise keeps its light, and no bake is asked for.
    expect(after.glows.map((g) => g.lightId)).toEqual(['glow glow-1', null]);
    expect(after.mix).toEqual(before.mix);
    setGlow(rig, 'ember', null, { shownEv: 0 });
    expect(rig.glows.map((g) => g.material)).toEqual(['glass']);
  });
});
