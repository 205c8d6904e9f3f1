import { phaseCornetteShanks, phaseRayleigh } from './phase';
import { GROUND_M, densitiesAt, type Air } from './air';
import type { Rgb } from '../../units';
import type { AirTables } from './tables';
import { CHANNELS, RING, distanceToGround, distanceToTop, lookOnRing } from './transmittance';

const WIDTH = 48;
const HEIGHT = 96;
const STEPS = 26;
/** Columns lie closer together towards the sun's azimuth, where haze makes the sky bend most. */
const NEAR_SUN = 1.5;

/**
 * Radiance of the whole sphere around an eye for a sun of 1 lux (white, above the air) at one height: a table over the
 * azimuth from the sun (0..180 degrees, both sides are alike) and the elevation, denser near the horizon (Hillaire 2020,
 * section 5.3). Below the horizon it holds the planet's ground seen through the air. Without the sun's disc.
 */
export interface SkyView {
  /** RGB, row by row from straight down to the zenith: the rows above the horizon, or those below it, are worked out when they are first asked for. */
  rows(above: boolean): Float32Array;
}

/** Row of an elevation (sine), 0 straight down, HEIGHT - 1 at the zenith; the horizon lies half way between two rows. */
const rowOf = (elevation: number, horizon: number) => {
  const t = elevation >= horizon ? (elevation - horizon) / (Math.PI / 2 - horizon) : (horizon - elevation) / (Math.PI / 2 + horizon);
  const half = HEIGHT / 2;
  return elevation >= horizon ? half + Math.sqrt(t) * (half - 1) : half - 1 - Math.sqrt(t) * (half - 1);
};
const elevationOf = (row: number, horizon: number) => {
  const half = HEIGHT / 2;
  if (row >= half) return horizon + ((row - half) / (half - 1)) ** 2 * (Math.PI / 2 - horizon);
  return horizon - ((half - 1 - row) / (half - 1)) ** 2 * (Math.PI / 2 + horizon);
};

/** Elevation of the horizon seen from a height, radians: the dip below level. */
export const horizonElevation = (heightM: number) => -Math.acos(GROUND_M / (GROUND_M + heightM));

/** Height of the eye that air is looked at from where it stands on the ground, metres. */
const EYE_M = 2;

export function buildSkyView(air: Air, tables: AirTables, sunElevationRad: number, heightM: number): SkyView {
  const eye = heightM + EYE_M;
  const horizon = horizonElevation(eye);
  const data = new Float32Array(WIDTH * HEIGHT * 3);
  const nudge = 1e-5;
  // The two rows next to the horizon look just over and just under it.
  const aims = Float64Array.from(
    { length: HEIGHT },
    (_, row) => elevationOf(row, horizon) + (row === HEIGHT / 2 ? nudge : row === HEIGHT / 2 - 1 ? -nudge : 0),
  );
  const march = createMarch(air, tables, GROUND_M + eye, aims);
  const out = new Float64Array(3);
  const isKnown = { above: false, below: false };
  return {
    rows(above) {
      const half = above ? 'above' : 'below';
      if (isKnown[half]) return data;
      isKnown[half] = true;
      const first = above ? HEIGHT / 2 : 0;
      for (let row = first; row < first + HEIGHT / 2; row++) {
        for (let column = 0; column < WIDTH; column++) {
          const azimuth = Math.PI * (column / (WIDTH - 1)) ** NEAR_SUN;
          march(row, azimuth, sunElevationRad, out);
          data.set(out, (row * WIDTH + column) * 3);
        }
      }
      return data;
    },
  };
}

/** Adds the view's radiance at an azimuth from the sun and an elevation (radians), times a gain per primary, to `out`. */
export type SkyLookup = (azimuthRad: number, elevationRad: number, gain: Rgb, out: Float64Array) => void;

