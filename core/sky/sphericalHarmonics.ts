import type { Rgb, Vec3 } from '../units';
import type { FaceLight } from './faceLight';
import { gaussLegendre } from './quadrature';

/** Coefficients of the order-3 basis (bands l = 0, 1, 2). */
export const SH_COUNT = 9;

const Y00 = 0.5 * Math.sqrt(1 / Math.PI);
const Y1 = Math.sqrt(3 / (4 * Math.PI));
const Y2_OFF = 0.5 * Math.sqrt(15 / Math.PI);
const Y20 = 0.25 * Math.sqrt(5 / Math.PI);
const Y22 = 0.25 * Math.sqrt(15 / Math.PI);

/**
 * Real orthonormal spherical harmonics without the Condon-Shortley phase, in the order
 * (0,0), (1,-1), (1,0), (1,1), (2,-2), (2,-1), (2,0), (2,1), (2,2), of a unit direction in level space.
 *
 * The basis is the textbook one with its polar axis up. Level space is Y up with north at -Z, so
 * (x, y, z) of the basis are (east, north, up) = (X, -Z, Y) of the level. This is the only place that says so.
 *
 * Writes {@link SH_COUNT} numbers into `out` from `offset`.
 */
export function shBasis(dx: number, dy: number, dz: number, out: Float32Array | Float64Array | number[], offset = 0): void {
  const x = dx;
  const y = -dz;
  const z = dy;
  out[offset] = Y00;
  out[offset + 1] = Y1 * y;
  out[offset + 2] = Y1 * z;
  out[offset + 3] = Y1 * x;
  out[offset + 4] = Y2_OFF * x * y;
  out[offset + 5] = Y2_OFF * y * z;
  out[offset + 6] = Y20 * (3 * z * z - 1);
  out[offset + 7] = Y2_OFF * x * z;
  out[offset + 8] = Y22 * (x * x - y * y);
}

/** What each polynomial of the basis is multiplied by. */
export const SH_FACTORS: readonly number[] = [Y00, Y1, Y1, Y1, Y2_OFF, Y2_OFF, Y20, Y2_OFF, Y22];

/** RGB coefficients, {@link SH_COUNT} triples one after another, in the unit of what was projected. */
export type ShRgb = Float32Array;

/**
 * Projects a radiance over the whole sphere on the basis, by Gauss-Legendre quadrature in elevation on each side of
 * the horizon (where painted skies break) and by the midpoint rule around it.
 *
 * @param radiance value towards a unit direction, cd/m2
 * @returns 27 coefficients
 */
export function projectSh(radiance: (direction: Vec3) => Rgb): ShRgb {
  const sums = new Float64Array(SH_COUNT * 3);
  const basis = new Float64Array(SH_COUNT);
  const around = 64;
  for (const { node, weight } of HALF_SPHERE_NODES) {
    for (const up of [node, -node]) {
      const level = Math.sqrt(1 - up * up);
      for (let k = 0; k < around; k++) {
        const phi = ((k + 0.5) * 2 * Math.PI) / around;
        const d: Vec3 = [Math.cos(phi) * level, up, Math.sin(phi) * level];
        const rgb = radiance(d);
        shBasis(d[0], d[1], d[2], basis);
        const solidAngle = (weight * 2 * Math.PI) / around;
        for (let i = 0; i < SH_COUNT; i++) {
          for (let c = 0; c < 3; c++) sums[i * 3 + c]! += basis[i]! * rgb[c]! * solidAngle;
        }
      }
    }
  }
  return Float32Array.from(sums);
}

/** Strengths of the window that are tried in turn, weakest first. */
const WINDOWS = [0, 0.001, 0.002, 0.004, 0.008, 0.015, 0.03, 0.06, 0.12, 0.25, 0.5];

/** How far under nought the sky may dip, as a share of its mean: less is not seen in a level, where light comes from all round. */
const DIP = 0.25;

/**
 * Projects a sky's radiance for lighting a level by it.
 *
 * Nine coefficients ring about what is brighter than they can follow, a dawn along the horizon say, and would take light away
 * in places. The bands are therefore windowed by 1 / (1 + s l^2 (l + 1)^2) (Sloan 2008, "Stupid Spherical Harmonics Tricks"),
 * as little as keeps the sky from dipping under nought by more than a quarter of its mean, or by the strongest window there is.
 *
 * They also leave out what the cosine lobe sees of finer structure, up to 6 % of the light on the ground. The projection is
 * moved, as little as may be in the least squares sense, until the diffuse light facing up and facing down is exact.
 *
 * @param radiance value towards a unit direction, cd/m2
 * @returns 27 coefficients
 */
export function projectSky(radiance: (direction: Vec3) => Rgb): ShRgb {
  const plain = projectSh((d) => radiance(d));
  const exact = { up: levelLight(radiance, 'up'), down: levelLight(radiance, 'down') };
  const out = new Float32Array(SH_COUNT * 3);
  for (let c = 0; c < 3; c++) {
    const own = Float64Array.from({ length: SH_COUNT }, (_, i) => plain[i * 3 + c]!);
    for (const strength of WINDOWS) {
      const attempt = own.map((v, i) => {
        const l = i === 0 ? 0 : i < 4 ? 1 : 2;
        return v / (1 + strength * l * l * (l + 1) * (l + 1));
      });
      constrain(attempt, exact.up[c]!, exact.down[c]!);
      for (let i = 0; i < SH_COUNT; i++) out[i * 3 + c] = attempt[i]!;
      if (lowest(attempt) >= -DIP * Y00 * attempt[0]!) break;
    }
  }
  return out;
}

