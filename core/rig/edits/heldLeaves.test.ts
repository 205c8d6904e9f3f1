import {
  DEFAULT_BANDS,
  checkRig,
  defaultRig,
  heldLeaves,
  holderPath,
  incidentEv,
  leafAt,
  paintedDay,
  resolveCue,
  resolveHour,
  setLeaf,
} from '..';
import { sunHours } from '../resolve/circuits';

const rigOf = () => {
  const rig = defaultRig();
  rig.cues[0]!.holds = { sun: { elevationDeg: 40 }, sky: structuredClone(DEFAULT_BANDS) };
  rig.cues[1]!.holds = { fog: { visibilityM: 300, color: '#c0c8d0' }, shadeEv: 1 };
  return rig;
};

describe('values that cues hold, one by one', () => {
  it('are those of all cues, part by part', () => {
    const names = heldLeaves(rigOf().cues).map((path) => path.join('.'));
    expect(names).toEqual([
      'sun.elevationDeg',
      'sky.zenith.color',
      'sky.zenith.luminanceCdM2',
      'sky.horizon.color',
      'sky.horizon.luminanceCdM2',
      'sky.ground.color',
      'sky.ground.luminanceCdM2',
      'fog.visibilityM',
      'fog.color',
      'shadeEv',
    ]);
  });

  it('are set in several cues at once, each keeping what it holds besides', () => {
    const rig = rigOf();
    const ids = rig.cues.map((c) => c.id);
    setLeaf(rig, [...ids].reverse(), ['fog', 'visibilityM'], 120);
    setLeaf(rig, ids, ['shadeEv'], -0.5);
    expect(rig.cues.map((c) => c.holds.fog)).toEqual([{ visibilityM: 120 }, { visibilityM: 120, color: '#c0c8d0' }]);
    expect(rig.cues.map((c) => c.holds.shadeEv)).toEqual([-0.5, -0.5]);
    checkRig(rig);
  });

  it('leave a fixed exposure fixed', () => {
    const rig = rigOf();
    rig.cues[0]!.holds.exposure = { lowEv: 12, highEv: 12, biasEv: 0.5 };
    rig.cues[1]!.holds.exposure = { lowEv: 9, highEv: 12, biasEv: 0 };
    for (const cue of rig.cues) setLeaf(rig, [cue.id], ['exposure', 'lowEv'], 11);
    expect(rig.cues.map((c) => c.holds.exposure)).toEqual([
      { lowEv: 11, highEv: 11, biasEv: 0.5 },
      { lowEv: 11, highEv: 12, biasEv: 0 },
    ]);
    checkRig(rig);
  });

  it('that are part of something held whole bring it along where a cue does not hold it', () => {
    const rig = rigOf();
    const [noon, late] = rig.cues;
    setLeaf(rig, [noon!.id, late!.id], ['sky', 'horizon', 'luminanceCdM2'], 5000);
    expect(leafAt(noon!, ['sky', 'horizon', 'luminanceCdM2'])).toBe(5000);
    expect(late!.holds.sky).toEqual(noon!.holds.sky);
    expect(late!.holds.sky!.zenith).toEqual(DEFAULT_BANDS.zenith);
    expect(holderPath(['sky', 'horizon', 'color'])).toEqual({ part: 'sky' });
    checkRig(rig);
  });
});

describe('a painted day', () => {
  const rig = defaultRig();
  const made = paintedDay(rig);
  const whole = checkRig({ ...rig, cues: [...rig.cues, ...made] });

  it('has four timed cues in the order of the sun, each with all that is painted', () => {
    const { rise, set } = sunHours(rig);
    const [dawn, midday, dusk, midnight] = made.map((c) => c.hour) as [number, number, number, number];
    expect(dawn).toBeCloseTo(rise! + 0.6, 1);
    expect(dusk).toBeCloseTo(set! - 0.4, 1);
    expect(midday).toBeCloseTo((rise! + set!) / 2, 1);
    expect((midnight - midday + 24) % 24).toBeCloseTo(12, 1);
    for (const { holds } of made) {
      expect(Object.keys(holds)).toEqual(expect.arrayContaining(['sky', 'clouds', 'fog', 'shadeEv', 'exposure']));
      expect(holds.sky!.facing!.up.illuminanceLux).toBeGreaterThan(0);
    }
    expect(made[3]!.holds.moonLook).toBeDefined();
  });

  it('is brightest at midday, dark at midnight, and blends without a hole between', () => {
    const ev = made.map((cue) => incidentEv(resolveCue(whole, cue)));
    expect(Math.max(...ev)).toBe(ev[1]);
    expect(ev[1]! - ev[3]!).toBeGreaterThan(12);
    const only = { ...whole, cues: made };
    const hours = Array.from({ length: 48 }, (_, i) => incidentEv(resolveHour(only, i / 2)));
    expect(Math.min(...hours)).toBeGreaterThan(ev[3]! - 1);
  });

  it('takes other names where they are taken', () => {
    expect(paintedDay(whole).map((c) => c.name)).toEqual(made.map((c) => `${c.name} 2`));
  });
});
