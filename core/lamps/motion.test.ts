import fc from 'fast-check';
import { lampWith } from '../../tests/lib/lamps';
import { lampFrame, motionPeriod, movedLamp, type LampMotion } from '.';

const north = lampWith({ at: [1, 2, 3], aim: { azimuthDeg: 0, elevationDeg: -20, rollDeg: 0 }, kept: 'nothing' });
const close = (a: readonly number[], b: readonly number[]) => a.forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 6));

describe('a lamp that turns', () => {
  const sweep = (angleDeg: number): LampMotion => ({ as: 'sweep', phase: 0, angleDeg, periodS: 8 });
  const azimuthAt = (angleDeg: number, seconds: number) => movedLamp({ ...north, motion: sweep(angleDeg) }, seconds).aim.azimuthDeg;

  it('goes clockwise by half its angle in a quarter of its period, back, and to the other side', () => {
    expect(azimuthAt(90, 0)).toBeCloseTo(0, 6);
    expect(azimuthAt(90, 2)).toBeCloseTo(45, 6);
    expect(azimuthAt(90, 4)).toBeCloseTo(0, 6);
    expect(azimuthAt(90, 6)).toBeCloseTo(315, 6);
  });

  it('goes round at one speed where its angle is 360', () => {
    expect([1, 2, 3, 7].map((s) => Math.round(azimuthAt(360, s)))).toEqual([45, 90, 135, 315]);
  });

  it('keeps its tilt and its place', () => {
    const moved = movedLamp({ ...north, motion: sweep(120) }, 1.3);
    expect(moved.aim.elevationDeg).toBeCloseTo(-20, 6);
    expect(moved.at).toEqual(north.at);
  });

  it('is ahead by its phase', () => {
    expect(movedLamp({ ...north, motion: { ...sweep(90), phase: 0.25 } }, 0).aim.azimuthDeg).toBeCloseTo(45, 6);
  });
});

describe('a lamp that swings', () => {
  const motion: LampMotion = { as: 'swing', phase: 0, lengthM: 2, angleDeg: 30, azimuthDeg: 90 };
  const hanging = lampWith({ at: [0, 4, 0], kept: 'nothing', motion });

  it('does so in the time of a pendulum: about two seconds for one metre', () => {
    expect(motionPeriod({ ...motion, lengthM: 1 })).toBeCloseTo(2.00641, 4);
  });

  it('stays as far from what it hangs from, and shines along its chain', () => {
    for (const share of [0, 0.1, 0.25, 0.6, 0.75]) {
      const { at, aim } = movedLamp(hanging, share * motionPeriod(motion));
      const chain = [at[0], at[1] - 6, at[2]];
      expect(Math.hypot(...chain)).toBeCloseTo(2, 9);
      close(
        lampFrame(aim).forward,
        chain.map((v) => v / 2),
      );
    }
  });

  it('is out towards its azimuth by the sine of its angle at a quarter', () => {
    close(movedLamp(hanging, motionPeriod(motion) / 4).at, [1, 4 + 2 * (1 - Math.cos(Math.PI / 6)), 0]);
  });
});

describe('a lamp on a path', () => {
  const motion: LampMotion = {
    as: 'path',
    phase: 0,
    through: [
      [4, 0, 0],
      [4, 0, 3],
    ],
    ends: 'back',
    speedMps: 2,
  };
  const at = (change: Partial<typeof motion>, seconds: number) =>
    movedLamp(lampWith({ at: [10, 1, 0], kept: 'nothing', motion: { ...motion, ...change } }), seconds).at;

  it('goes at its speed, and back the way it came', () => {
    expect(motionPeriod(motion)).toBe(7);
    close(at({}, 0), [10, 1, 0]);
    close(at({}, 1), [12, 1, 0]);
    close(at({}, 3), [14, 1, 2]);
    close(at({}, 3.5), [14, 1, 3]);
    close(at({}, 4), [14, 1, 2]);
  });

  it('goes round to where it began', () => {
    expect(motionPeriod({ ...motion, ends: 'round' })).toBe(6);
    close(at({ ends: 'round' }, 4.75), [12, 1, 1.5]);
  });

  it('stands where its points are all in one place', () => {
    close(at({ through: [[0, 0, 0]] }, 5), [10, 1, 0]);
  });
});

it('is where it was after a period, whatever it does', () => {
  const phase = fc.double({ min: 0, max: 1, noNaN: true });
  const metres = fc.double({ min: -20, max: 20, noNaN: true });
  const motions = fc.oneof(
    fc.record({
      as: fc.constant('sweep' as const),
      phase,
      angleDeg: fc.integer({ min: 0, max: 360 }),
      periodS: fc.integer({ min: 1, max: 60 }),
    }),
    fc.record({
      as: fc.constant('swing' as const),
      phase,
      lengthM: fc.integer({ min: 1, max: 9 }),
      angleDeg: fc.integer({ min: 0, max: 80 }),
      azimuthDeg: fc.integer({ min: 0, max: 360 }),
    }),
    fc.record({
      as: fc.constant('path' as const),
      phase,
      through: fc.array(fc.tuple(metres, metres, metres), { minLength: 1, maxLength: 6 }),
      ends: fc.constantFrom('back' as const, 'round' as const),
      speedMps: fc.integer({ min: 1, max: 9 }),
    }),
  );
  fc.assert(
    fc.property(motions, fc.double({ min: 0, max: 100, noNaN: true }), (motion, seconds) => {
      const lamp = lampWith({ aim: { azimuthDeg: 30, elevationDeg: -40, rollDeg: 10 }, kept: 'nothing', motion });
      const period = motionPeriod(motion);
      fc.pre(period > 1e-3);
      const [now, then] = [movedLamp(lamp, seconds), movedLamp(lamp, seconds + period)];
      now.at.forEach((v, c) => expect(v).toBeCloseTo(then.at[c]!, 4));
      lampFrame(now.aim).forward.forEach((v, c) => expect(v).toBeCloseTo(lampFrame(then.aim).forward[c]!, 4));
    }),
  );
});
