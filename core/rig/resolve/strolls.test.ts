import fc from 'fast-check';
import {
  addStroll,
  changeStroll,
  checkRig,
  defaultRig,
  fadeLighting,
  mergeRigs,
  placeLevelAs,
  removeCue,
  removeStroll,
  resolveCue,
  resolveHour,
  strollLight,
  strollSeconds,
  strollView,
  type Rig,
  type StrollPlace,
} from '..';
import { rigOnDay } from './rigOnDay';

/** Straight ahead along x at 2 m/s for 4 s, then 90 degrees to the left. */
const CORNER: StrollPlace[] = [0, 1, 2, 3, 4, 5, 6].map((atS) => ({
  atS: atS + 10,
  eye: [Math.min(atS, 4) * 2, 1.65, Math.min(0, 4 - atS) * 2],
  target: atS <= 4 ? [Math.min(atS, 4) * 2 + 5, 1.65, 0] : [8, 1.65, (4 - atS) * 2 - 5],
}));

function walked(places = CORNER): { rig: Rig; id: string } {
  const rig = defaultRig();
  return { rig, id: addStroll(rig, places, 60, 22) };
}

describe('strolls', () => {
  it('begin at their first place, leave out what lies between others, and are valid', () => {
    const { rig, id } = walked();
    const [stroll] = rig.strolls;
    expect(stroll).toMatchObject({ id, name: 'Stroll 1', fovDeg: 60, pace: 1 });
    expect(stroll!.places.map((p) => p.atS)).toEqual([0, 4, 5, 6]);
    expect(checkRig(rig)).toEqual(rig);
    expect(addStroll(rig, CORNER, 60, 1)).toBe('stroll-2');
    removeStroll(rig, id);
    expect(rig.strolls.map((s) => s.id)).toEqual(['stroll-2']);
    expect(() => changeStroll(rig, id, { pace: 2 })).toThrow(RangeError);
  });

  it('go at an even speed from place to place, faster by their pace, and stand at their ends', () => {
    const { rig } = walked();
    const stroll = { ...rig.strolls[0]!, pace: 2 };
    expect(strollSeconds(stroll)).toBe(3);
    expect(strollView(stroll, 0.5)).toEqual({ eye: [2, 1.65, 0], target: [14, 1.65, 0], fovDeg: 60 });
    expect(strollView(stroll, 2.75).eye).toEqual([8, 1.65, -3]);
    expect(strollView(stroll, 99)).toEqual(strollView(stroll, 3));
    expect(strollView(stroll, -1).eye).toEqual([0, 1.65, 0]);
    // Halfway through the turn.
    const { eye, target } = strollView(stroll, 2.25);
    expect(Math.atan2(-(target[2] - eye[2]), target[0] - eye[0])).toBeCloseTo(Math.PI / 4, 6);
  });

  it('lose no more than 2 cm and half a degree where places are left out', () => {
    const step = fc.record({ ahead: fc.double({ min: 0, max: 0.4, noNaN: true }), turn: fc.double({ min: -0.3, max: 0.3, noNaN: true }) });
    fc.assert(
      fc.property(fc.array(step, { minLength: 3, maxLength: 120 }), (steps) => {
        let [x, z, heading] = [0, 0, 0];
        const places: StrollPlace[] = [{ atS: 0, eye: [0, 1.65, 0], target: [1, 1.65, 0] }];
        for (const [i, { ahead, turn }] of steps.entries()) {
          heading += turn;
          [x, z] = [x + ahead * Math.cos(heading), z + ahead * Math.sin(heading)];
          places.push({ atS: (i + 1) / 10, eye: [x, 1.65, z], target: [x + Math.cos(heading), 1.65, z + Math.sin(heading)] });
        }
        const { rig } = walked(places);
        for (const place of places) {
          const { eye, target } = strollView(rig.strolls[0]!, place.atS);
          expect(Math.hypot(eye[0] - place.eye[0], eye[2] - place.eye[2])).toBeLessThan(0.022);
          const [dx, dz] = [(target[0] - eye[0]) / 12, (target[2] - eye[2]) / 12];
          expect(Math.hypot(dx - (place.target[0] - place.eye[0]), dz - (place.target[2] - place.eye[2]))).toBeLessThan(0.015);
        }
      }),
    );
  });

  it('run the day, over midnight into the next date, and give the same light each time', () => {
    const { rig, id } = walked();
    changeStroll(rig, id, { light: { by: 'day', fromHour: 22, hours: 6 } });
    const [stroll] = rig.strolls;
    expect(strollLight(rig, stroll!, 0)).toEqual(resolveHour(rig, 22));
    // 4 of the 6 hours: two in the morning of the next day.
    expect(strollLight(rig, stroll!, 4)).toEqual(resolveHour(rigOnDay(rig, 1), 2));
    const stored = checkRig(JSON.parse(JSON.stringify(rig)));
    for (const at of [0, 1.3, 2, 2.0001, 5.9, 6]) {
      expect(strollLight(stored, stored.strolls[0]!, at)).toEqual(strollLight(rig, stroll!, at));
      expect(strollView(stored.strolls[0]!, at)).toEqual(strollView(stroll!, at));
    }
  });

  it('go through cues, each for an equal share, faded as a switch is', () => {
    const { rig, id } = walked();
    const [a, b] = rig.cues;
    b!.fadeS = 1;
    changeStroll(rig, id, { light: { by: 'cues', cueIds: [a!.id, b!.id] } });
    const [stroll] = rig.strolls;
    const [first, second] = [resolveCue(rig, a!), resolveCue(rig, b!)];
    expect(strollLight(rig, stroll!, 2.99)).toEqual(first);
    expect(strollLight(rig, stroll!, 3.5)).toEqual(fadeLighting(first, second, 0.5));
    expect(strollLight(rig, stroll!, 4)).toEqual(second);
    // No fade takes more than half of a cue's time.
    b!.fadeS = 100;
    expect(strollLight(rig, stroll!, 4.5)).toEqual(second);
  });

  it('lose cues that are removed, here and by another, and are refused without them', () => {
    const { rig, id } = walked();
    const [a, b] = rig.cues.map((c) => c.id) as [string, string];
    changeStroll(rig, id, { light: { by: 'cues', cueIds: [b, a, b] } });
    const theirs = structuredClone(rig);
    removeCue(theirs, b);
    expect(theirs.strolls[0]!.light).toEqual({ by: 'cues', cueIds: [a] });
    const mine = structuredClone(rig);
    changeStroll(mine, id, { light: { by: 'cues', cueIds: [b] } });
    const merged = mergeRigs({ ...rig, strolls: [] }, { ...mine, strolls: mine.strolls }, { ...theirs, strolls: [] }).rig;
    expect(merged.strolls[0]!.light).toEqual({ by: 'cues', cueIds: [merged.cues[0]!.id] });
    expect(() => checkRig({ ...rig, cues: rig.cues.filter((c) => c.id !== b) })).toThrow(`seen under a cue "${b}" that is not there`);
  });

  it('are refused out of order, and move with a level that is read in another unit', () => {
    const { rig } = walked();
    const [stroll] = rig.strolls;
    const back = [...stroll!.places].reverse();
    expect(() => checkRig({ ...rig, strolls: [{ ...stroll!, places: back }] })).toThrow('must begin at 0 seconds');
    const twice = stroll!.places.map((p, i) => (i === 2 ? { ...p, atS: 4 } : p));
    expect(() => checkRig({ ...rig, strolls: [{ ...stroll!, places: twice }] })).toThrow('in the order of their times');
    placeLevelAs(rig, { metresPerUnit: 0.5, up: 'y' });
    expect(rig.strolls[0]!.places[1]!.eye).toEqual([4, 0.825, 0]);
  });
});
