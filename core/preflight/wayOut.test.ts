import type { Vec3 } from '../units';
import { wayOut, type SurfaceCast } from '.';

/** What is met of a box from -1 to 1, from inside or outside. */
const box: SurfaceCast = (from, direction) => {
  let [enter, leave] = [-Infinity, Infinity];
  for (let c = 0; c < 3; c++) {
    const [a, b] = [(-1 - from[c]!) / direction[c]!, (1 - from[c]!) / direction[c]!];
    enter = Math.max(enter, Math.min(a, b));
    leave = Math.min(leave, Math.max(a, b));
  }
  if (leave < Math.max(enter, 0)) return null;
  return enter > 0 ? { distanceM: enter, back: false } : { distanceM: leave, back: true };
};
const outside = (at: Vec3) => Math.hypot(...at.map((v) => Math.max(0, Math.abs(v) - 1)));

it.each([[[0.2, 0.9, 0.1]], [[0, 0, -0.4]], [[1.05, 0, 0]], [[0.3, 1.001, 0.3]]] as [Vec3][])(
  'a lamp at %j comes to stand off the surface',
  (at) => {
    const place = wayOut(at, 0.3, box)!;
    expect(outside(place)).toBeGreaterThan(0.28);
    // And not farther than it has to.
    expect(Math.hypot(...place.map((v, c) => v - at[c]!))).toBeLessThan(1.05);
  },
);

it('a lamp that stands well stays, and between two near walls there is no place', () => {
  expect(wayOut([0, 2, 0], 0.3, box)).toEqual([0, 2, 0]);
  const gap: SurfaceCast = (from, [x]) => (x === 0 ? null : { distanceM: ((x > 0 ? 0.1 : -0.1) - from[0]) / x, back: false });
  expect(wayOut([0, 0, 0], 0.3, gap)).toBeNull();
});
