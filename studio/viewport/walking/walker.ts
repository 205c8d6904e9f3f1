import { Line3, Vector3 } from 'three';
import { ExtendedTriangle } from 'three-mesh-bvh';
import type { Vec3 } from '../../../core/units';

/** Height of the eye over the feet, metres. */
export const EYE_M = { standing: 1.65, crouched: 1 } as const;
/** Half the width of a person, and the head over the eye, metres. */
const RADIUS_M = 0.25;
const OVER_EYE_M = 0.13;
/** What is no higher than this over the feet is stepped onto, and what lies no deeper is stepped down to, metres. */
export const STEP_M = 0.45;
/** A floor steeper than this is not climbed: the cosine to upright, 50 degrees. */
const FLOOR_COSINE = 0.64;
const GRAVITY_M_S2 = 9.81;
/** A fall becomes no faster than this, m/s. */
const TERMINAL_M_S = 50;
/** Least distance that the capsule's axis keeps from every surface, metres. No single move is as long, so that none leads through a surface. */
const CLEAR_M = RADIUS_M / 2;
/** Longest single move, metres. */
const MOVE_M = CLEAR_M * 0.8;
/** Moves of one call at the most: what would be farther is walked by the next call. */
const MOST_MOVES = 120;
/** Pushes out of surfaces within one move. */
const PUSHES = 4;
/** Places under the feet where the floor is looked for, as shares of the radius. */
const FEET: readonly (readonly [number, number])[] = [
  [0, 0],
  [0.6, 0],
  [-0.6, 0],
  [0, 0.6],
  [0, -0.6],
];

/** What a walker walks in. */
export interface Solid {
  /** Corners of the triangles that reach into a box, nine numbers each. */
  near(min: Readonly<Vec3>, max: Readonly<Vec3>): ArrayLike<number>;
  /** Whether there is anything straight below a point. */
  isOver(at: Readonly<Vec3>): boolean;
}

/** Where a walker is, and how. */
export interface Walking {
  /** The point between the feet. */
  feet: Vec3;
  crouched: boolean;
  /** Speed of the fall, m/s; 0 on the ground. */
  fallMS: number;
  /** Whether it stands on a floor. */
  grounded: boolean;
}

/** A triangle that is near, with its box. */
interface Near {
  triangle: ExtendedTriangle;
  min: Vec3;
  max: Vec3;
  /** Upward share of its unit normal, at least 0. */
  rises: number;
}

/**
 * An upright capsule that walks through a level: it follows floors, climbs steps up to {@link STEP_M}, falls where there is no floor, slides along
 * walls and goes through none.
 *
 * Its axis keeps a distance from all surfaces, and each single move is shorter than that: no path of moves leads through a surface, at any speed.
 */
export class Walker {
  private near: Near[] = [];
  private readonly axis = new Line3();
  private readonly onTriangle = new Vector3();
  private readonly onAxis = new Vector3();

  constructor(private readonly solid: Solid) {}

  /**
   * Walks for some seconds.
   *
   * @param velocity level speed that is asked for, m/s along x and z
   * @returns where the walker is then; the same object where it has no room to move at all
   */
  walk(from: Walking, velocity: readonly [x: number, z: number], seconds: number): Walking {
    const speed = Math.hypot(...velocity);
    const length = speed * seconds;
    // A fall is worked out in moves of its own length.
    const fallen = from.grounded ? STEP_M : Math.min(TERMINAL_M_S, from.fallMS + GRAVITY_M_S2 * seconds) * seconds + STEP_M;
    const moves = Math.min(MOST_MOVES, Math.max(1, Math.ceil(Math.max(length, fallen - STEP_M) / MOVE_M)));
    const part = Math.min(length, moves * MOVE_M) / moves;
    const [dx, dz] = speed > 0 ? [(velocity[0] / speed) * part, (velocity[1] / speed) * part] : [0, 0];
    const reach = part * moves + RADIUS_M + STEP_M;
    this.gather(from.feet, reach, fallen + STEP_M);
    if (this.clearance(from.feet, from.crouched) < CLEAR_M) return from;
    let now: Walking = { ...from, feet: [...from.feet] };
    for (let k = 0; k < moves; k++) {
      now = this.stand(now, seconds / moves);
      if (part > 0) now = this.step(now, dx, dz);
    }
    return part > 0 ? this.stand(now, 0) : now;
  }

