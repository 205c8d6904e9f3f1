import { DEG, directionFromAngles, type Vec3 } from '../units';
import type { Aim } from './types';

/** The axes of a lamp, unit vectors square to one another in the space it stands in; right x forward = up. */
export interface LampFrame {
  right: Vec3;
  up: Vec3;
  forward: Vec3;
}

/**
 * The axes of a lamp that is aimed so. Without roll its right is level; straight up or down its up lies where the azimuth points
 * (aimed down) or comes from (aimed up).
 */
export function lampFrame({ azimuthDeg, elevationDeg, rollDeg }: Aim): LampFrame {
  const forward = directionFromAngles(azimuthDeg, elevationDeg);
  const level = directionFromAngles(azimuthDeg + 90, 0);
  const upright = directionFromAngles(azimuthDeg, elevationDeg + 90);
  const [c, s] = [Math.cos(rollDeg * DEG), Math.sin(rollDeg * DEG)];
  const turned = (a: Vec3, b: Vec3, p: number, q: number): Vec3 => [a[0] * p + b[0] * q, a[1] * p + b[1] * q, a[2] * p + b[2] * q];
  return { forward, right: turned(level, upright, c, s), up: turned(upright, level, c, -s) };
}

/** The aim whose frame has these axes (its up fills in the roll). */
export function aimOf({ forward, right }: Pick<LampFrame, 'forward' | 'right'>): Aim {
  const azimuth = Math.hypot(forward[0], forward[2]) > 1e-9 ? Math.atan2(forward[0], -forward[2]) / DEG : 0;
  const elevationDeg = Math.asin(Math.max(-1, Math.min(1, forward[1]))) / DEG;
  const azimuthDeg = (azimuth + 360) % 360;
  const plain = lampFrame({ azimuthDeg, elevationDeg, rollDeg: 0 });
  const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const rollDeg = Math.atan2(dot(right, plain.up), dot(right, plain.right)) / DEG;
  return { azimuthDeg, elevationDeg, rollDeg: rollDeg + 0 };
}
