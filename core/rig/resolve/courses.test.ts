import { coursesOf, defaultRig, timedCue } from '..';

describe('the course of a held value over the day', () => {
  const rig = defaultRig();
  rig.cues = [timedCue('six', 'Six', 6, 8), timedCue('noon', 'Noon', 12, 14), { ...timedCue('storm', 'Storm', 9, 9), kind: 'free' }];
  rig.cues[0]!.holds.shadeEv = -1;
  rig.cues[1]!.holds.shadeEv = 2;
  rig.cues[1]!.holds.fog = { visibilityM: 400 };
  rig.cues[2]!.holds.shadeEv = 3;

  it('goes through what each timed cue holds, straight between them and across midnight', () => {
    const [course] = coursesOf(rig, [['shadeEv']], 8);
    // Every three hours; from noon to six it takes eighteen.
    [0, -0.5, -1, 0.5, 2, 1.5, 1, 0.5, 0].forEach((value, i) => expect(course![i]).toBeCloseTo(value, 9));
  });

  it('follows the day’s smoothness', () => {
    const [course] = coursesOf({ ...rig, day: { ...rig.day, smoothness: 0 } }, [['shadeEv']], 8);
    expect(course).toEqual([-1, -1, -1, 2, 2, 2, 2, -1, -1]);
  });

  it('has no number where nothing is held', () => {
    const [course] = coursesOf(rig, [['sun', 'colorK']], 4);
    expect(course).toEqual([NaN, NaN, NaN, NaN, NaN]);
  });
});
