import type { Rgb, Vec3 } from '../units';
import { SH_COUNT, evaluateSh, facingSh, shBasis } from './sphericalHarmonics';
import { addToned, skyRadiance, type Sky, type SkyPart } from './sky';
import { gaussLegendre } from './quadrature';
import { AUREOLE_COUNT, AUREOLE_HALVES, aureolesBasis, type Aureoles } from './aureole';

/** Functions over the upper half of the sphere: spherical harmonics of order 4, stretched. */
const UPPER = 16;
/** Functions over the lower half: spherical harmonics of order 3. */
const LOWER = SH_COUNT;
/** Coefficients of the basis. */
export const DOME_COUNT = UPPER + LOWER;

/** Where the functions of each half begin; the first of each is the same all over its half. */
const FIRST = { upper: 0, lower: UPPER } as const;
export const DOME_LOWER = FIRST.lower;
/**
 * Functions that tell a sky roughly: the upper half's mean and slope, and the lower half's mean. What a sky gives from far and wide, as light that has
 * bounced does, hardly knows of more.
 */
export const LOW_FUNCTIONS: readonly number[] = [0, 1, 2, 3, FIRST.lower];

/**
 * A basis for the radiance of skies, two sets of functions that know nothing of one another: real orthonormal spherical harmonics
 * of order 4 over the upper half of the sphere, with the height y (0..1) stretched to 2 sqrt(y) - 1 before, and of order 3 as they are
 * over the lower half.
 *
 * A sky breaks at the horizon, is brightest and changes fastest just over it, and what lies under it is another thing. Harmonics over
 * the whole sphere ring about that edge: on the demo's skies sixteen of them (order 4) miss 5 to 12 % of the light that texels gather;
 * these 25, fitted to each half alone, miss 0.4 to 2.5 % from sunrise to sunset (`npm run bench`, *sky*).
 *
 * Axes are those of `shBasis`. Writes {@link DOME_COUNT} numbers into `out`; those of the half that the direction is not in are 0.
 */
export function domeBasis(dx: number, dy: number, dz: number, out: Float64Array | number[]): void {
  if (dy < 0) {
    for (let i = 0; i < UPPER; i++) out[i] = 0;
    shBasis(dx, dy, dz, out, FIRST.lower);
    return;
  }
  for (let i = FIRST.lower; i < DOME_COUNT; i++) out[i] = 0;
  const z = 2 * Math.sqrt(dy) - 1;
  const level = dx * dx + dz * dz;
  const k = level > 0 ? Math.sqrt((1 - z * z) / level) : 0;
  shBasis(dx * k, z, dz * k, out);
  band3(dx * k, -dz * k, z, out, SH_COUNT);
}

const Y33 = 0.25 * Math.sqrt(35 / (2 * Math.PI));
const Y32 = 0.5 * Math.sqrt(105 / Math.PI);
const Y31 = 0.25 * Math.sqrt(21 / (2 * Math.PI));
const Y30 = 0.25 * Math.sqrt(7 / Math.PI);

/** Band l = 3 of a unit vector in the axes of the basis. */
function band3(x: number, y: number, z: number, out: Float64Array | number[], at: number): void {
  const zz = 5 * z * z - 1;
  out[at] = Y33 * y * (3 * x * x - y * y);
  out[at + 1] = Y32 * x * y * z;
  out[at + 2] = Y31 * y * zz;
  out[at + 3] = Y30 * z * (5 * z * z - 3);
  out[at + 4] = Y31 * x * zz;
  out[at + 5] = 0.5 * Y32 * z * (x * x - y * y);
  out[at + 6] = Y33 * x * (x * x - 3 * y * y);
}

const NO_AUREOLES: Aureoles = [];

/** Numbers of a basis with functions about low suns after the {@link DOME_COUNT} of every sky. */
export const domeCount = (aureoles: Aureoles): number => DOME_COUNT + AUREOLE_COUNT * aureoles.length;

/** Writes all functions of a basis, {@link domeCount} numbers: {@link domeBasis}, then {@link aureolesBasis}. */
export function fullBasis(aureoles: Aureoles, dx: number, dy: number, dz: number, out: Float64Array | number[]): void {
  domeBasis(dx, dy, dz, out);
  aureolesBasis(aureoles, dx, dy, dz, out, DOME_COUNT);
}