  /** Crouches or stands up; who has no room over the head stays crouched. */
  crouch(from: Walking, crouched: boolean): Walking {
    this.gather(from.feet, RADIUS_M + STEP_M, STEP_M);
    const next = { ...from, crouched };
    return crouched || this.clearance(next.feet, false) >= CLEAR_M ? next : from;
  }

  /** Whether someone can stand at a point, touching nothing. */
  hasRoom(feet: Readonly<Vec3>, crouched: boolean): boolean {
    this.gather(feet, RADIUS_M + STEP_M, STEP_M);
    return this.clearance(feet, crouched) >= RADIUS_M * 0.98;
  }

  /** The place on the floor at a point: no more than a step over it or under it. Null where there is no such floor. */
  onFloor(at: Readonly<Vec3>): Vec3 | null {
    this.gather(at, RADIUS_M, STEP_M);
    const floor = this.floorUnder(at);
    return floor !== null && floor >= at[1] - STEP_M && this.floorRises >= FLOOR_COSINE ? [at[0], floor, at[2]] : null;
  }

  private gather([x, y, z]: Readonly<Vec3>, reach: number, belowM: number): void {
    const height = EYE_M.standing + OVER_EYE_M + 2 * STEP_M;
    const corners = this.solid.near([x - reach, y - belowM - RADIUS_M, z - reach], [x + reach, y + height, z + reach]);
    this.near = [];
    for (let i = 0; i < corners.length; i += 9) {
      const triangle = new ExtendedTriangle(
        new Vector3(corners[i]!, corners[i + 1]!, corners[i + 2]!),
        new Vector3(corners[i + 3]!, corners[i + 4]!, corners[i + 5]!),
        new Vector3(corners[i + 6]!, corners[i + 7]!, corners[i + 8]!),
      );
      if (triangle.getArea() < 1e-10) continue;
      const over = (pick: (...v: number[]) => number): Vec3 =>
        [0, 1, 2].map((c) => pick(corners[i + c]!, corners[i + 3 + c]!, corners[i + 6 + c]!)) as Vec3;
      this.near.push({ triangle, min: over(Math.min), max: over(Math.max), rises: Math.abs(triangle.getNormal(this.onAxis).y) });
    }
  }

  /** Follows the floor, or falls. */
  private stand(from: Walking, seconds: number): Walking {
    const floor = this.floorUnder(from.feet);
    if (floor !== null && floor >= from.feet[1] - (from.grounded ? STEP_M : 1e-3)) {
      const feet = this.rise(from.feet, floor, from.crouched);
      return { ...from, feet, fallMS: 0, grounded: Math.abs(feet[1] - floor) < 1e-3 || feet[1] < floor };
    }
    // Past the level's edge there is nothing to fall onto.
    if (floor === null && !this.solid.isOver(from.feet)) return { ...from, fallMS: 0, grounded: false };
    const fallMS = Math.min(TERMINAL_M_S, from.fallMS + GRAVITY_M_S2 * seconds);
    const to = Math.max(from.feet[1] - fallMS * seconds, floor ?? -Infinity);
    const feet = this.rise(from.feet, to, from.crouched);
    const landed = floor !== null && feet[1] - floor < 1e-3;
    return { ...from, feet, fallMS: landed ? 0 : fallMS, grounded: landed };
  }

  /** Goes straight up or down as far as there is room. */
  private rise(feet: Readonly<Vec3>, toY: number, crouched: boolean): Vec3 {
    let at: Vec3 = [...feet];
    while (Math.abs(toY - at[1]) > 1e-6) {
      const next: Vec3 = [at[0], at[1] + Math.sign(toY - at[1]) * Math.min(MOVE_M, Math.abs(toY - at[1])), at[2]];
      if (this.clearance(next, crouched) < CLEAR_M) break;
      at = next;
    }
    return at;
  }

  /** One move along the level, pushed out of what it meets. */
  private step(from: Walking, dx: number, dz: number): Walking {
    const { feet, crouched } = from;
    const next: Vec3 = [feet[0] + dx, feet[1], feet[2] + dz];
    for (let k = 0; k < PUSHES && this.pushOut(next, crouched); k++);
    const moved = Math.hypot(next[0] - feet[0], next[2] - feet[2]);
    // Moves of less than the distance that the axis had, to a place where it has that again, lead through nothing.
    if (moved < 1e-6 || moved > CLEAR_M * 0.99 || this.clearance(next, crouched) < CLEAR_M) return from;
    const floor = this.floorUnder(next);
    if (floor === null) return from.grounded && !this.solid.isOver(next) ? from : { ...from, feet: next };
    if (!from.grounded || floor <= feet[1]) return { ...from, feet: next };
    const isSteep = this.floorRises < FLOOR_COSINE && floor - feet[1] > moved * 0.5;
    const up = this.rise(next, floor, crouched);
    // Neither a slope that is too steep nor a step without room over it is a way up.
    return isSteep || up[1] < floor - 1e-3 ? from : { ...from, feet: up };
  }

