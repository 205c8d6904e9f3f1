import type { Surfaces } from '../level';
import type { Vantage } from '../rig';
import { DEG, type Vec3 } from '../units';

/**
 * Directions of the points of a picture from a vantage: unit vectors, by how far a point lies from the left and from the top, 0..1.
 *
 * @param aspect of the picture, width over height; the vantage's angle is that of its height
 */
export function directionsOf({ eye, target, fovDeg }: Vantage, aspect: number): (x: number, y: number) => Vec3 {
  const forward = unit([target[0] - eye[0], target[1] - eye[1], target[2] - eye[2]]);
  const right = unit(cross(forward, Math.abs(forward[1]) > 0.999 ? [0, 0, 1] : [0, 1, 0]));
  const up = cross(right, forward);
  const tangent = Math.tan((fovDeg / 2) * DEG);
  return (x, y) => {
    const [sx, sy] = [(x * 2 - 1) * tangent * aspect, (1 - y * 2) * tangent];
    return unit([0, 1, 2].map((c) => forward[c]! + right[c]! * sx + up[c]! * sy));
  };
}

function unit(v: readonly number[]): Vec3 {
  const length = Math.hypot(...v) || 1;
  return [v[0]! / length, v[1]! / length, v[2]! / length];
}

const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];

/** The lightmap coordinate, 0..1, of a point of a triangle. */
export function lightmapAt({ lightmapUv, indices }: Surfaces, triangle: number, u: number, v: number): [x: number, y: number] {
  const corner = (k: number, c: number) => lightmapUv[indices[triangle * 3 + k]! * 2 + c]!;
  const along = (c: number) => corner(0, c) * (1 - u - v) + corner(1, c) * u + corner(2, c) * v;
  return [along(0), along(1)];
}
