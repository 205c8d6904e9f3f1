import { DEG, directionFromAngles, type Vec3 } from '../units';
import { aimOf, lampFrame } from './frame';
import type { Lamp, LampMotion } from './types';

/** Standard gravity, m/s2 (CGPM 1901). */
const GRAVITY = 9.80665;

/** Lengths of the pieces of a path that begins where the lamp stands, metres; the way back to it comes last on a closed one. */
function piecesOf({ through, ends }: Extract<LampMotion, { as: 'path' }>): { from: Vec3; to: Vec3; lengthM: number }[] {
  const points: Vec3[] = [[0, 0, 0], ...through, ...(ends === 'round' ? [[0, 0, 0] as Vec3] : [])];
  return points.slice(1).map((to, i) => {
    const from = points[i]!;
    return { from, to, lengthM: Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]) };
  });
}

/**
 * Seconds after which a lamp is where it was: of a swing 2 pi sqrt(length / g), as a pendulum of small angles has it (Huygens 1673);
 * of a path its length there (and back) by its speed.
 */
export function motionPeriod(motion: LampMotion): number {
  switch (motion.as) {
    case 'sweep':
      return motion.periodS;
    case 'swing':
      return 2 * Math.PI * Math.sqrt(motion.lengthM / GRAVITY);
    case 'path': {
      const lengthM = piecesOf(motion).reduce((sum, p) => sum + p.lengthM, 0);
      return ((motion.ends === 'back' ? 2 : 1) * lengthM) / motion.speedMps;
    }
  }
}

/** A vector turned about a unit axis by an angle, radians, counterclockwise as seen from its tip (Rodrigues 1840). */
function turnAbout(v: Vec3, axis: Vec3, angle: number): Vec3 {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const along = (axis[0] * v[0] + axis[1] * v[1] + axis[2] * v[2]) * (1 - c);
  const across: Vec3 = [axis[1] * v[2] - axis[2] * v[1], axis[2] * v[0] - axis[0] * v[2], axis[0] * v[1] - axis[1] * v[0]];
  return v.map((x, k) => x * c + across[k]! * s + axis[k]! * along) as Vec3;
}

const turned = (lamp: Lamp, axis: Vec3, angle: number): Lamp['aim'] => {
  const { forward, right } = lampFrame(lamp.aim);
  return aimOf({ forward: turnAbout(forward, axis, angle), right: turnAbout(right, axis, angle) });
};

/**
 * A lamp where it is, and as it is aimed, at a moment of the game's own time. With p the share of its period that has gone by (its phase included):
 *
 * - a sweep turns its aim clockwise about the upright axis, by angle x sin(2 pi p) / 2, and all the way round, by 360 p, where the angle is 360;
 * - a swing hangs it from a point over it and swings it by angle x sin(2 pi p), out towards its azimuth first;
 * - a path moves it along its points at one speed, and turns nothing.
 *
 * @param seconds of the game's own time
 * @returns the same object where it does not move
 */
export function movedLamp(lamp: Lamp, seconds: number): Lamp {
  const { motion } = lamp;
  if (!motion) return lamp;
  const turns = seconds / motionPeriod(motion) + motion.phase;
  const share = turns - Math.floor(turns);
  const wave = Math.sin(2 * Math.PI * share);
  switch (motion.as) {
    case 'sweep': {
      const angle = (motion.angleDeg >= 360 ? 360 * share : (motion.angleDeg / 2) * wave) * DEG;
      return { ...lamp, aim: turned(lamp, [0, 1, 0], -angle) };
    }
    case 'swing': {
      const out = directionFromAngles(motion.azimuthDeg, 0);
      const angle = motion.angleDeg * wave * DEG;
      const [away, up] = [motion.lengthM * Math.sin(angle), motion.lengthM * (1 - Math.cos(angle))];
      // Straight down goes over into outwards about down x out.
      return {
        ...lamp,
        at: lamp.at.map((v, c) => v + away * out[c]! + (c === 1 ? up : 0)) as Vec3,
        aim: turned(lamp, [-out[2], 0, out[0]], angle),
      };
    }
    case 'path': {
      const pieces = piecesOf(motion);
      const lengthM = pieces.reduce((sum, p) => sum + p.lengthM, 0);
      let gone = lengthM * (motion.ends === 'back' ? 1 - Math.abs(1 - 2 * share) : share);
      const piece = pieces.find((p) => gone <= p.lengthM || ((gone -= p.lengthM), false)) ?? pieces.at(-1)!;
      const t = piece.lengthM > 0 ? Math.min(1, gone / piece.lengthM) : 0;
      return { ...lamp, at: lamp.at.map((v, c) => v + piece.from[c]! + (piece.to[c]! - piece.from[c]!) * t) as Vec3 };
    }
  }
}
