import type { StrollPlace } from '../../../core/rig';
import type { Vec3 } from '../../../core/units';
import { OnFoot } from './onFoot';
import type { Solid } from './walker';

/** Between two places of a way, seconds. */
const STEP_S = 0.1;
/** Who is so near is there, metres. */
const ARRIVED_M = 0.08;
/** A step that brings one less than this share of itself nearer is none, and so many of those in a row end the way. */
const NEARER = 0.2;
const STUCK = 12;
/** Steps of one way at the most: five minutes. */
const MOST = 3000;
/** How far ahead on the way one looks, seconds. */
const LOOKS_AHEAD_S = 1.2;

/** A straight walk as far as it leads. */
export interface Way {
  /** Where the eye is, at its beginning and after each step. */
  eyes: Vec3[];
  feet: Vec3;
  /** What is left of it where something is in the way, metres along the ground, and how much higher its end lies than where one came to. */
  leftM: number;
  higherM: number;
}

/** Walks straight to a place, as a person does: over steps, along floors, through no wall. Null where there is no room to begin. */
export function wayTo(solid: Solid, from: Readonly<Vec3>, to: Readonly<Vec3>, speedMS: number, crouched: boolean): Way | null {
  const person = OnFoot.at(solid, from, crouched);
  if (!person) return null;
  const eyes: Vec3[] = [person.eye];
  const left = () => Math.hypot(to[0] - person.feet[0], to[2] - person.feet[2]);
  for (let stuck = 0; left() > ARRIVED_M && stuck < STUCK && eyes.length < MOST;) {
    const before = left();
    const speed = Math.min(speedMS, before / STEP_S);
    person.walk([((to[0] - person.feet[0]) / before) * speed, ((to[2] - person.feet[2]) / before) * speed], STEP_S);
    eyes.push(person.eye);
    stuck = before - left() < NEARER * speed * STEP_S ? stuck + 1 : 0;
  }
  return { eyes, feet: [...person.feet], leftM: left() > ARRIVED_M ? left() : 0, higherM: to[1] - person.feet[1] };
}

/** Places of a stroll along a way: one looks to where one is a moment later, half as much up and down as the way goes. */
export function placesAlong(eyes: readonly Vec3[]): StrollPlace[] {
  const ahead = Math.round(LOOKS_AHEAD_S / STEP_S);
  let direction: Vec3 = [0, 0, -1];
  return eyes.map((eye, i) => {
    const next = eyes[Math.min(eyes.length - 1, i + ahead)]!;
    const to: Vec3 = [next[0] - eye[0], (next[1] - eye[1]) / 2, next[2] - eye[2]];
    const length = Math.hypot(to[0], to[2]);
    // At the end of the way one goes on looking as before.
    if (length > 0.3) direction = to.map((v) => v / length) as Vec3;
    return { atS: i * STEP_S, eye, target: eye.map((v, c) => v + direction[c]! * 12) as Vec3 };
  });
}