  /** The floor's upward share of the normal, of the last floor that was found. */
  private floorRises = 1;

  /** Height of the highest floor under the feet, no higher than a step over them; null where none is near. */
  private floorUnder([x, y, z]: Readonly<Vec3>): number | null {
    let best: number | null = null;
    for (const [ax, az] of FEET) {
      const [px, pz] = [x + ax * RADIUS_M, z + az * RADIUS_M];
      for (const { triangle, min, max, rises } of this.near) {
        if (rises < 0.05 || px < min[0] || px > max[0] || pz < min[2] || pz > max[2]) continue;
        const at = heightAt(triangle, px, pz);
        if (at === null || at > y + STEP_M || (best !== null && at <= best)) continue;
        best = at;
        this.floorRises = rises;
      }
    }
    return best;
  }

  private placeAxis([x, y, z]: Readonly<Vec3>, crouched: boolean): void {
    this.axis.start.set(x, y + STEP_M + RADIUS_M, z);
    this.axis.end.set(x, y + (crouched ? EYE_M.crouched : EYE_M.standing) + OVER_EYE_M - RADIUS_M, z);
  }

  /** Distance of the axis to the nearest surface, metres; at most somewhat more than the radius. */
  private clearance(feet: Readonly<Vec3>, crouched: boolean): number {
    this.placeAxis(feet, crouched);
    let least = RADIUS_M * 1.5;
    for (const near of this.near) if (this.reaches(near, least)) least = Math.min(least, this.distance(near));
    return least;
  }

  /** Whether a triangle's box comes as near to the axis as a distance. */
  private reaches({ min, max }: Near, within: number): boolean {
    const { start, end } = this.axis;
    return (
      min[0] < start.x + within &&
      max[0] > start.x - within &&
      min[2] < start.z + within &&
      max[2] > start.z - within &&
      min[1] < end.y + within &&
      max[1] > start.y - within
    );
  }

  private distance({ triangle }: Near): number {
    triangle.closestPointToSegment(this.axis, this.onTriangle, this.onAxis);
    return this.onTriangle.distanceTo(this.onAxis);
  }

  /** Pushes a place level out of the surface that it is in the deepest; answers whether it was in one. */
  private pushOut(feet: Vec3, crouched: boolean): boolean {
    this.placeAxis(feet, crouched);
    let [deepest, px, pz] = [1e-5, 0, 0];
    for (const near of this.near) {
      if (!this.reaches(near, RADIUS_M)) continue;
      const distance = this.distance(near);
      if (distance >= RADIUS_M - deepest) continue;
      const [ax, ay, az] = [this.onAxis.x - this.onTriangle.x, this.onAxis.y - this.onTriangle.y, this.onAxis.z - this.onTriangle.z];
      const level = Math.hypot(ax, az);
      // Straight over or under the axis: no level push helps.
      if (level < 1e-6) continue;
      const push = Math.sqrt(Math.max(0, RADIUS_M ** 2 - ay ** 2)) - level;
      deepest = RADIUS_M - distance;
      [px, pz] = [(ax / level) * push, (az / level) * push];
    }
    if (px === 0 && pz === 0) return false;
    feet[0] += px;
    feet[2] += pz;
    return true;
  }
}

/** Height of a triangle at a place seen from above; null beside it. */
function heightAt({ a, b, c }: ExtendedTriangle, x: number, z: number): number | null {
  const area = (b.x - a.x) * (c.z - a.z) - (c.x - a.x) * (b.z - a.z);
  if (Math.abs(area) < 1e-12) return null;
  const v = ((x - a.x) * (c.z - a.z) - (c.x - a.x) * (z - a.z)) / area;
  const w = ((b.x - a.x) * (z - a.z) - (x - a.x) * (b.z - a.z)) / area;
  return v < -1e-9 || w < -1e-9 || v + w > 1 + 1e-9 ? null : a.y + (b.y - a.y) * v + (c.y - a.y) * w;
}
