import { DEG } from '../units';
import type { IesFile } from './readIes';

/** Luminous intensity, candela, towards a unit direction in the lamp's frame: its parts along right, up and forward. */
export type Intensity = (right: number, up: number, forward: number) => number;

/** The two angles of a photometric web for a direction, in degrees, into `out`: vertical first. */
type WebAngles = (right: number, up: number, forward: number, out: [number, number]) => void;

const clampUnit = (v: number) => Math.max(-1, Math.min(1, v));

/**
 * The webs of LM-63 (goniometers of IES LM-75). C: planes through the forward axis, vertical angles from it. A: planes through
 * the up axis, told by the horizontal angle. B: planes through the right axis, told by the vertical angle.
 */
const WEBS: Record<IesFile['type'], WebAngles> = {
  C: (right, up, forward, out) => {
    out[0] = Math.acos(clampUnit(forward)) / DEG;
    const around = Math.atan2(up, right) / DEG;
    out[1] = around < 0 ? around + 360 : around;
  },
  A: (right, up, forward, out) => {
    out[0] = Math.asin(clampUnit(up)) / DEG;
    out[1] = Math.atan2(right, forward) / DEG;
  },
  B: (right, up, forward, out) => {
    out[0] = Math.atan2(up, forward) / DEG;
    out[1] = Math.asin(clampUnit(right)) / DEG;
  },
};

/** Prepares finding the last of ascending values that is not over `v`: at once where they are evenly spaced, as most files have them. */
function finderOf(values: readonly number[]): (v: number) => number {
  const last = values.length - 1;
  const first = values[0]!;
  const step = (values[last]! - first) / last;
  if (last > 0 && values.every((v, i) => Math.abs(v - first - i * step) < 1e-9)) {
    return (v) => {
      const place = Math.floor((v - first) / step);
      return place <= 0 ? 0 : place < last ? place : last;
    };
  }
  return (v) => {
    let [low, high] = [0, last];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (values[middle]! <= v) low = middle;
      else high = middle - 1;
    }
    return low;
  };
}

/** The horizontal angle within what the file states, by the symmetry that its range stands for. */
function folded({ type, horizontal }: IesFile, angle: number): number {
  const [first, last] = [horizontal[0]!, horizontal.at(-1)!];
  if (horizontal.length === 1) return first;
  if (type !== 'C') return first >= 0 ? Math.abs(angle) : angle;
  if (first === 0 && last === 90) return angle <= 90 ? angle : angle <= 180 ? 180 - angle : angle <= 270 ? angle - 180 : 360 - angle;
  if (first === 0 && last === 180) return angle <= 180 ? angle : 360 - angle;
  if (first === 90 && last === 270) return angle < 90 ? 180 - angle : angle > 270 ? 540 - angle : angle;
  return angle;
}

