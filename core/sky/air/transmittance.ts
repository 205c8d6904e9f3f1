import { GROUND_M, TOP_M, densitiesAt, type Air } from './air';

const WIDTH = 128;
const HEIGHT = 48;
const STEPS = 40;
/** Numbers per place: transmittance (RGB), then the same with forward-scattered light counted as not scattered (RGB). */
export const CHANNELS = 6;

/**
 * How much light comes through the air from a height to its top, for every angle: a table in the coordinates of
 * Bruneton & Neyret 2008 (section 4), which put its texels where it bends. Two versions: the true one, and one in which the
 * share `hazeForward` of what haze scatters counts as going straight on.
 */
export interface Transmittance {
  /** Writes {@link CHANNELS} numbers into `out`; nought where the ground stands in the way. */
  look(radiusM: number, cosZenith: number, out: Float64Array): void;
  /**
   * Where a radius lies in the table, for those who look many angles up from it: {@link RING} numbers into `out` at `at`, as
   * {@link lookOnRing} reads them.
   */
  ring(radiusM: number, out: Float64Array, at: number): void;
  /** {@link CHANNELS} numbers a place. */
  table: Float32Array;
}

/** Numbers that a radius is described by. */
export const RING = 6;

const HORIZON_TOP = Math.sqrt(TOP_M * TOP_M - GROUND_M * GROUND_M);

/** Distance from a radius to the top of the air along a direction. */
export function distanceToTop(radius: number, cosZenith: number): number {
  const root = radius * radius * (cosZenith * cosZenith - 1) + TOP_M * TOP_M;
  return Math.max(0, -radius * cosZenith + Math.sqrt(Math.max(0, root)));
}

/** Distance to the ground along a direction, or Infinity where it is missed. */
export function distanceToGround(radius: number, cosZenith: number): number {
  const root = radius * radius * (cosZenith * cosZenith - 1) + GROUND_M * GROUND_M;
  return cosZenith < 0 && root >= 0 ? Math.max(0, -radius * cosZenith - Math.sqrt(root)) : Infinity;
}

export function buildTransmittance(air: Air): Transmittance {
  const table = new Float32Array(WIDTH * HEIGHT * CHANNELS);
  for (let y = 0; y < HEIGHT; y++) {
    const rho = (HORIZON_TOP * y) / (HEIGHT - 1);
    const radius = Math.sqrt(rho * rho + GROUND_M * GROUND_M);
    const [nearest, farthest] = [TOP_M - radius, rho + HORIZON_TOP];
    for (let x = 0; x < WIDTH; x++) {
      const distance = nearest + ((farthest - nearest) * x) / (WIDTH - 1);
      const cosZenith = distance === 0 ? 1 : (HORIZON_TOP * HORIZON_TOP - rho * rho - distance * distance) / (2 * radius * distance);
      const at = (y * WIDTH + x) * CHANNELS;
      const { molecules, haze, absorption } = column(air, radius, Math.max(-1, Math.min(1, cosZenith)), distance);
      for (let c = 0; c < 3; c++) {
        const fixed = air.molecules[c]! * molecules + air.absorption[c]! * absorption;
        const mie = (air.haze[c]! + air.hazeAbsorption[c]!) * haze;
        table[at + c] = Math.exp(-fixed - mie);
        table[at + 3 + c] = Math.exp(-fixed - mie + air.haze[c]! * air.hazeForward * haze);
      }
    }
  }
  const own = new Float64Array(RING);
  const ring = (radius: number, out: Float64Array, at: number) => {
    const rho = Math.sqrt(Math.max(0, radius * radius - GROUND_M * GROUND_M));
    const y = Math.min(1, rho / HORIZON_TOP) * (HEIGHT - 1);
    const y0 = Math.min(HEIGHT - 2, Math.floor(y));
    const nearest = TOP_M - radius;
    const span = rho + HORIZON_TOP - nearest;
    out[at] = radius;
    // Under this cosine the ground is in the way.
    out[at + 1] = radius > GROUND_M ? -rho / radius : 0;
    out[at + 2] = nearest;
    out[at + 3] = span > 0 ? (WIDTH - 1) / span : 0;
    out[at + 4] = y0 * WIDTH * CHANNELS;
    out[at + 5] = y - y0;
  };
  return {
    table,
    ring,
    look(radiusM, cosZenith, out) {
      ring(radiusM, own, 0);
      lookOnRing(table, own, 0, cosZenith, out);
    },
  };
}

/** {@link Transmittance.look} from a radius that was prepared by {@link Transmittance.ring}. */
export function lookOnRing(table: Float32Array, ring: Float64Array, at: number, cosZenith: number, out: Float64Array): void {
  if (cosZenith < ring[at + 1]!) {
    for (let c = 0; c < CHANNELS; c++) out[c] = 0;
    return;
  }
  const radius = ring[at]!;
  const toTop = Math.sqrt(Math.max(0, radius * radius * (cosZenith * cosZenith - 1) + TOP_M * TOP_M)) - radius * cosZenith;
  const x = Math.min(WIDTH - 1, Math.max(0, (toTop - ring[at + 2]!) * ring[at + 3]!));
  const x0 = Math.min(WIDTH - 2, Math.floor(x));
  const fx = x - x0;
  const fy = ring[at + 5]!;
  const a = ring[at + 4]! + x0 * CHANNELS;
  const b = a + WIDTH * CHANNELS;
  const waa = (1 - fx) * (1 - fy);
  const wab = fx * (1 - fy);
  const wba = (1 - fx) * fy;
  const wbb = fx * fy;
  for (let c = 0; c < CHANNELS; c++) {
    out[c] = waa * table[a + c]! + wab * table[a + CHANNELS + c]! + wba * table[b + c]! + wbb * table[b + CHANNELS + c]!;
  }
}

/** Densities added up along a ray to the top of the air: metres of sea-level air. Steps lie closer together near its start. */
function column(air: Air, radius: number, cosZenith: number, distance: number) {
  const sum = { molecules: 0, haze: 0, absorption: 0 };
  for (let i = 0; i < STEPS; i++) {
    const [from, to] = [(i / STEPS) ** 2 * distance, ((i + 1) / STEPS) ** 2 * distance];
    const s = (from + to) / 2;
    const height = Math.sqrt(radius * radius + s * s + 2 * radius * s * cosZenith) - GROUND_M;
    const density = densitiesAt(air, Math.max(0, height));
    sum.molecules += density.molecules * (to - from);
    sum.haze += density.haze * (to - from);
    sum.absorption += density.absorption * (to - from);
  }
  return sum;
}
