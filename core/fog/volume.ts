import { smoothstep, type Rgb, type Vec3 } from '../units';
import { extinctionOf } from './fog';

/** A box, turned about the upright axis (degrees, clockwise from above), or a ball: both about a middle. */
export type VolumeShape = { kind: 'box'; sizeM: Vec3; turnDeg: number } | { kind: 'ball'; radiusM: number };

/** A body of fog of its own: steam over a bath, dust in a shed. */
export interface FogBody {
  shape: VolumeShape;
  at: Vec3;
  /** How far one sees in its middle, metres. */
  visibilityM: number;
  /** Share of the way from its middle to its edge over which it thins out, 0 hard to 1. */
  softness: number;
  /** What it scatters of the light that it takes, linear RGB 0..1. */
  albedo: Rgb;
}

/** Places along a look through a body, in its own space: -1..1 on each axis inside. */
export interface BodySpace {
  at: Vec3;
  /** Half its sizes; all the radius for a ball. */
  half: Vec3;
  cosine: number;
  sine: number;
  isBall: boolean;
}

export function bodySpace({ shape, at }: Pick<FogBody, 'shape' | 'at'>): BodySpace {
  if (shape.kind === 'ball') return { at, half: [shape.radiusM, shape.radiusM, shape.radiusM], cosine: 1, sine: 0, isBall: true };
  const turn = (shape.turnDeg * Math.PI) / 180;
  return { at, half: shape.sizeM.map((v) => v / 2) as Vec3, cosine: Math.cos(turn), sine: Math.sin(turn), isBall: false };
}

/** A vector of the level in a body's axes, each in halves of its size. */
const inBody = ({ half, cosine, sine }: BodySpace, [x, y, z]: Readonly<Vec3>): Vec3 => [
  (x * cosine + z * sine) / half[0],
  y / half[1],
  (z * cosine - x * sine) / half[2],
];

/** Where a look enters a body and leaves it, metres; null where it misses it or lies behind. */
export function throughBody(space: BodySpace, eye: Readonly<Vec3>, look: Readonly<Vec3>): [from: number, to: number] | null {
  const o = inBody(space, [eye[0] - space.at[0], eye[1] - space.at[1], eye[2] - space.at[2]]);
  const d = inBody(space, look);
  let [from, to] = [-Infinity, Infinity];
  if (space.isBall) {
    const [a, b, c] = [dot(d, d), dot(o, d), dot(o, o) - 1];
    const root = b * b - a * c;
    if (root <= 0) return null;
    [from, to] = [(-b - Math.sqrt(root)) / a, (-b + Math.sqrt(root)) / a];
  } else {
    for (let c = 0; c < 3; c++) {
      if (d[c] === 0 && Math.abs(o[c]!) > 1) return null;
      const [p, q] = [(-1 - o[c]!) / d[c]!, (1 - o[c]!) / d[c]!];
      from = Math.max(from, Math.min(p, q));
      to = Math.min(to, Math.max(p, q));
    }
  }
  from = Math.max(0, from);
  return to > from ? [from, to] : null;
}
const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** How thick a body is at a place, as a share of its middle. */
export function densityIn(space: BodySpace, softness: number, place: Readonly<Vec3>): number {
  const p = inBody(space, [place[0] - space.at[0], place[1] - space.at[1], place[2] - space.at[2]]);
  const edge = (v: number) => (softness === 0 ? (v <= 1 ? 1 : 0) : 1 - smoothstep(1 - softness, 1, v));
  return space.isBall ? edge(Math.hypot(...p)) : edge(Math.abs(p[0])) * edge(Math.abs(p[1])) * edge(Math.abs(p[2]));
}

/** Pieces that a look through a body is cut into. */
export const BODY_STEPS = 12;

/** A look through a body, in {@link BODY_STEPS} pieces: what of the light behind each piece, and of each piece itself, reaches the eye. */
export interface BodyLook {
  /** Where it is entered, and how long each piece is, metres. */
  fromM: number;
  pieceM: number;
  /** Share of what lies behind the beginning of each piece that is seen. */
  left: number[];
  /** Share of the light scattered in each piece that comes out towards the eye, of what would be scattered by all: sums to 1 - through. */
  weight: number[];
  /** Share of what lies behind that is seen. */
  through: number;
}

/** @param distanceM that the look ends at */
export function lookThroughBody(body: FogBody, eye: Readonly<Vec3>, look: Readonly<Vec3>, distanceM: number): BodyLook | null {
  const space = bodySpace(body);
  const way = throughBody(space, eye, look);
  if (!way || way[0] >= distanceM) return null;
  const [from, to] = [way[0], Math.min(way[1], distanceM)];
  const pieceM = (to - from) / BODY_STEPS;
  const extinction = extinctionOf(body.visibilityM);
  const [left, weight]: [number[], number[]] = [[], []];
  let through = 1;
  for (let i = 0; i < BODY_STEPS; i++) {
    const t = from + (i + 0.5) * pieceM;
    const place: Vec3 = [eye[0] + look[0] * t, eye[1] + look[1] * t, eye[2] + look[2] * t];
    const next = through * Math.exp(-extinction * densityIn(space, body.softness, place) * pieceM);
    left.push(through);
    weight.push(through - next);
    through = next;
  }
  return { fromM: from, pieceM, left, weight, through };
}