/** Prepares looking a view up; a run of equal elevations is blended to one row, and costs little more than its columns. */
export function createSkyLookup(view: SkyView, horizon: number): SkyLookup {
  const half = HEIGHT / 2;
  const blended = new Float64Array(WIDTH * 3);
  let isBlended = false;
  let lastElevation = NaN;
  let row = 0;
  let fy = 0;
  let data: Float32Array = new Float32Array(0);
  const at = (i: number) => data[row * WIDTH * 3 + i]! * (1 - fy) + data[(row + 1) * WIDTH * 3 + i]! * fy;
  return (azimuthRad, elevationRad, gain, out) => {
    if (elevationRad !== lastElevation) {
      lastElevation = elevationRad;
      isBlended = false;
      const above = elevationRad >= horizon;
      data = view.rows(above);
      const y = rowOf(elevationRad, horizon);
      // Never across the horizon.
      row = above ? Math.min(HEIGHT - 2, Math.max(half, Math.floor(y))) : Math.min(half - 2, Math.max(0, Math.floor(y)));
      fy = Math.min(1, Math.max(0, y - row));
    } else if (!isBlended) {
      for (let i = 0; i < WIDTH * 3; i++) blended[i] = at(i);
      isBlended = true;
    }
    const around = Math.abs(azimuthRad) % (2 * Math.PI);
    const side = (around > Math.PI ? 2 * Math.PI - around : around) / Math.PI;
    // side ** (2 / 3), the inverse of NEAR_SUN.
    const x = Math.cbrt(side * side) * (WIDTH - 1);
    const x0 = Math.min(WIDTH - 2, Math.floor(x));
    const fx = x - x0;
    const a = x0 * 3;
    if (isBlended) for (let c = 0; c < 3; c++) out[c]! += gain[c]! * (blended[a + c]! * (1 - fx) + blended[a + 3 + c]! * fx);
    else for (let c = 0; c < 3; c++) out[c]! += gain[c]! * (at(a + c) * (1 - fx) + at(a + 3 + c) * fx);
  };
}

/**
 * Writes the radiance for a sun of 1 lux into `out`, seen along the line of sight `row` at an azimuth from the sun; angles in
 * radians.
 */
type March = (row: number, azimuthRad: number, sunElevationRad: number, out: Float64Array) => void;

/** What every point of a line of sight adds, whatever the sun: numbers for one point. */
const PARTS = 9;

/**
 * Makes the function that adds up light along lines of sight from one radius (metres from the planet's middle) at given
 * elevations: light of the sun scattered once by its true phase functions, light scattered more than once evenly, and the
 * ground where it is met. All that does not hang on the sun is worked out beforehand.
 */
