import { PLAIN_ROLE } from '../../roles';
import type { Lamp } from '../../lamps';
import { glow, lampWith } from '../../../tests/lib/lamps';
import { luminance } from '../../units';
import {
  checkRig,
  defaultRig,
  fadeLighting,
  gainOfLamp,
  lampDelay,
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
    const evening: CircuitRule = { by: 'hours', from: { at: 'sunset', plusH: -0.5 }, to: { at: 'hour', hour: 23 }, apartMin: 0 };
    expect([17, 17.6, 22.9, 23, 2].map((h) => burns(evening, h))).toEqual([false, true, true, false, false]);
    const night: CircuitRule = { by: 'hours', from: { at: 'sunset', plusH: 0.25 }, to: { at: 'sunrise', plusH: -0.25 }, apartMin: 0 };
    expect([18.2, 18.3, 0, 5.7, 5.8].map((h) => burns(night, h))).toEqual([false, true, true, true, false]);
  });

  it('that wait for a sunset burn through a polar night, and not through a polar day', () => {
    const night: CircuitRule = { by: 'hours', from: { at: 'sunset', plusH: 0 }, to: { at: 'sunrise', plusH: 0 }, apartMin: 0 };
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

  describe('whose lamps go on one after another', () => {
    const ids = Array.from({ length: 40 }, (_, i) => `post-${i}`);
    const evening = (apartMin: number, change: (rig: Rig) => void = () => undefined) => {
      const own = rig();
      own.cues = [own.cues[0]!];
      own.cues[0]!.holds.dimmers = {};
      own.circuits[0]!.rule = { by: 'hours', from: { at: 'hour', hour: 18 }, to: { at: 'hour', hour: 23 }, apartMin };
      own.lamps = ids.map((id) => lampWith({ id, circuitId: 'street' }));
      change(own);
      return own;
    };
    const street = (own: Rig, hour: number) => resolveHour(own, hour).circuits.find((c) => c.id === 'street')!;

    it('burn from the first at the moment to the last after so many minutes, and go out alike', () => {
      const own = evening(30);
      const share = (hour: number) => luminance(street(own, hour).gain);
      expect([17.99, 18.5, 22.99, 23.5].map((h) => Number(share(h).toFixed(6)))).toEqual([0, 1, 1, 0]);
      expect(share(18.25)).toBeGreaterThan(0.25);
      expect(share(18.25)).toBeLessThan(0.75);
      expect(share(23.25)).toBeCloseTo(1 - share(18.25), 6);
      for (let hour = 18; hour < 18.5; hour += 0.05) expect(share(hour + 0.05)).toBeGreaterThanOrEqual(share(hour) - 1e-9);
    });

    it('each burn by themselves, and the circuit by the share of its flux that burns', () => {
      const own = evening(30, (r) => void (r.lamps[3]!.output = { by: 'lumens', lumens: 3000 }));
      const circuit = street(own, 18.25);
      const burning = own.lamps.filter((l) => luminance(gainOfLamp(circuit, l.id)) > 0.5);
      expect(burning.map((l) => l.id)).toEqual(ids.filter((id) => lampDelay(id) <= 0.5));
      const flux = (lamps: typeof burning) => lamps.reduce((sum, l) => sum + (l.output as { lumens: number }).lumens, 0);
      expect(luminance(circuit.gain)).toBeCloseTo(flux(burning) / flux(own.lamps), 6);
    });

    it('are all alike without minutes, where a cue dims them, and before and after', () => {
      expect(street(evening(0), 18.25).lamps).toBeUndefined();
      expect(street(evening(30), 20).lamps).toBeUndefined();
      const held = evening(30, (r) => void (r.cues[0]!.holds.dimmers = { street: { on: true, level: 0.5, tint: '#ffffff' } }));
      expect(street(held, 18.25).lamps).toBeUndefined();
      expect(luminance(street(held, 18.25).gain)).toBeCloseTo(0.5, 6);
    });

    it('each go through a fade by themselves', () => {
      const own = evening(30);
      const to = resolveHour(own, 20);
      const faded = fadeLighting(resolveHour(own, 18.25), to, 0.5).circuits.find((c) => c.id === 'street')!;
      for (const id of ids) expect(luminance(gainOfLamp(faded, id))).toBeCloseTo(lampDelay(id) <= 0.5 ? 1 : 0.5, 6);
    });
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

  it('that move keep nothing in a bake', () => {
    const motion = { as: 'sweep', phase: 0, angleDeg: 90, periodS: 4 } as const;
    expect(bad((r) => void Object.assign(r.lamps[1]!, { motion, kept: 'nothing' }))).not.toThrow();
    expect(bad((r) => void (r.lamps[1]!.motion = motion))).toThrow(/"lamps\[1\]\.kept" must be "nothing" for a lamp that moves/);
  });

  it('stood still up to version 16, and those of a circuit went on together', () => {
    const still: Partial<Lamp> = lampWith({ circuitId: 'c' });
    delete still.motion;
    const rule = { by: 'hours', from: { at: 'sunset', plusH: 0 }, to: { at: 'hour', hour: 23 } };
    const circuit = { id: 'c', name: 'C', rule, bounce: 1, flicker: null };
    const fixture = { id: 'f', name: 'F', lamps: [{ ...still, circuitId: null }], model: null, without: [] };
    const rig = readRig({ ...defaultRig(), version: 16, lamps: [still], circuits: [circuit], fixtures: [fixture] });
    expect([rig.lamps[0]!.motion, rig.fixtures[0]!.lamps[0]!.motion]).toEqual([null, null]);
    expect(rig.circuits[0]!.rule).toEqual({ ...rule, apartMin: 0 });
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
