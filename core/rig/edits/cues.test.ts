import { produce } from 'immer';
import {
  TYPICAL_CUES,
  checkRig,
  copyHeld,
  defaultRig,
  heldAt,
  heldDifferences,
  heldPaths,
  incidentEv,
  moveCue,
  removeCue,
  resolveCue,
  setHeld,
  typicalCue,
  type HeldPath,
  type Rig,
} from '../index';

/** A rig of four cues, of which three hold something. */
function made(): Rig {
  const rig = defaultRig();
  const [noon, late] = rig.cues as [Rig['cues'][number], Rig['cues'][number]];
  noon.holds = { exposure: noon.holds.exposure!, sun: { elevationDeg: 40, colorK: 5200 }, shadeEv: 0.5 };
  late.holds = { exposure: late.holds.exposure!, sun: { elevationDeg: 40, illuminanceLux: 9000 }, fog: { visibilityM: 800 } };
  rig.cues.push(
    { ...structuredClone(noon), id: 'third', name: 'Third', holds: {} },
    { ...structuredClone(late), id: 'fourth', name: 'Fourth' },
  );
  return rig;
}
const cue = (rig: Rig, id: string) => rig.cues.find((c) => c.id === id)!;

describe('what a cue holds', () => {
  it('is listed value by value', () => {
    const rig = made();
    expect(heldPaths(cue(rig, 'noon'))).toEqual([
      { part: 'exposure' },
      { part: 'sun', key: 'elevationDeg' },
      { part: 'sun', key: 'colorK' },
      { part: 'shadeEv' },
    ]);
    expect(heldPaths(cue(rig, 'third'))).toEqual([]);
  });

  it('differs from another cue in those values that are not the same', () => {
    const rig = made();
    const differences = heldDifferences(cue(rig, 'noon'), cue(rig, 'late'));
    expect(differences.map(({ part, key, a, b }) => [key === undefined ? part : `${part} ${key}`, a, b])).toEqual([
      ['exposure', cue(rig, 'noon').holds.exposure, cue(rig, 'late').holds.exposure],
      ['sun colorK', 5200, undefined],
      ['shadeEv', 0.5, undefined],
      ['sun illuminanceLux', undefined, 9000],
      ['fog visibilityM', undefined, 800],
    ]);
    expect(heldDifferences(cue(rig, 'late'), cue(rig, 'fourth'))).toEqual([]);
  });

  it('is copied value by value until both hold the same, and what is let go follows the day', () => {
    const rig = made();
    for (const path of heldDifferences(cue(rig, 'noon'), cue(rig, 'late'))) copyHeld(rig, 'noon', ['late', 'third'], path);
    expect(heldDifferences(cue(rig, 'noon'), cue(rig, 'late'))).toEqual([]);
    // Nothing was left of the fog that the other follows the day in.
    expect(Object.keys(cue(rig, 'late').holds).sort()).toEqual(['exposure', 'shadeEv', 'sun']);
    expect(heldAt(cue(rig, 'third'), { part: 'sun', key: 'elevationDeg' })).toBeUndefined();
    expect(() => checkRig(rig)).not.toThrow();
    // A copy is none of the same object.
    setHeld(rig, ['late'], { part: 'exposure' }, { lowEv: 3, highEv: 3, biasEv: 0 });
    expect(cue(rig, 'noon').holds.exposure!.lowEv).toBe(14);
  });

  it('is copied within a draft of the rig as well', () => {
    const rig = made();
    const next = produce(rig, (draft: Rig) => copyHeld(draft, 'noon', ['late'], { part: 'exposure' }));
    expect(cue(next, 'late').holds.exposure).toEqual(cue(rig, 'noon').holds.exposure);
    expect(cue(rig, 'late').holds.exposure!.lowEv).toBe(12.5);
  });

  it('is set in several cues at once, and let go of again', () => {
    const rig = made();
    const before = structuredClone(rig);
    const path: HeldPath = { part: 'weather', key: 'rateMmH' };
    setHeld(rig, ['noon', 'third'], path, 4);
    expect(rig.cues.map((c) => heldAt(c, path))).toEqual([4, undefined, 4, undefined]);
    setHeld(rig, ['noon', 'third'], path, undefined);
    expect(rig).toEqual(before);
    expect(() => setHeld(rig, ['none'], path, 1)).toThrow(RangeError);
  });
});

describe('the list of cues', () => {
  it.each([
    ['noon', 2, ['late', 'third', 'noon', 'fourth']],
    ['fourth', 0, ['fourth', 'noon', 'late', 'third']],
    ['late', 99, ['noon', 'third', 'fourth', 'late']],
    ['third', 2, ['noon', 'late', 'third', 'fourth']],
  ])('has %s at %d after a move', (id, to, order) => {
    const rig = made();
    moveCue(rig, id, to);
    expect(rig.cues.map((c) => c.id)).toEqual(order);
  });

  it('keeps the last one', () => {
    const rig = made();
    for (const id of ['late', 'third', 'fourth']) removeCue(rig, id);
    expect(() => removeCue(rig, 'noon')).toThrow(/only cue/);
    expect(rig.cues.map((c) => c.id)).toEqual(['noon']);
  });
});

describe('typical cues', () => {
  const rig = defaultRig();
  const lit = (which: (typeof TYPICAL_CUES)[number], of = rig) => {
    const made = { ...typicalCue(of, which), id: `own-${which}`, name: `Own ${which}` };
    return { made, lighting: resolveCue(of, made) };
  };

  it('stand where the sun does: low at dawn and dusk, highest at noon, gone by night', () => {
    const elevation = (which: (typeof TYPICAL_CUES)[number]) => lit(which).lighting.suns.find((s) => s.kind === 'sun')?.elevationDeg ?? -90;
    for (const which of ['dawn', 'dusk'] as const) {
      expect(elevation(which)).toBeGreaterThan(1);
      expect(elevation(which)).toBeLessThan(12);
    }
    const { made } = lit('noon');
    const beside = [-0.5, 0.5].map((h) => resolveCue(rig, { ...made, id: 'x', hour: made.hour + h }).suns[0]!.elevationDeg);
    for (const other of beside) expect(elevation('noon')).toBeGreaterThan(other);
    expect(elevation('night')).toBe(-90);
  });

  it('are exposed for the light on open ground, and are part of a valid rig', () => {
    for (const which of TYPICAL_CUES) {
      const { made, lighting } = lit(which);
      expect(Math.abs(made.holds.exposure!.lowEv - Math.max(-3, incidentEv(lighting)))).toBeLessThanOrEqual(0.25);
      expect(() => checkRig({ ...rig, cues: [...rig.cues, made] })).not.toThrow();
    }
  });

  it('have less light under a covered sky', () => {
    expect(incidentEv(lit('overcast').lighting)).toBeLessThan(incidentEv(lit('noon').lighting) - 1);
  });

  it('are there where the sun does not rise that day', () => {
    const polar = { ...rig, place: { ...rig.place, latitudeDeg: 80, date: '2026-12-21' } };
    expect([lit('dawn', polar).made.hour, lit('dusk', polar).made.hour]).toEqual([6, 18]);
  });
});
