import { DEG, toFrame, type Rgb, type Vec3 } from '../units';
import { spotShare } from './distribution';
import { emissionOf, reachShare } from './emission';
import { lampFrame } from './frame';
import type { Lamp, Profile } from './types';

/** Where {@link Emitter.sample} writes: the unit direction to the light, the distance to it, and the light itself. */
export const SAMPLE = { x: 0, y: 1, z: 2, distance: 3, lux: 4, length: 5 } as const;

/** Distances under which the inverse square is no more followed, metres. */
const NEAREST = 1e-3;
/** Balls that look smaller than this (radius over distance) are points. */
const POINT = 1e-3;

/** A lamp as something that light can be asked of. */
export interface Emitter {
  /** Linear Rec. 709 of luminance 1. */
  color: Rgb;
  /** The middle of the lamp, metres. */
  at: Vec3;
  /** The longest measure of what shines ({@link extentOf}): no part is farther from the middle than half of it. */
  extentM: number;
  /**
   * A point of the lamp chosen by two numbers in [0, 1), as seen from (x, y, z): its direction and distance, and the lux it
   * gives a plane that faces it. Their mean over all numbers, each times its cosine, is the illuminance where nothing stands between.
   */
  sample(x: number, y: number, z: number, a: number, b: number, out: Float64Array): void;
  /** About the lux on a plane at (x, y, z) that faces the lamp; over nought wherever a sample can be. */
  rough(x: number, y: number, z: number): number;
  /**
   * About the mean lux in a cube about (x, y, z), over nought if any of its light can come in: a share `blind` of it is as if the lamp
   * shone alike to all sides.
   */
  weight(x: number, y: number, z: number, edgeM: number, blind: number): number;
}

/** Prepares a lamp to be asked for light. Throws as {@link emissionOf} does. */
export function createEmitter(lamp: Lamp, profiles: readonly Profile[]): Emitter {
  const { intensity, color, peak } = emissionOf(lamp, profiles);
  const { right, up, forward } = lampFrame(lamp.aim);
  const [cx, cy, cz] = lamp.at;
  const { shape, reachM } = lamp;

  /** Candela of the whole lamp towards a direction that points away from it, in level space. */
  const towards = (dx: number, dy: number, dz: number) =>
    intensity(
      right[0] * dx + right[1] * dy + right[2] * dz,
      up[0] * dx + up[1] * dy + up[2] * dz,
      forward[0] * dx + forward[1] * dy + forward[2] * dz,
    );

  /** Writes the light of a point of the lamp that has `candela` of it, given towards (x, y, z). */
  function from(qx: number, qy: number, qz: number, x: number, y: number, z: number, candelaOf: typeof towards, out: Float64Array): void {
    const dx = qx - x;
    const dy = qy - y;
    const dz = qz - z;
    const distance = Math.max(NEAREST, Math.sqrt(dx * dx + dy * dy + dz * dz));
    out[SAMPLE.x] = dx / distance;
    out[SAMPLE.y] = dy / distance;
    out[SAMPLE.z] = dz / distance;
    out[SAMPLE.distance] = distance;
    out[SAMPLE.lux] = (candelaOf(-dx / distance, -dy / distance, -dz / distance) / distance ** 2) * reachShare(distance, reachM);
  }

  const extentM = extentOf(lamp);
  const table = shape.kind === 'measured' ? coarse(towards, peak) : null;
  /** Candela over which no part of the lamp is seen in a direction, at a distance of its middle. */
  const most = (dx: number, dy: number, dz: number, distance: number) => {
    if (shape.kind === 'spot') {
      const off = Math.acos(Math.max(-1, Math.min(1, forward[0] * dx + forward[1] * dy + forward[2] * dz)));
      return peak * spotShare(Math.max(0, off - Math.asin(Math.min(1, shape.radiusM / distance))) / DEG, shape);
    }
    if (table) return table(dx, dy, dz);
    // Beside a long lamp's own middle, parts of it shine where the middle does not.
    return shape.kind === 'tube' || shape.kind === 'panel' ? Math.max(peak / 4, towards(dx, dy, dz)) : towards(dx, dy, dz);
  };
  const rough: Emitter['rough'] = (x, y, z) => {
    const dx = x - cx;
    const dy = y - cy;
    const dz = z - cz;
    const distance = Math.max(NEAREST, Math.sqrt(dx * dx + dy * dy + dz * dz));
    const share = reachShare(Math.max(0, distance - extentM / 2), reachM);
    // Nearer than its own extent a lamp lights about as much as at that distance.
    return share === 0 ? 0 : (most(dx / distance, dy / distance, dz / distance, distance) / Math.max(distance, extentM / 2) ** 2) * share;
  };

  const weight: Emitter['weight'] = (x, y, z, edgeM, blind) => {
    const dx = x - cx;
    const dy = y - cy;
    const dz = z - cz;
    const distance = Math.max(NEAREST, Math.sqrt(dx * dx + dy * dy + dz * dz));
    // The nearest that the cube comes is half its diagonal nearer than its middle.
    const share = reachShare(Math.max(0, distance - 0.87 * edgeM - extentM / 2), reachM);
    const candela = blind * peak + (1 - blind) * most(dx / distance, dy / distance, dz / distance, distance);
    return (candela / (distance ** 2 + (edgeM ** 2 + extentM ** 2) / 6)) * share;
  };

  const about = { color, at: lamp.at, extentM, rough, weight };
  switch (shape.kind) {
    case 'point':
    case 'measured':
      return {
        ...about,
        // A ball: uniform over the cone it is seen under, which gives its exact light for a distribution alike to all sides.
        sample(x, y, z, a, b, out) {
          from(cx, cy, cz, x, y, z, towards, out);
          const distance = out[SAMPLE.distance]!;
          const sine = shape.radiusM / distance;
          if (sine < POINT || sine >= 1) return;
          const spread = sine ** 2 / (1 + Math.sqrt(1 - sine ** 2));
          const cosine = 1 - a * spread;
          const off = Math.sqrt(Math.max(0, 1 - cosine * cosine));
          const candela = out[SAMPLE.lux]! * distance ** 2;
          toFrame(
            out[SAMPLE.x]!,
            out[SAMPLE.y]!,
            out[SAMPLE.z]!,
            off * Math.cos(2 * Math.PI * b),
            off * Math.sin(2 * Math.PI * b),
            cosine,
            out,
          );
          const inside = Math.sqrt(Math.max(0, shape.radiusM ** 2 - distance ** 2 * off ** 2));
          out[SAMPLE.distance] = distance * cosine - inside;
          // I x solid angle / (pi r^2), the solid angle being 2 pi spread.
          out[SAMPLE.lux] = (candela * 2 * spread) / shape.radiusM ** 2;
        },
      };
    case 'spot':
      return {
        ...about,
        sample(x, y, z, a, b, out) {
          const radius = shape.radiusM * Math.sqrt(a);
          const [p, q] = [radius * Math.cos(2 * Math.PI * b), radius * Math.sin(2 * Math.PI * b)];
          from(cx + right[0] * p + up[0] * q, cy + right[1] * p + up[1] * q, cz + right[2] * p + up[2] * q, x, y, z, towards, out);
        },
      };
    case 'tube':
      return {
        ...about,
        sample(x, y, z, a, _, out) {
          const p = (a - 0.5) * shape.lengthM;
          from(cx + right[0] * p, cy + right[1] * p, cz + right[2] * p, x, y, z, towards, out);
          // Its surface hides what lies in it.
          out[SAMPLE.distance] = Math.max(NEAREST, out[SAMPLE.distance]! - shape.radiusM);
        },
      };
    case 'panel':
      return {
        ...about,
        sample(x, y, z, a, b, out) {
          const [p, q] = [(a - 0.5) * shape.widthM, (b - 0.5) * shape.heightM];
          from(cx + right[0] * p + up[0] * q, cy + right[1] * p + up[1] * q, cz + right[2] * p + up[2] * q, x, y, z, towards, out);
        },
      };
  }
}

