import type { StrollPlace } from '../../core/rig';
import { withoutStanding } from './record';

const at = (atS: number, x: number): StrollPlace => ({ atS, eye: [x, 1.65, 0], target: [x, 1.65, -12] });

it('a walk that was recorded begins and ends where one moved', () => {
  const walk = [at(0, 0), at(1, 0), at(2, 1), at(3, 2), at(4, 2), at(5, 3), at(6, 4), at(7, 4), at(8, 4)];
  expect(withoutStanding(walk)).toEqual(walk.slice(1, 7));
  expect(withoutStanding([at(0, 0), at(1, 0)])).toEqual([]);
  expect(withoutStanding([])).toEqual([]);
});
