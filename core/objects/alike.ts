import type { Vec3 } from '../units';

/** Where a shape's own space lies in the level: its axes as columns, of the lengths that it is scaled by, and its origin. */
export interface ShapeFrame {
  axes: [Vec3, Vec3, Vec3];
  at: Vec3;
}

/** An object by the corners of its triangles, in any order. */
export interface Shape {
  /** XYZ in the level, metres. */
  corners: Float32Array;
  /** Names of its materials and how many corners each has, in order of the names. */
  made: string;
  frame: ShapeFrame | null;
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
const COMPARED = 400;
/** Corners that a shape may have to be looked through for turns that its frame does not tell, and turns that are tried, at most. */
const MOST_LOOKED = 60_000;
const MOST_TRIED = 3000;

const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const times = (v: Vec3, s: number): Vec3 => [v[0] * s, v[1] * s, v[2] * s];
const length = (v: Vec3): number => Math.sqrt(dot(v, v));
const unit = (v: Vec3): Vec3 => times(v, 1 / length(v));

/** A direction as a pose turns it. */
export const turnedBy = ({ axes: [x, y, z] }: Pick<Pose, 'axes'>, v: Vec3): Vec3 =>
  [0, 1, 2].map((c) => x[c]! * v[0] + y[c]! * v[1] + z[c]! * v[2]) as Vec3;

/** A point as a pose moves it. */
export const movedBy = (pose: Pose, point: Vec3): Vec3 => {
  const turned = turnedBy(pose, minus(point, pose.from));
  return [0, 1, 2].map((c) => pose.to[c]! + pose.scale * turned[c]!) as Vec3;
};

/** What of a shape does not change as it is turned, and its corners in an order to be looked through. */
interface Measured {
  count: number;
  middle: Vec3;
  /** Root of the mean square of the corners' distances from the middle, and the greatest of them. */
  size: number;
  reach: number;
  corner(i: number): Vec3;
  /** Whether a corner lies as near to a point as this. */
  has(point: Vec3, within: number): boolean;
  /** Corners each once. */
  welded(): Vec3[];
}

const measured = new WeakMap<Shape, Measured>();

function measure(shape: Shape): Measured {
  const known = measured.get(shape);
  if (known) return known;
  const { corners } = shape;
  const count = corners.length / 3;
  const corner = (i: number): Vec3 => [corners[i * 3]!, corners[i * 3 + 1]!, corners[i * 3 + 2]!];
  const middle: Vec3 = [0, 0, 0];
  for (let i = 0; i < corners.length; i++) middle[i % 3]! += corners[i]! / count;
  let [squares, reach] = [0, 0];
  for (let i = 0; i < count; i++) {
    const d = minus(corner(i), middle);
    squares += dot(d, d);
    reach = Math.max(reach, length(d));
  }
  let byX: Uint32Array | null = null;
  let once: Vec3[] | null = null;
  const own: Measured = {
    count,
    middle,
    size: Math.sqrt(squares / count),
    reach,
    corner,
    has(point, within) {
      byX ??= Uint32Array.from({ length: count }, (_, i) => i).sort((a, b) => corners[a * 3]! - corners[b * 3]!);
      let [low, high] = [0, count];
      while (low < high) {
        const half = (low + high) >> 1;
        if (corners[byX[half]! * 3]! < point[0] - within) low = half + 1;
        else high = half;
      }
      for (; low < count && corners[byX[low]! * 3]! <= point[0] + within; low++)
        if (length(minus(corner(byX[low]!), point)) <= within) return true;
      return false;
    },
    welded() {
      const grid = Math.max(1e-6, own.size * STRAY * 0.1);
      once ??= [
        ...new Map(
          Array.from({ length: count }, (_, i) => corner(i)).map((p) => [p.map((v) => Math.round(v / grid)).join(), p] as const),
        ).values(),
      ];
      return once;
    },
  };
  measured.set(shape, own);
  return own;
}

/** Whether a pose brings the corners of one shape to corners of another. */
function fits(pose: Pose, first: Measured, second: Measured): boolean {
  const step = Math.max(1, Math.floor(first.count / COMPARED));
  const within = STRAY * second.size;
  for (let i = 0; i < first.count; i += step) if (!second.has(movedBy(pose, first.corner(i)), within)) return false;
  return true;
}

/** Columns of G x F^T: what turns the axes F to the axes G, both square and of length one. */
const turnTo = (f: readonly Vec3[], g: readonly Vec3[]): Pose['axes'] =>
  [0, 1, 2].map((c) => [0, 1, 2].map((r) => f.reduce((sum, axis, k) => sum + g[k]![r]! * axis[c]!, 0))) as Pose['axes'];

/** The pose that leads from one frame to another; null where one of them is stretched or mirrored against the other. */
function poseOfFrames(first: ShapeFrame, second: ShapeFrame): Pose | null {
  const [a, b] = [first, second].map(({ axes }) => axes.map(length)) as [number[], number[]];
  const scale = b[0]! / a[0]!;
  if (!a.every((l, k) => Math.abs(b[k]! - scale * l) <= STRAY * b[k]!)) return null;
  const axes = turnTo(first.axes.map(unit), second.axes.map(unit));
  return isTurn(axes) ? { from: first.at, to: second.at, scale, axes } : null;
}

const isTurn = ([x, y, z]: Pose['axes']): boolean => Math.abs(dot(cross(x, y), z) - 1) < 1e-3;

/** Axes of a middle and two points about it; null where all three lie on a line. */
function axesOf(middle: Vec3, a: Vec3, b: Vec3): [Vec3, Vec3, Vec3] | null {
  const [along, aside] = [minus(a, middle), minus(b, middle)];
  const up = cross(along, aside);
  if (length(up) < 1e-4 * length(along) * length(along)) return null;
  const [x, z] = [unit(along), unit(up)];
  return [x, cross(z, x), z];
}

/** Looks for the turn that makes one shape of another by two far corners; of several, the least, as for what looks alike all around. */
function poseBySearch(first: Measured, second: Measured, scale: number): Pose | null {
  if (first.count > MOST_LOOKED) return null;
  const farthest = (of: (p: Vec3) => number) => first.welded().reduce((best, p) => (of(p) > of(best) ? p : best));
  const a = farthest((p) => length(minus(p, first.middle)));
  const b = farthest((p) => length(cross(minus(p, first.middle), minus(a, first.middle))));
  const own = axesOf(first.middle, a, b);
  if (!own) return null;
  const within = STRAY * second.size;
  const alike = (p: Vec3) =>
    second.welded().filter((q) => Math.abs(length(minus(q, second.middle)) - scale * length(minus(p, first.middle))) <= within);
  const [asA, asB] = [alike(a), alike(b)];
  const between = scale * length(minus(a, b));
  let best: { pose: Pose; least: number } | null = null;
  let tried = 0;
  for (const p of asA) {
    for (const q of asB) {
      if (Math.abs(length(minus(p, q)) - between) > 2 * within) continue;
      if (++tried > MOST_TRIED) return best?.pose ?? null;
      const other = axesOf(second.middle, p, q);
      if (!other) continue;
      const axes = turnTo(own, other);
      const least = axes[0][0] + axes[1][1] + axes[2][2];
      const pose: Pose = { from: first.middle, to: second.middle, scale, axes };
      if ((!best || least > best.least + 1e-6) && fits(pose, first, second)) best = { pose, least };
    }
  }
  return best?.pose ?? null;
}

/** The pose that makes one shape of another; null where it is another shape, of other materials, mirrored or stretched. */
export function poseOf(first: Shape, second: Shape): Pose | null {
  if (first.made !== second.made || first.corners.length !== second.corners.length || first.corners.length === 0) return null;
  const [a, b] = [measure(first), measure(second)];
  const scale = b.size / a.size;
  if (!(scale < MOST_SCALE && scale > 1 / MOST_SCALE)) return null;
  if (Math.abs(b.reach - scale * a.reach) > STRAY * b.reach) return null;
  const framed = first.frame && second.frame && poseOfFrames(first.frame, second.frame);
  return framed && fits(framed, a, b) ? framed : poseBySearch(a, b, scale);
}
