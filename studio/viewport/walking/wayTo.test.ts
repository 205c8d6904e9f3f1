import type { Vec3 } from '../../../core/units';
import { ground, solidOf } from '../../../tests/lib/solid';
import { EYE_M } from './walker';
import { placesAlong, wayTo } from './wayTo';

describe('a way that is drawn', () => {
  it('goes straight to a place, at the speed that is set, with the eye over the floor', () => {
    const { eyes, feet, leftM } = wayTo(solidOf(ground()), [0, 0, 0], [6, 0, 0], 2, false)!;
    expect(leftM).toBe(0);
    expect(feet[0]).toBeCloseTo(6, 1);
    // Tenths of a second: 3 s, and some for the last centimetres.
    expect(eyes.length).toBeGreaterThanOrEqual(31);
    expect(eyes.length).toBeLessThan(35);
    expect(eyes[0]).toEqual([0, EYE_M.standing, 0]);
    expect(eyes[10]).toEqual([expect.closeTo(2, 2), expect.closeTo(EYE_M.standing, 3), expect.closeTo(0, 5)]);
  });

  it('climbs steps, and ends at a wall with what is left of it', () => {
    const stairs = ground();
    for (let k = 0; k < 5; k++) stairs.box([2 + k * 0.3, 0, -2], [8, 0.2 * (k + 1), 2]);
    const up = wayTo(solidOf(stairs), [0, 0, 0], [6, 1, 0], 2, false)!;
    expect(up.leftM).toBe(0);
    expect(up.feet[1]).toBeCloseTo(1, 3);
    expect(up.higherM).toBeCloseTo(0, 3);
    const stopped = wayTo(solidOf(ground().box([2, 0, -20], [2.3, 3, 20])), [0, 0, 0], [6, 0, 0], 2, false)!;
    expect(stopped.feet[0]).toBeLessThan(1.9);
    expect(stopped.leftM).toBeGreaterThan(4);
    // Under a place on a roof one is beside it.
    expect(wayTo(solidOf(ground()), [0, 0, 0], [3, 4, 0], 2, false)!.higherM).toBeCloseTo(4, 3);
  });

  it('begins nowhere where there is no floor', () => {
    expect(wayTo(solidOf(ground()), [100, 0, 0], [6, 0, 0], 2, false)).toBeNull();
  });

  it('looks where it goes a moment later, and on as before at its end', () => {
    const eyes = Array.from({ length: 31 }, (_, i): Vec3 => (i <= 15 ? [i * 0.2, 1.65, 0] : [3, 1.65, (i - 15) * 0.2]));
    const places = placesAlong(eyes);
    const headingOf = (i: number) => Math.atan2(places[i]!.target[2] - places[i]!.eye[2], places[i]!.target[0] - places[i]!.eye[0]);
    expect(places[30]!.atS).toBeCloseTo(3, 9);
    expect(headingOf(0)).toBeCloseTo(0, 6);
    expect(headingOf(9)).toBeGreaterThan(0.4);
    expect(headingOf(9)).toBeLessThan(1);
    expect(headingOf(16)).toBeCloseTo(Math.PI / 2, 6);
    expect(headingOf(30)).toBeCloseTo(Math.PI / 2, 6);
  });
});
