import fc from 'fast-check';
import {
  blendShare,
  checkRig,
  defaultRig,
  heldBetween,
  incidentEv,
  neighbours,
  resolveCue,
  resolveHour,
  rigOnDay,
  timedCue,
  type Holds,
  type Lighting,
  type Rig,
} from '..';
import { DEFAULT_CLOUDS, fixedExposure } from '../document/defaults';
import { luminance } from '../../units';

const twoCues = (smoothness: number, a: Holds = {}, b: Holds = {}): Rig => {
  const rig = defaultRig();
  rig.day.smoothness = smoothness;
  rig.cues = [timedCue('a', 'A', 10, 14), timedCue('b', 'B', 14, 14)];
  Object.assign(rig.cues[0]!.holds, a);
  Object.assign(rig.cues[1]!.holds, b);
  return checkRig(rig);
};

describe('the day between two cues', () => {
  it.each([
    [0, 0.49, 0],
    [0, 0.5, 1],
    [1, 0.25, 0.25],
    [1, 0.75, 0.75],
    [0.5, 0.25, 0],
    [0.5, 0.5, 0.5],
    [0.5, 0.625, 0.75],
    [0.5, 0.75, 1],
  ])('at smoothness %d, %d of the way, has %d of the later one', (smoothness, way, share) => {
    expect(blendShare(way, smoothness)).toBeCloseTo(share, 12);
    expect(neighbours(twoCues(smoothness), 10 + 4 * way)!.t).toBeCloseTo(share, 12);
  });

  it('never goes back, and is half at the middle, at any smoothness over 0', () => {
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(unit, unit, fc.double({ min: 1e-6, max: 1, noNaN: true }), (x, y, smoothness) => {
        expect(blendShare(Math.max(x, y), smoothness)).toBeGreaterThanOrEqual(blendShare(Math.min(x, y), smoothness));
        expect(blendShare(0.5, smoothness)).toBeCloseTo(0.5, 12);
        expect(blendShare(x, smoothness) + blendShare(1 - x, smoothness)).toBeCloseTo(1, 9);
      }),
    );
  });

  it('stands still on each side of a switch, while the sun goes on', () => {
    const rig = twoCues(0, { shadeEv: 1, fog: { visibilityM: 400 } }, { shadeEv: -1, fog: { visibilityM: 100 } });
    const seen = (hour: number) => resolveHour(rig, hour).fog!.fog.visibilityM;
    expect([10, 11, 11.99, 12, 13, 14].map(seen)).toEqual([400, 400, 400, 100, 100, 100]);
    expect(resolveHour(rig, 11).suns[0]!.elevationDeg).not.toBeCloseTo(resolveHour(rig, 11.9).suns[0]!.elevationDeg, 1);
    expect(heldBetween(rig, 13).holds.shadeEv).toBe(-1);
  });

  it('at a cue’s hour is what the cue holds, exactly', () => {
    const rig = twoCues(0.7, { fog: { visibilityM: 400 }, sun: { colorK: 4000, elevationDeg: 30 } }, { exposure: fixedExposure(9) });
    for (const cue of rig.cues) {
      const [own, hour] = [resolveCue(rig, cue), resolveHour(rig, cue.hour)];
      expect(hour.suns).toEqual(own.suns);
      expect(hour.exposure).toEqual(own.exposure);
      expect(hour.fog).toEqual(own.fog);
    }
  });

  it('halfway is the mean of each value in its own space', () => {
    const rig = twoCues(
      0.6,
      {
        sun: { illuminanceLux: 80_000, colorK: 6000, azimuthDeg: 350, elevationDeg: 0 },
        fog: { visibilityM: 100 },
        exposure: fixedExposure(14),
      },
      {
        sun: { illuminanceLux: 20_000, colorK: 3000, azimuthDeg: 30, elevationDeg: 0 },
        fog: { visibilityM: 400 },
        exposure: fixedExposure(10),
      },
    );
    const { sun } = heldBetween(rig, 12).holds;
    expect(sun!.illuminanceLux).toBeCloseTo(50_000, 3);
    // In mired: the mean of 166.7 and 333.3 is 250.
    expect(sun!.colorK).toBeCloseTo(4000, 3);
    // On the circle, not through the south.
    expect(sun!.azimuthDeg).toBeCloseTo(10, 6);
    // By ratio.
    expect(resolveHour(rig, 12).fog!.fog.visibilityM).toBeCloseTo(200, 6);
  });
});

