import type { Vec3 } from '../units';

/**
 * An object by the corners of its triangles in the order that they were made, XYZ metres in the level, and what each of its parts is made
 * of: two copies of one mesh have corresponding corners, wherever they stand.
 */
export interface Shape {
  corners: Float32Array;
  /** Names of the materials of its parts and how many corners each has, in order. */
  made: string;
}

/** How a shape lies that is another one moved, turned and scaled: p becomes `to` + scale x axes (p - from), the axes as columns. */
export interface Pose {
  from: Vec3;
  to: Vec3;
  scale: number;
  axes: [Vec3, Vec3, Vec3];
}

/** Corners may stray by this share of the object's size, and copies be scaled by this much either way. */
const STRAY = 0.01;
const MOST_SCALE = 4;
/** Corners that are compared, at most. */
const COMPARED = 600;

const cornerOf = ({ corners }: Shape, i: number): Vec3 => [corners[i * 3]!, corners[i * 3 + 1]!, corners[i * 3 + 2]!];
const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const unit = (v: Vec3): Vec3 => {
  const length = Math.hypot(...v);
  return [v[0] / length, v[1] / length, v[2] / length];
};

/** Three corners far apart, by their numbers; null where all lie on a line. */
function farApart(shape: Shape): [number, number, number] | null {
  const count = shape.corners.length / 3;
  const farthest = (distance: (p: Vec3) => number) => {
    let [best, at] = [0, -1];
    for (let i = 0; i < count; i++) {
      const d = distance(cornerOf(shape, i));
      if (d > best) [best, at] = [d, i];
    }
    return { at, best };
  };
  const first = cornerOf(shape, 0);
  const a = farthest((p) => Math.hypot(...minus(p, first)));
  if (a.at < 0) return null;
  const end = cornerOf(shape, a.at);
  const b = farthest((p) => Math.hypot(...minus(p, end)));
  const along = unit(minus(cornerOf(shape, b.at), end));
  const c = farthest((p) => Math.hypot(...cross(minus(p, end), along)));
  return c.best > b.best * 1e-4 ? [a.at, b.at, c.at] : null;
}

/** Axes of three corners: along the first two, square to all three, and square to both. */
function frameOf(shape: Shape, [a, b, c]: readonly [number, number, number]): [Vec3, Vec3, Vec3] {
  const x = unit(minus(cornerOf(shape, b), cornerOf(shape, a)));
  const z = unit(cross(x, minus(cornerOf(shape, c), cornerOf(shape, a))));
  return [x, cross(z, x), z];
}

/** A point as a pose moves it. */
export const movedBy = ({ from, to, scale, axes }: Pose, point: Vec3): Vec3 => {
  const turned = turnedBy({ axes }, minus(point, from));
  return [to[0] + scale * turned[0], to[1] + scale * turned[1], to[2] + scale * turned[2]];
};

/** A direction as a pose turns it. */
export const turnedBy = ({ axes: [x, y, z] }: Pick<Pose, 'axes'>, v: Vec3): Vec3 =>
  [0, 1, 2].map((c) => x[c]! * v[0] + y[c]! * v[1] + z[c]! * v[2]) as Vec3;

/** The pose that makes one shape of another, corner by corner; null where it is another shape, of other materials, mirrored or stretched. */
export function poseOf(first: Shape, second: Shape): Pose | null {
  if (first.made !== second.made || first.corners.length !== second.corners.length) return null;
  const three = farApart(first);
  if (!three) return null;
  const [a, b] = three;
  const [sizeA, sizeB] = [first, second].map((s) => Math.hypot(...minus(cornerOf(s, b), cornerOf(s, a)))) as [number, number];
  const scale = sizeB / sizeA;
  if (!(scale < MOST_SCALE && scale > 1 / MOST_SCALE)) return null;
  const [f, g] = [frameOf(first, three), frameOf(second, three)];
  // Columns of G x F^T: what turns the first frame to the second.
  const axes = [0, 1, 2].map((c) => [0, 1, 2].map((r) => f.reduce((sum, axis, k) => sum + g[k]![r]! * axis[c]!, 0))) as Pose['axes'];
  const pose: Pose = { from: cornerOf(first, a), to: cornerOf(second, a), scale, axes };
  const count = first.corners.length / 3;
  const step = Math.max(1, Math.floor(count / COMPARED));
  for (let i = 0; i < count; i += step) {
    const stray = Math.hypot(...minus(movedBy(pose, cornerOf(first, i)), cornerOf(second, i)));
    if (!(stray <= STRAY * sizeB)) return null;
  }
  return Math.abs(dot(cross(axes[0], axes[1]), axes[2]) - 1) < 1e-3 ? pose : null;
}
