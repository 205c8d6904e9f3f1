import { Raycaster, Vector2, Vector3, type Camera, type Ray } from 'three';
import type { Vec3 } from '../../../core/units';

/** Nothing is dragged farther from the eye than this, metres. */
const FARTHEST_M = 1000;

/** What a camera looks along at a place of its picture, -1..1 each way. */
function lookAt(camera: Camera, x: number, y: number): Ray {
  const caster = new Raycaster();
  caster.setFromCamera(new Vector2(x, y), camera);
  return caster.ray;
}

/** What a place of the picture looks at in the level plane of a height, metres; null where it looks past it, or nearly along it. */
export function onLevelPlane(camera: Camera, heightM: number, x: number, y: number): Vec3 | null {
  const { origin, direction } = lookAt(camera, x, y);
  const t = (heightM - origin.y) / direction.y;
  return t > 0 && t < FARTHEST_M ? (origin.addScaledVector(direction, t).toArray() as Vec3) : null;
}

/** The point of a line nearest to what a place of the picture looks along; null where it looks along the line. */
export function pointOnLine(camera: Camera, through: Vec3, axis: Vec3, x: number, y: number): Vec3 | null {
  const { origin, direction } = lookAt(camera, x, y);
  const line = new Vector3(...axis);
  const from = new Vector3(...through).sub(origin);
  const cos = line.dot(direction);
  const square = 1 - cos * cos;
  if (square < 1e-4) return null;
  const t = (cos * direction.dot(from) - line.dot(from)) / square;
  return Math.abs(t) < FARTHEST_M ? (new Vector3(...through).addScaledVector(line, t).toArray() as Vec3) : null;
}

/** Height at which a place of the picture lies on an upright wall through a point, facing the eye; null where it looks past it. */
export function heightOn(camera: Camera, through: Vec3, x: number, y: number): number | null {
  const { origin, direction } = lookAt(camera, x, y);
  const away = new Vector3(...through).sub(origin).setY(0);
  const t = away.lengthSq() / away.dot(direction);
  return t > 0 && Number.isFinite(t) ? origin.y + direction.y * t : null;
}