export function createMarch(air: Air, { transmittance, diffuse }: AirTables, radiusM: number, elevationsRad: ArrayLike<number>): March {
  const { table } = transmittance;
  const rings: Float64Array[] = [];
  const layers: Float64Array[] = [];
  const rays: Ray[] = [];
  const lay = (row: number): Ray => {
    const ray = (rays[row] = layRay(air, radiusM, elevationsRad[row]!));
    const ring = (rings[row] = new Float64Array(STEPS * RING));
    ray.radii.forEach((r, i) => transmittance.ring(r, ring, i * RING));
    layers[row] = ray.radii.map((r) => diffuse.layer(r - GROUND_M));
    return ray;
  };
  const through = new Float64Array(CHANNELS);
  const mean = new Float64Array(3);
  return (row, azimuth, sunElevation, out) => {
    const { distances, radii, parts, sinElevation, cosElevation, ground, left } = rays[row] ?? lay(row);
    const ring = rings[row]!;
    const layer = layers[row]!;
    const sinSun = Math.sin(sunElevation);
    const cosAngle = cosElevation * Math.cos(sunElevation) * Math.cos(azimuth) + sinElevation * sinSun;
    const rayleigh = phaseRayleigh(cosAngle);
    const mie = phaseCornetteShanks(cosAngle, air.hazeForward);
    const rise = radiusM * sinSun;
    let [red, green, blue] = [0, 0, 0];
    for (let i = 0; i < STEPS; i++) {
      // The sun's zenith angle there: the vertical turns along a long line of sight.
      const up = (rise + distances[i]! * cosAngle) / radii[i]!;
      lookOnRing(table, ring, i * RING, up, through);
      diffuse.look(layer[i]!, up, mean);
      const at = i * PARTS;
      red +=
        through[0]! * (parts[at]! * rayleigh + parts[at + 3]! * mie) + parts[at + 6]! * (mean[0]! + (through[3]! - through[0]!) * EVEN);
      green +=
        through[1]! * (parts[at + 1]! * rayleigh + parts[at + 4]! * mie) + parts[at + 7]! * (mean[1]! + (through[4]! - through[1]!) * EVEN);
      blue +=
        through[2]! * (parts[at + 2]! * rayleigh + parts[at + 5]! * mie) + parts[at + 8]! * (mean[2]! + (through[5]! - through[2]!) * EVEN);
    }
    out[0] = red;
    out[1] = green;
    out[2] = blue;
    if (ground === Infinity) return;
    diffuse.groundLux((rise + ground * cosAngle) / GROUND_M, mean);
    for (let c = 0; c < 3; c++) out[c]! += (left[c]! * air.groundAlbedo[c]! * mean[c]!) / Math.PI;
  };
}

/** Phase function of what goes evenly to all sides. */
const EVEN = 1 / (4 * Math.PI);

/** A line of sight cut in steps. */
interface Ray {
  sinElevation: number;
  cosElevation: number;
  /** Distance to the ground, Infinity where it is missed. */
  ground: number;
  /** Of each step's middle: distance from the eye, and radius from the planet's middle. */
  distances: Float64Array;
  radii: Float64Array;
  /**
   * For each step and primary, seen from the eye: light that molecules scatter, that haze scatters and that goes evenly to all
   * sides, for 1 of light there. The source is even over a step and dimmed within it.
   */
  parts: Float64Array;
  /** Share of light that comes through the whole line. */
  left: Rgb;
}

function layRay(air: Air, radiusM: number, elevation: number): Ray {
  const sinElevation = Math.sin(elevation);
  const ground = distanceToGround(radiusM, sinElevation);
  const length = Math.min(ground, distanceToTop(radiusM, sinElevation));
  const distances = new Float64Array(STEPS);
  const radii = new Float64Array(STEPS);
  const parts = new Float64Array(STEPS * PARTS);
  const left: Rgb = [1, 1, 1];
  for (let i = 0; i < STEPS; i++) {
    const [from, to] = [(i / STEPS) ** 2 * length, ((i + 1) / STEPS) ** 2 * length];
    const s = (from + to) / 2;
    const r = Math.sqrt(radiusM * radiusM + s * s + 2 * radiusM * s * sinElevation);
    distances[i] = s;
    radii[i] = r;
    const d = densitiesAt(air, Math.max(0, r - GROUND_M));
    for (let c = 0; c < 3; c++) {
      const molecules = air.molecules[c]! * d.molecules;
      const haze = air.haze[c]! * d.haze;
      const even = molecules + haze * (1 - air.hazeForward);
      const extinction = even + air.hazeAbsorption[c]! * d.haze + air.absorption[c]! * d.absorption;
      const fall = Math.exp(-extinction * (to - from));
      const seen = left[c]! * (extinction > 1e-12 ? (1 - fall) / extinction : to - from);
      parts[i * PARTS + c] = seen * molecules;
      parts[i * PARTS + 3 + c] = seen * haze;
      parts[i * PARTS + 6 + c] = seen * even;
      left[c]! *= fall;
    }
  }
  return { sinElevation, cosElevation: Math.cos(elevation), ground, distances, radii, parts, left };
}