/** Cells a side of {@link coarse}. */
const COARSE = 32;
/** Share of the peak that a coarse look never goes below: a narrow beam may lie within one cell. */
const COARSE_FLOOR = 1e-3;

/**
 * An intensity looked up coarsely, as the most that a cell's middle and corners have, over the octahedral map (Meyer et al. 2010, "On
 * Floating-Point Normal Vectors"): for choosing among lamps, where each look has to be quick.
 */
function coarse(towards: (x: number, y: number, z: number) => number, peak: number): (x: number, y: number, z: number) => number {
  const at = (s: number, t: number) => {
    const [u, v] = [2 * s - 1, 2 * t - 1];
    const z = 1 - Math.abs(u) - Math.abs(v);
    const [x, y] = z >= 0 ? [u, v] : [(1 - Math.abs(v)) * Math.sign(u || 1), (1 - Math.abs(u)) * Math.sign(v || 1)];
    const length = Math.hypot(x, y, z);
    return towards(x / length, y / length, z / length);
  };
  const corners = new Float64Array((COARSE + 1) ** 2);
  for (let i = 0; i < corners.length; i++) corners[i] = at((i % (COARSE + 1)) / COARSE, Math.floor(i / (COARSE + 1)) / COARSE);
  const cells = new Float64Array(COARSE ** 2);
  for (let t = 0; t < COARSE; t++) {
    for (let s = 0; s < COARSE; s++) {
      const corner = t * (COARSE + 1) + s;
      cells[t * COARSE + s] = Math.max(
        COARSE_FLOOR * peak,
        at((s + 0.5) / COARSE, (t + 0.5) / COARSE),
        corners[corner]!,
        corners[corner + 1]!,
        corners[corner + COARSE + 1]!,
        corners[corner + COARSE + 2]!,
      );
    }
  }
  return (x, y, z) => {
    const sum = Math.abs(x) + Math.abs(y) + Math.abs(z);
    let u = x / sum;
    let v = y / sum;
    if (z < 0) {
      const folded = (1 - Math.abs(v)) * (u < 0 ? -1 : 1);
      v = (1 - Math.abs(u)) * (v < 0 ? -1 : 1);
      u = folded;
    }
    const s = Math.min(COARSE - 1, Math.floor((u * 0.5 + 0.5) * COARSE));
    const t = Math.min(COARSE - 1, Math.floor((v * 0.5 + 0.5) * COARSE));
    return cells[t * COARSE + s]!;
  };
}

/** Longest measure of what shines, metres. */
export function extentOf({ shape }: Pick<Lamp, 'shape'>): number {
  if (shape.kind === 'tube') return Math.max(shape.lengthM, 2 * shape.radiusM);
  if (shape.kind === 'panel') return Math.hypot(shape.widthM, shape.heightM);
  return 2 * shape.radiusM;
}
