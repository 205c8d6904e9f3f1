import { OrthographicCamera, PerspectiveCamera } from 'three';
import { heightOn, onLevelPlane, pointOnLine } from './places';

const eye = new PerspectiveCamera(90, 1, 0.1, 100);
eye.position.set(0, 2, 0);
eye.updateMatrixWorld();
const plan = new OrthographicCamera(-10, 10, 10, -10, 0.1, 100);
plan.position.set(0, 50, 0);
plan.up.set(0, 0, -1);
plan.lookAt(0, 0, 0);
plan.updateMatrixWorld();
const close = (a: readonly number[] | null, b: readonly number[]) => a!.forEach((v, c) => expect(v).toBeCloseTo(b[c]!, 6));

it('a place of the picture looks at each level plane, and not at what lies behind or along it', () => {
  // Half a right angle down from two metres up.
  close(onLevelPlane(eye, 0, 0, -1), [0, 0, -2]);
  close(onLevelPlane(eye, 1, 0, -1), [0, 1, -1]);
  expect(onLevelPlane(eye, 0, 0, 0.5)).toBeNull();
  expect(onLevelPlane(eye, 2, 0, 0)).toBeNull();
  close(onLevelPlane(plan, 3, 0.5, 0.25), [5, 3, -2.5]);
});

it('a line is met where the look comes nearest', () => {
  close(pointOnLine(eye, [0, 0, -4], [0, 1, 0], 0, 0.5), [0, 4, -4]);
  close(pointOnLine(eye, [0, 2, -4], [1, 0, 0], 0.25, 0), [1, 2, -4]);
  expect(pointOnLine(eye, [0, 2, -4], [0, 0, 1], 0, 0)).toBeNull();
  close(pointOnLine(plan, [0, 7, 2], [1, 0, 0], -0.3, 0), [-3, 7, 2]);
});

it('an upright wall is met at a height', () => {
  expect(heightOn(eye, [0, 0, -4], 0, 0.5)).toBeCloseTo(4, 6);
  expect(heightOn(eye, [0, 0, 4], 0, 0.5)).toBeNull();
});
