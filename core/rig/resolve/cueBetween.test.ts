import { DEFAULT_BANDS, checkRig, defaultRig, heldBetween, incidentEv, resolveCue, resolveHour, type Cue, type Holds, type Rig } from '..';
import { DEFAULT_CLOUDS, NEW_CUE, fixedExposure } from '../document/defaults';
import { luminance } from '../../units';

const cue = (id: string, hour: number, holds: Holds): Cue => ({
  id: id.toLowerCase(),
  name: id,
  kind: 'timed',
  hour,
  fadeS: 1,
  ...NEW_CUE,
  holds,
});
/** A day of two cues that hold much, each otherwise. */
const held = (): Rig => ({
  ...defaultRig(),
  circuits: [{ id: 'posts', name: 'Posts', rule: { by: 'darkness', belowLux: 50 }, bounce: 1, flicker: null }],
  cues: [
    cue('Ten', 10, {
      sun: { illuminanceLux: 60_000, azimuthDeg: 110, elevationDeg: 40 },
      exposure: fixedExposure(13),
      sky: { ...DEFAULT_BANDS, softness: 0.4 },
      dimmers: { posts: { on: true, level: 0.8, tint: '#ffb070' } },
      fog: { visibilityM: 400, color: '#c8d0ff' },
      mix: { bounce: { level: 2, tint: '#ffd0a0' } },
      grade: { contrast: { amount: 1.3, pivot: 0.18 }, nightVision: 0.4 },
      shadeEv: 1,
      skySaturation: 0.5,
    }),
    cue('Sixteen', 16, {
      sun: { illuminanceLux: 30_000, azimuthDeg: 240, elevationDeg: 30, colorK: 4000 },
      exposure: fixedExposure(11),
      sky: { ...DEFAULT_BANDS, zenith: { color: '#303a60', luminanceCdM2: 900 }, softness: 1 },
      clouds: { ...DEFAULT_CLOUDS, cover: 0.4 },
      fog: { visibilityM: 900 },
      water: { levelM: -2, clarityM: 8 },
      weather: { windMps: 9, cover: 0.6 },
      night: { starsEv: 2 },
    }),
  ],
});
/** The rig with what stands at an hour pinned there as a cue. */
const pinned = (rig: Rig, hour: number): { rig: Rig; cue: Cue } => {
  const made = cue('Kept', hour, heldBetween(rig, hour).holds);
  return { rig: checkRig({ ...rig, cues: [...rig.cues, made] }), cue: made };
};

describe('what stands between two cues, held by one', () => {
  it.each([11, 13, 14.75])('lights as the blend does, at %d h', (hour) => {
    const rig = held();
    const blend = resolveHour(rig, hour);
    const made = pinned(rig, hour);
    const own = resolveCue(made.rig, made.cue);
    const [a, b] = [blend.suns[0]!, own.suns[0]!];
    expect(b.direction.map((v, c) => Math.abs(v - a.direction[c]!)).every((d) => d < 1e-4)).toBe(true);
    // A colour that one cue alone holds stays with its half, in the blend as well.
    expect(luminance(b.illuminance) / luminance(a.illuminance)).toBeCloseTo(1, 3);
    expect(incidentEv(own)).toBeCloseTo(incidentEv(blend), 1);
    expect(own.exposure.lowEv).toBeCloseTo(blend.exposure.lowEv, 2);
    for (const stem of ['sun', 'bounce', 'sky', 'lamps'] as const)
      own.mix[stem].forEach((v, c) => expect(v / blend.mix[stem][c]!).toBeCloseTo(1, 1));
    own.circuits[1]!.gain.forEach((v, c) => expect(v).toBeCloseTo(blend.circuits[1]!.gain[c]!, 2));
    expect(own.fog!.fog.visibilityM / blend.fog!.fog.visibilityM).toBeCloseTo(1, 3);
    expect(own.grade.contrast).toEqual(blend.grade.contrast);
    expect(own.grade.nightVision).toBeCloseTo(blend.grade.nightVision, 6);
    expect(own.water?.levelM).toBe(blend.water?.levelM);
    expect(own.stars.weight).toBeCloseTo(blend.stars.weight, 6);
  });

  it('says what no single cue can hold, and holds the nearer side’s', () => {
    const rig = held();
    rig.cues[0]!.holds.airId = 'clear';
    rig.cues[0]!.holds.grade = { curve: 'filmic' };
    delete rig.cues[1]!.holds.sky;
    expect(heldBetween(rig, 12).nearest).toEqual(['the sky of Ten', 'the air of Ten', 'the curve of Ten']);
    expect(heldBetween(rig, 15).nearest).toEqual(['the sky of Sixteen', 'the air of Sixteen', 'the curve of Sixteen']);
    expect(heldBetween(rig, 15).holds.sky).toBeUndefined();
    expect(heldBetween(rig, 15).of).toMatchObject({ from: { name: 'Ten' }, to: { name: 'Sixteen' } });
  });

  it('holds nothing where no cue does, and just what the cue does at its own hour', () => {
    const plain = { ...defaultRig(), exposure: { lowEv: 0, highEv: 14, biasEv: 0 } };
    plain.cues = plain.cues.map((c) => ({ ...c, holds: {} }));
    expect(heldBetween(plain, 14).holds).toEqual({});
    expect(heldBetween({ ...plain, cues: [] }, 14).holds).toEqual({});
    expect(heldBetween(held(), 10).holds).toEqual(held().cues[0]!.holds);
    expect(heldBetween(held(), 10).of).toBeNull();
  });
});