/** The functions of one half, and the directions of it that a radiance is looked up in, with what they count for. */
interface Half {
  /** Their places in the basis. */
  functions: number[];
  nodes: { direction: Vec3; basis: Float64Array; solidAngle: number }[];
  /** Lower triangle of the Cholesky factor of the functions' products over the half. */
  factor: Float64Array;
  /** Light that each function gives a level plane facing this half, E/pi. */
  onLevel: Float64Array;
  /** The least change of coefficients that changes that light by 1. */
  towards: Float64Array;
  /** Those of the functions that are {@link LOW_FUNCTIONS}, and row by row what each of them is of every function, fitted as a radiance is. */
  low: { functions: number[]; matrix: Float64Array };
}

/** Places of the functions that are not 0 in a half. */
function functionsOf(side: 'upper' | 'lower', aureoles: Aureoles): number[] {
  const own = Array.from({ length: side === 'upper' ? UPPER : LOWER }, (_, i) => FIRST[side] + i);
  const about = aureoles.flatMap((_, a) => AUREOLE_HALVES[side].map((k) => DOME_COUNT + AUREOLE_COUNT * a + k));
  return [...own, ...about];
}

function createHalf(side: 'upper' | 'lower', aureoles: Aureoles, elevations: number, around: number): Half {
  const sign = side === 'upper' ? 1 : -1;
  const functions = functionsOf(side, aureoles);
  const count = functions.length;
  const all = new Float64Array(domeCount(aureoles));
  const nodes: Half['nodes'] = [];
  for (const { node, weight } of gaussLegendre(elevations)) {
    // Close together at the horizon: y is the square of the node.
    const up = node * node;
    const level = Math.sqrt(1 - up * up);
    for (let k = 0; k < around; k++) {
      const phi = ((k + 0.5) * 2 * Math.PI) / around;
      const direction: Vec3 = [Math.sin(phi) * level, sign * up, -Math.cos(phi) * level];
      fullBasis(aureoles, ...direction, all);
      nodes.push({
        direction,
        basis: Float64Array.from(functions, (i) => all[i]!),
        solidAngle: (2 * node * weight * 2 * Math.PI) / around,
      });
    }
  }
  const products = new Float64Array(count * count);
  const onLevel = new Float64Array(count);
  for (const { direction, basis, solidAngle } of nodes) {
    for (let i = 0; i < count; i++) {
      onLevel[i]! += (basis[i]! * Math.abs(direction[1]) * solidAngle) / Math.PI;
      for (let j = 0; j <= i; j++) products[i * count + j]! += basis[i]! * basis[j]! * solidAngle;
    }
  }
  const factor = cholesky(products, count);
  const towards = solve(factor, onLevel.slice());
  const own = towards.reduce((sum, v, i) => sum + v * onLevel[i]!, 0);
  return { functions, nodes, factor, onLevel, towards: towards.map((v) => v / own), low: fitLow(functions, products, onLevel) };
}

/** How the functions of a half are told by its {@link LOW_FUNCTIONS} alone: by least squares, the light on a level plane kept. */
function fitLow(functions: readonly number[], products: Float64Array, onLevel: Float64Array): Half['low'] {
  const count = functions.length;
  const places = functions.flatMap((f, i) => (LOW_FUNCTIONS.includes(f) ? [i] : []));
  const product = (i: number, j: number) => products[Math.max(i, j) * count + Math.min(i, j)]!;
  const few = places.length;
  const factor = cholesky(
    Float64Array.from({ length: few * few }, (_, k) => product(places[Math.floor(k / few)]!, places[k % few]!)),
    few,
  );
  const level = places.map((i) => onLevel[i]!);
  const lightOf = (fit: Float64Array) => fit.reduce((sum, v, k) => sum + v * level[k]!, 0);
  const towards = solve(factor, Float64Array.from(level));
  const matrix = new Float64Array(few * count);
  for (let f = 0; f < count; f++) {
    const fit = solve(
      factor,
      Float64Array.from(places, (i) => product(i, f)),
    );
    const missing = (onLevel[f]! - lightOf(fit)) / lightOf(towards);
    fit.forEach((v, k) => (matrix[k * count + f] = v + missing * towards[k]!));
  }
  return { functions: places.map((i) => functions[i]!), matrix };
}

/** The lower triangle L of a positive definite matrix L L^T. */
function cholesky(matrix: Float64Array, n: number): Float64Array {
  const out = matrix.slice();
  for (let j = 0; j < n; j++) {
    for (let i = j; i < n; i++) {
      let sum = out[i * n + j]!;
      for (let k = 0; k < j; k++) sum -= out[i * n + k]! * out[j * n + k]!;
      out[i * n + j] = i === j ? Math.sqrt(sum) : sum / out[j * n + j]!;
    }
  }
  return out;
}

