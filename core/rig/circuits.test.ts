import { luminance } from '../units';
import { defaultRig, fadeLighting, resolveCue, resolveHour, ruleBurns, sunHours, type CircuitRule, type Lighting, type Rig } from './index';

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
      { id: 'street', name: 'Street', rule: { by: 'darkness', belowLux: 50 }, glows: [] },
      { id: 'hall', name: 'Hall', rule: { by: 'off' }, glows: [] },
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