/** Light of a radiance on a level plane facing up, or down, E/pi. */
export function levelLight(radiance: (direction: Vec3) => Rgb, side: 'up' | 'down'): Rgb {
  const light: Rgb = [0, 0, 0];
  const around = 64;
  for (const { node, weight } of HALF_SPHERE_NODES) {
    const level = Math.sqrt(1 - node * node);
    for (let k = 0; k < around; k++) {
      const phi = ((k + 0.5) * 2 * Math.PI) / around;
      const rgb = radiance([Math.cos(phi) * level, side === 'up' ? node : -node, Math.sin(phi) * level]);
      for (let c = 0; c < 3; c++) light[c]! += (rgb[c]! * node * weight * 2) / around;
    }
  }
  return light;
}

const basisOf = (direction: Vec3) => {
  const basis = new Float64Array(SH_COUNT);
  shBasis(...direction, basis);
  return basis;
};
const dot = (a: Float64Array, b: Float64Array) => a.reduce((sum, v, i) => sum + v * b[i]!, 0);

/** The least change of coefficients that gives planes facing up and down the light `up` and `down` (E/pi). */
function constrain(sh: Float64Array, up: number, down: number): void {
  const lobes = ([1, -1] as const).map((y) => basisOf([0, y, 0]).map((b, i) => b * DIFFUSE_LOBE[i]!));
  const [u, d] = lobes as [Float64Array, Float64Array];
  const [own, cross] = [dot(u, u), dot(u, d)];
  const [a, b] = [up - dot(u, sh), down - dot(d, sh)];
  const det = own * own - cross * cross;
  for (let i = 0; i < SH_COUNT; i++) sh[i]! += ((own * a - cross * b) / det) * u[i]! + ((own * b - cross * a) / det) * d[i]!;
}

/** Directions evenly over the sphere (a Fibonacci spiral), as their basis. */
const EVERYWHERE = Array.from({ length: 160 }, (_, i) => {
  const up = 1 - (2 * (i + 0.5)) / 160;
  const phi = i * 2.399963229728653;
  const level = Math.sqrt(1 - up * up);
  return basisOf([Math.cos(phi) * level, up, Math.sin(phi) * level]);
});

const lowest = (sh: Float64Array) => EVERYWHERE.reduce((low, basis) => Math.min(low, dot(basis, sh)), Infinity);

/** Value of a projected function towards a unit direction. */
export function evaluateSh(sh: ShRgb, direction: Readonly<Vec3>): Rgb {
  const basis = new Float64Array(SH_COUNT);
  shBasis(direction[0], direction[1], direction[2], basis);
  return [0, 1, 2].map((c) => basis.reduce((sum, b, i) => sum + b * sh[i * 3 + c]!, 0)) as Rgb;
}

/**
 * Factors that turn radiance coefficients into E/pi, the radiance of a white diffuser facing a direction: 1, 2/3, 1/4
 * for l = 0, 1, 2 (Ramamoorthi & Hanrahan 2001, eq. 8, divided by pi).
 */
export const DIFFUSE_LOBE = [1, 2 / 3, 2 / 3, 2 / 3, 1 / 4, 1 / 4, 1 / 4, 1 / 4, 1 / 4] as const;

/** Coefficients of E/pi over the facing direction, from those of the radiance around, in cd/m2. */
export function diffuseSh(radiance: ShRgb): ShRgb {
  return radiance.map((v, i) => v * DIFFUSE_LOBE[Math.floor(i / 3)]!);
}

/**
 * Coefficients of the radiance around that gives surfaces facing up, to any side and down the light asked for (E/pi): the one
 * sky of three zonal harmonics that does. Between those three the light goes over smoothly.
 *
 * @returns 27 coefficients, in the unit of the light
 */
export function facingSh({ up, side, down }: FaceLight): ShRgb {
  const out = new Float32Array(SH_COUNT * 3);
  for (let c = 0; c < 3; c++) {
    // E/pi over u, the sine of the facing's elevation, as A + B u + C (3 u^2 - 1).
    const third = ((up[c]! + down[c]!) / 2 - side[c]!) / 3;
    out[c] = (side[c]! + third) / (Y00 * DIFFUSE_LOBE[0]);
    out[2 * 3 + c] = (up[c]! - down[c]!) / 2 / (Y1 * DIFFUSE_LOBE[2]);
    out[6 * 3 + c] = third / (Y20 * DIFFUSE_LOBE[6]);
  }
  return out;
}

const HALF_SPHERE_NODES = gaussLegendre(16);

/** Illuminance that a radiance gives on a level plane from above, RGB lux, from its harmonics: E = pi times the diffuse lobe facing up. */
export function horizontalIlluminance(sh: ShRgb): Rgb {
  // Facing up only (0,0), (1,0) and (2,0) are other than nought.
  return [0, 1, 2].map(
    (c) =>
      Math.PI *
      (0.5 * Math.sqrt(1 / Math.PI) * sh[c]! +
        (2 / 3) * Math.sqrt(3 / (4 * Math.PI)) * sh[2 * 3 + c]! +
        (1 / 4) * 0.25 * Math.sqrt(5 / Math.PI) * 2 * sh[6 * 3 + c]!),
  ) as Rgb;
}