/** Prepares the intensity of a measured distribution: linear between its angles, nought outside of them. */
export function measuredIntensity(file: IesFile): Intensity {
  const { type, vertical, horizontal, candela } = file;
  const rows = vertical.length;
  const angles: [number, number] = [0, 0];
  const [low, high] = [vertical[0]!, vertical.at(-1)!];
  const mirrored = type !== 'C' && low >= 0;
  const [rowAt, placeAt] = [finderOf(horizontal), finderOf(vertical)];
  const closes = type === 'C' && horizontal.length > 1 && horizontal[0]! + 360 > horizontal.at(-1)!;

  const inRow = (row: number, i: number, t: number) => {
    const at = row * rows + i;
    return t === 0 ? candela[at]! : candela[at]! * (1 - t) + candela[at + 1]! * t;
  };
  /** Where a vertical angle lies between two of the file's. */
  const shareOf = (v: number, i: number) =>
    rows > 1 ? Math.min(1, Math.max(0, (v - vertical[i]!) / (vertical[i + 1]! - vertical[i]!))) : 0;
  // Alike all around, as most are: the horizontal angle is not asked for.
  if (type === 'C' && horizontal.length === 1) {
    return (_, __, forward) => {
      const v = Math.acos(clampUnit(forward)) / DEG;
      if (rows > 1 && (v < low - 1e-9 || v > high + 1e-9)) return 0;
      const i = Math.min(Math.max(0, rows - 2), placeAt(v));
      return inRow(0, i, shareOf(v, i));
    };
  }
  return (right, up, forward) => {
    WEBS[type](right, up, forward, angles);
    const v = mirrored ? Math.abs(angles[0]) : angles[0];
    // One angle alone speaks for all.
    if (rows > 1 && (v < low - 1e-9 || v > high + 1e-9)) return 0;
    if (type !== 'C' && Math.abs(angles[1]) > 90 + 1e-9) return 0;
    if (type !== 'C' && forward < -1e-9) return 0;
    const i = Math.min(Math.max(0, rows - 2), placeAt(v));
    const t = shareOf(v, i);
    const h = folded(file, angles[1]);
    const j = rowAt(h);
    if (horizontal.length === 1) return inRow(0, i, t);
    if (type !== 'C' && h < horizontal[0]! - 1e-9) return 0;
    const isLast = j === horizontal.length - 1;
    if (isLast && !closes) return h > horizontal[j]! + 1e-9 && type !== 'C' ? 0 : inRow(j, i, t);
    const next = isLast ? 0 : j + 1;
    const width = isLast ? horizontal[0]! + 360 - horizontal[j]! : horizontal[next]! - horizontal[j]!;
    const s = Math.min(1, Math.max(0, (h - horizontal[j]!) / width));
    return inRow(j, i, t) * (1 - s) + inRow(next, i, t) * s;
  };
}

/** Steps that the flux of a distribution is summed in, each way; angles of files fall on their edges. */
const STEPS = { polar: 720, around: 360 };

/**
 * Flux of an intensity, lumens: the integral over the sphere, by the midpoint rule in equal steps of the polar angle about
 * `axis` and around it. Bands of the web that the distribution was measured in lie along it.
 */
export function fluxOf(intensity: Intensity, axis: 'right' | 'up' | 'forward' = 'forward'): number {
  const { polar, around } = STEPS;
  const [dp, da] = [Math.PI / polar, (2 * Math.PI) / around];
  let sum = 0;
  for (let p = 0; p < polar; p++) {
    const angle = (p + 0.5) * dp;
    const [along, off] = [Math.cos(angle), Math.sin(angle)];
    // The exact share of the sphere that this band has.
    const band = Math.cos(p * dp) - Math.cos((p + 1) * dp);
    let ring = 0;
    for (let a = 0; a < around; a++) {
      const x = off * Math.cos((a + 0.5) * da);
      const y = off * Math.sin((a + 0.5) * da);
      ring += axis === 'forward' ? intensity(x, y, along) : axis === 'up' ? intensity(x, along, y) : intensity(along, x, y);
    }
    sum += ring * da * band;
  }
  return sum;
}

/** Flux of a measured distribution, lumens, over the web that it was measured in. */
export const measuredFlux = (file: IesFile): number =>
  fluxOf(measuredIntensity(file), ({ A: 'up', B: 'right', C: 'forward' } as const)[file.type]);

/**
 * Intensity of a spot over its highest, at an angle off its axis: 1 up to the inner half-angle and 0 from the outer on; between
 * them a straight fall where `softness` is 0, and the smooth step 3 t^2 - 2 t^3 where it is 1.
 */
export function spotShare(
  angleDeg: number,
  { innerDeg, outerDeg, softness }: { innerDeg: number; outerDeg: number; softness: number },
): number {
  if (angleDeg <= innerDeg) return 1;
  if (angleDeg >= outerDeg) return 0;
  const t = (outerDeg - angleDeg) / (outerDeg - innerDeg);
  return t + softness * (t * t * (3 - 2 * t) - t);
}