/** Solves L L^T x = b in place. */
function solve(factor: Float64Array, b: Float64Array): Float64Array {
  const n = b.length;
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) b[i]! -= factor[i * n + k]! * b[k]!;
    b[i]! /= factor[i * n + i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) b[i]! -= factor[k * n + i]! * b[k]!;
    b[i]! /= factor[i * n + i]!;
  }
  return b;
}

const halves = new WeakMap<Aureoles, Half[]>();
/** Made when first asked for. */
function bothHalves(aureoles: Aureoles): Half[] {
  let own = halves.get(aureoles);
  if (!own) halves.set(aureoles, (own = [createHalf('upper', aureoles, 20, 72), createHalf('lower', aureoles, 16, 72)]));
  return own;
}

/** RGB coefficients, {@link domeCount} triples one after another, in the unit of what was projected. */
export type DomeRgb = Float32Array;

/**
 * Fits a radiance by least squares over each half of the sphere, and moves the fit, as little as may be, until the light on level planes
 * facing up and down is exact.
 *
 * @param radiance value towards a unit direction
 */
export function projectDome(radiance: (direction: Readonly<Vec3>) => Rgb, aureoles: Aureoles = NO_AUREOLES): DomeRgb {
  const out = new Float32Array(domeCount(aureoles) * 3);
  for (const { functions, nodes, factor, onLevel, towards } of bothHalves(aureoles)) {
    const count = functions.length;
    const sums = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
    const level = [0, 0, 0];
    for (const { direction, basis, solidAngle } of nodes) {
      const rgb = radiance(direction);
      for (let c = 0; c < 3; c++) {
        const value = rgb[c]! * solidAngle;
        level[c]! += (value * Math.abs(direction[1])) / Math.PI;
        for (let i = 0; i < count; i++) sums[c]![i]! += basis[i]! * value;
      }
    }
    for (let c = 0; c < 3; c++) {
      const fit = solve(factor, sums[c]!);
      const missing = level[c]! - fit.reduce((sum, v, i) => sum + v * onLevel[i]!, 0);
      for (let i = 0; i < count; i++) out[functions[i]! * 3 + c] = fit[i]! + missing * towards[i]!;
    }
  }
  return out;
}

/** A projected radiance as its {@link LOW_FUNCTIONS} alone tell it: RGB for each of them, in their order. */
export function lowDome(dome: DomeRgb, aureoles: Aureoles = NO_AUREOLES): Float32Array {
  const out = new Float32Array(LOW_FUNCTIONS.length * 3);
  for (const { functions, low } of bothHalves(aureoles)) {
    low.functions.forEach((f, k) => {
      const to = LOW_FUNCTIONS.indexOf(f) * 3;
      for (let i = 0; i < functions.length; i++) {
        const part = low.matrix[k * functions.length + i]!;
        for (let c = 0; c < 3; c++) out[to + c]! += part * dome[functions[i]! * 3 + c]!;
      }
    });
  }
  return out;
}

/** Value of a projected radiance towards a unit direction. */
export function evaluateDome(dome: DomeRgb, direction: Readonly<Vec3>, aureoles: Aureoles = NO_AUREOLES): Rgb {
  const basis = new Float64Array(domeCount(aureoles));
  fullBasis(aureoles, ...direction, basis);
  return [0, 1, 2].map((c) => basis.reduce((sum, b, i) => sum + b * dome[i * 3 + c]!, 0)) as Rgb;
}

/** The radiance that a part of a sky lights with: its own, or what its painted ambient light amounts to. */
function lightingRadiance(part: SkyPart['sky']): (direction: Readonly<Vec3>) => Rgb {
  if (part.kind !== 'bands' || !part.facing) return skyRadiance([{ weight: 1, sky: part }]);
  const sh = facingSh(part.facing);
  return (direction) => evaluateSh(sh, direction);
}

const projected = new WeakMap<Aureoles, WeakMap<SkyPart['sky'], DomeRgb>>();

function projectedPart(sky: SkyPart['sky'], aureoles: Aureoles): DomeRgb {
  let known = projected.get(aureoles);
  if (!known) projected.set(aureoles, (known = new WeakMap()));
  let own = known.get(sky);
  if (!own) known.set(sky, (own = projectDome(lightingRadiance(sky), aureoles)));
  return own;
}

/** Coefficients of the radiance that a sky lights a level with, cd/m2: part by part, so that a fade between skies stays linear. */
export function skyDome(sky: Sky, aureoles: Aureoles = NO_AUREOLES): DomeRgb {
  const sum = new Float32Array(domeCount(aureoles) * 3);
  for (const { weight, sky: part, saturation = 1 } of sky) {
    if (weight > 0) addToned(projectedPart(part, aureoles), weight, saturation, sum);
  }
  return sum;
}
