import { PLAIN_ROLE } from '../../roles';
import { glow, lampWith } from '../../../tests/lib/lamps';
import { luminance } from '../../units';
import {
  checkRig,
  defaultRig,
  fadeLighting,
  readRig,
  resolveCue,
  resolveHour,
  ruleBurns,
  sunHours,
  type CircuitRule,
  type Lighting,
  type Rig,
  RIG_VERSION,
} from '../index';

const sun = { rise: 6, set: 18, upAtNoon: true };
const burns = (rule: CircuitRule, hour: number, of = sun, lux = 0) => ruleBurns(rule, hour, of, () => lux);

describe('circuits by their own rules', () => {
  it('burn always, never, or in the dark', () => {
    expect(burns({ by: 'on' }, 12)).toBe(true);
    expect(burns({ by: 'off' }, 12)).toBe(false);
    expect(burns({ by: 'darkness', belowLux: 50 }, 12, sun, 49)).toBe(true);
    expect(burns({ by: 'darkness', belowLux: 50 }, 12, sun, 51)).toBe(false);
  });

  it('burn between two moments, over midnight too, and by the sun', () => {
    const evening: CircuitRule = { by: 'hours', from: { at: 'sunset', plusH: -0.5 }, to: { at: 'hour', hour: 23 } };
    expect([17, 17.6, 22.9, 23, 2].map((h) => burns(evening, h))).toEqual([false, true, true, false, false]);
    const night: CircuitRule = { by: 'hours', from: { at: 'sunset', plusH: 0.25 }, to: { at: 'sunrise', plusH: -0.25 } };
    expect([18.2, 18.3, 0, 5.7, 5.8].map((h) => burns(night, h))).toEqual([false, true, true, true, false]);
  });

  it('that wait for a sunset burn through a polar night, and not through a polar day', () => {
    const night: CircuitRule = { by: 'hours', from: { at: 'sunset', plusH: 0 }, to: { at: 'sunrise', plusH: 0 } };
    const place = { ...defaultRig().place, latitudeDeg: 80 };
    for (const [date, wanted] of [
      ['2026-12-21', true],
      ['2026-06-21', false],
    ] as const)
      expect(burns(night, 12, sunHours({ ...defaultRig(), place: { ...place, date } }) as typeof sun)).toBe(wanted);
  });
});

describe('circuits in a lighting', () => {
  const rig = (): Rig => {
    const own = defaultRig();
    own.circuits = [
      { id: 'street', name: 'Street', rule: { by: 'darkness', belowLux: 50 }, bounce: 1, flicker: null },
      { id: 'hall', name: 'Hall', rule: { by: 'off' }, bounce: 1, flicker: null },
    ];
    own.cues[0]!.holds.dimmers = { hall: { on: true, level: 1, tint: '#ffffff' } };
    own.cues[1]!.holds.dimmers = { hall: { on: true, level: 0.5, tint: '#ffffff' } };
    return own;
  };
  const gain = ({ circuits }: Lighting, id: string) => luminance(circuits.find((c) => c.id === id)!.gain);

  it('follow the dark outside, and not the clock', () => {
    expect(gain(resolveHour(rig(), 12.5), 'street')).toBe(0);
    expect(gain(resolveHour(rig(), 1), 'street')).toBeCloseTo(1, 6);
  });

  it('are blended between timed cues by nearness, and through a fade', () => {
    const own = rig();
    const [a, b] = [own.cues[0]!, own.cues[1]!];
    const middle = (a.hour + b.hour) / 2;
    expect(gain(resolveHour(own, middle), 'hall')).toBeCloseTo(0.75, 6);
    const fade = fadeLighting(resolveCue(own, a), resolveCue(own, b), 0.2);
    expect(gain(fade, 'hall')).toBeCloseTo(0.9, 6);
  });

  it('a tint has the hue alone: the luminance stays that of the level', () => {
    const own = rig();
    own.cues[0]!.holds.dimmers = { hall: { on: true, level: 0.7, tint: '#3060ff' } };
    expect(gain(resolveCue(own, own.cues[0]!), 'hall')).toBeCloseTo(0.7, 6);
  });
});

