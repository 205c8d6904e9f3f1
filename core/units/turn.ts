import { DEG, turnUpright, wrapDegrees, type Vec3 } from './angles';

/** How a thing is turned in the level, degrees: first about its own axis to the front (-Z), then its front up, then about the upright axis, clockwise from above. */
export interface Turn {
  turnDeg: number;
  tiltDeg: number;
  rollDeg: number;
}

export const NO_TURN: Readonly<Turn> = Object.freeze({ turnDeg: 0, tiltDeg: 0, rollDeg: 0 });

const pair = (a: number, b: number, deg: number): [number, number] => {
  const [c, s] = [Math.cos(deg * DEG), Math.sin(deg * DEG)];
  return [a * c - b * s, a * s + b * c];
};

/** A vector of a thing's own space as it lies in the level. */
export function turnBy([x, y, z]: Readonly<Vec3>, { turnDeg, tiltDeg, rollDeg }: Turn): Vec3 {
  const [rolledX, rolledY] = pair(x, y, rollDeg);
  const [tiltedY, tiltedZ] = pair(rolledY, z, tiltDeg);
  return turnUpright([rolledX, tiltedY, tiltedZ], turnDeg);
}

/** A vector of the level in a thing's own space: the inverse of {@link turnBy}. */
export function turnBack(v: Readonly<Vec3>, { turnDeg, tiltDeg, rollDeg }: Turn): Vec3 {
  const [x, y, z] = turnUpright(v, -turnDeg);
  const [tiltedY, tiltedZ] = pair(y, z, -tiltDeg);
  const [rolledX, rolledY] = pair(x, tiltedY, -rollDeg);
  return [rolledX, rolledY, tiltedZ];
}

/** Sine of a tilt from which on the front is upright, and turn and roll are about one axis: the roll is nought then. */
const UPRIGHT = 1 - 1e-10;

/** The turn that carries the axes of the level to these: a rotation as the function that applies it. */
export function turnOf(rotate: (v: Vec3) => Vec3): Turn {
  const front = rotate([0, 0, -1]);
  const right = rotate([1, 0, 0]);
  const tiltDeg = Math.asin(Math.max(-1, Math.min(1, front[1]))) / DEG;
  if (Math.abs(front[1]) > UPRIGHT) return { turnDeg: wrapDegrees(Math.atan2(right[2], right[0]) / DEG), tiltDeg, rollDeg: 0 };
  const turnDeg = wrapDegrees(Math.atan2(front[0], -front[2]) / DEG);
  const [x, y] = turnBack(right, { turnDeg, tiltDeg, rollDeg: 0 });
  return { turnDeg, tiltDeg, rollDeg: wrapDegrees(Math.atan2(y, x) / DEG) };
}

/** The turn that carries what is turned in the first way to the second. */
export const turnBetween = (from: Turn, to: Turn): Turn => turnOf((v) => turnBy(turnBack(v, from), to));