/** Numbers of a lighting that people see: light in stops, so that dark hours count as bright ones do. */
function numbersOf(lighting: Lighting): number[] {
  const stops = (v: number) => Math.log2(Math.max(1e-4, v));
  return [
    incidentEv(lighting),
    ...Object.values(lighting.exposure),
    ...lighting.circuits.flatMap(({ gain }) => gain),
    ...Object.values(lighting.mix).flat(),
    ...lighting.suns.filter(({ illuminance }) => luminance(illuminance) > 0.01).flatMap(({ direction }) => direction.slice(0, 2)),
    stops(1 / (lighting.fog?.fog.visibilityM ?? 1e6)),
    lighting.water?.levelM ?? 0,
    lighting.grade.contrast.amount,
    lighting.grade.nightVision,
    lighting.weather?.rainMmH ?? 0,
    lighting.stars.weight,
  ];
}

describe('a day scrubbed across midnight', () => {
  const part = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined });
  const real = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  const holds = fc.record({
    sun: part(fc.record({ illuminanceLux: real(1, 1e5), colorK: real(2000, 9000) })),
    exposure: part(real(-2, 15).map(fixedExposure)),
    fog: part(fc.record({ visibilityM: real(20, 5000) })),
    shadeEv: part(real(-2, 2)),
    clouds: part(real(0, 1).map((cover) => ({ ...DEFAULT_CLOUDS, cover }))),
    water: part(fc.record({ levelM: real(-2, 2) })),
    weather: part(fc.record({ rateMmH: real(0, 20), windMps: real(0, 10) })),
    dimmers: part(real(0, 2).map((level) => ({ posts: { on: true, level, tint: '#ffcc99' } }))),
    grade: part(fc.record({ nightVision: real(0, 1) })),
  });
  const rigs = fc
    .record({
      hours: fc.uniqueArray(fc.integer({ min: 2, max: 46 }), { minLength: 1, maxLength: 5 }),
      held: fc.array(holds, { minLength: 5, maxLength: 5 }),
      smoothness: real(0.05, 1),
      date: fc.integer({ min: 0, max: 364 }),
    })
    .map(({ hours, held, smoothness, date }): Rig => {
      const rig = defaultRig();
      rig.circuits = [{ id: 'posts', name: 'Posts', rule: { by: 'on' }, bounce: 1, flicker: null }];
      rig.day.smoothness = smoothness;
      // Water that one side alone has is there or not, as objects are: all have some here.
      rig.water.levelM = -1;
      rig.cues = hours.map((halves, i) => ({
        ...timedCue(`c${i}`, `C ${i}`, halves / 2, 12),
        holds: Object.fromEntries(Object.entries(held[i]!).filter(([, v]) => v !== undefined)) as Holds,
      }));
      return checkRig(rigOnDay(rig, date));
    });

  it('has no jump in any value', () => {
    const step = 2e-5;
    fc.assert(
      fc.property(rigs, (rig) => {
        const [before, after] = [resolveHour(rig, 24 - step), resolveHour(rigOnDay(rig, 1), step)].map(numbersOf) as [number[], number[]];
        expect(after).toHaveLength(before.length);
        before.forEach((value, i) => expect(Math.abs(after[i]! - value)).toBeLessThan(0.02 + 1e-3 * Math.abs(value)));
      }),
      { numRuns: 60 },
    );
  });
});