describe('lamps in a rig', () => {
  const bad = (change: (rig: Rig) => void) => () => {
    const rig = defaultRig();
    rig.circuits = [{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }];
    rig.lamps = [lampWith({ id: 'a', circuitId: 'c' }), lampWith({ id: 'b', circuitId: 'c' })];
    change(rig);
    checkRig(rig);
  };

  it('are refused by name and place where a value or a reference is wrong', () => {
    expect(bad(() => undefined)).not.toThrow();
    expect(bad((r) => void (r.lamps[1]!.at = [0, NaN, 0]))).toThrow(/"lamps\[1\]\.at\[1\]"/);
    expect(bad((r) => void (r.lamps[1]!.shape = { kind: 'spot', radiusM: 0, innerDeg: 40, outerDeg: 20, softness: 0 }))).toThrow(
      /lamps\[1\]/,
    );
    expect(bad((r) => void (r.lamps[0] = null as unknown as Rig['lamps'][number]))).toThrow(/"lamps\[0\]" must be of type object/);
    expect(bad((r) => void (r.lamps[1]!.id = 'a'))).toThrow(/duplicate/);
    expect(bad((r) => void (r.lamps[0]!.circuitId = 'x'))).toThrow(/"A" is in a circuit "x" that is not there/);
    expect(bad((r) => void (r.lamps[0]!.shape = { kind: 'measured', radiusM: 0, profileId: 'none' }))).toThrow(
      /profile "none" that is not there/,
    );
    expect(
      bad(
        (r) =>
          void (r.placed = [
            {
              id: 'p',
              name: 'P',
              fixtureId: 'f',
              at: [0, 0, 0],
              turnDeg: 0,
              tiltDeg: 0,
              rollDeg: 0,
              object: null,
              level: 1,
              circuitId: null,
            },
          ]),
      ),
    ).toThrow(/fixture "f" that is not there/);
    expect(bad((r) => void (r.cues[0]!.holds.dimmers = { x: { on: true, level: 1, tint: '#ffffff' } }))).toThrow(/dims a circuit "x"/);
    expect(bad((r) => void (r.profiles = [{ id: 'p', name: 'P', ies: 'nothing' }]))).toThrow(/profile "P" cannot be read: .*TILT/);
    expect(
      bad(
        (r) =>
          void (r.glows = [
            { ...glow('a', 'glass', null), objects: ['Post 1', 'Post 2'] },
            { ...glow('b', 'glass', null), objects: ['Post 2'] },
          ]),
      ),
    ).toThrow(/"glass" glows by two rules on one object/);
    expect(bad((r) => void (r.glows = [glow('a', 'glass', 'x')]))).toThrow(/glow of "glass" is in a circuit "x"/);
  });

  it('that are frozen are checked once, and a changed copy again', () => {
    const lamp = Object.freeze(lampWith({ circuitId: null }));
    const rig = { ...defaultRig(), lamps: [lamp] };
    expect(checkRig(rig).lamps[0]).toEqual(lamp);
    expect(() => checkRig({ ...rig, lamps: [{ ...lamp, kept: 'some' as 'all' }] })).toThrow(/lamps\[0\]\.kept/);
    // What lies in a thing that is checked once is named by its whole place.
    const wrong = { id: 'r', by: 'object', name: 'Wall', as: 'own', role: { ...PLAIN_ROLE, drawn: 'no' } };
    expect(() => checkRig({ ...rig, roles: [wrong] } as unknown as Rig)).toThrow(/"roles\[0\]\.role\.drawn" must be/);
    expect(() => checkRig({ ...rig, roles: [{ ...wrong, role: undefined }] } as unknown as Rig)).toThrow(/"roles\[0\]\.role" is required/);
  });

  it('were in fixtures without models in version 4', () => {
    const old = { ...defaultRig(), version: 4, fixtures: [{ id: 'f', name: 'F', lamps: [lampWith()] }] };
    expect(readRig(old).fixtures).toEqual([{ id: 'f', name: 'F', lamps: [lampWith()], model: null, without: [] }]);
  });

  it('of version 3 there were none', () => {
    const three: Partial<Rig> = { ...defaultRig() };
    for (const part of ['lamps', 'fixtures', 'placed', 'circuits', 'profiles', 'liveLamps'] as const) delete three[part];
    expect(readRig({ ...three, version: 3 })).toMatchObject({ version: RIG_VERSION, lamps: [], circuits: [], liveLamps: 4 });
  });
});
