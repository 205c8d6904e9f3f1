import { phaseCornetteShanks, phaseRayleigh } from './phase';
import { GROUND_M, densitiesAt, type Air } from './air';
import type { Rgb } from '../../units';
import type { AirTables } from './tables';
import { CHANNELS, distanceToGround, distanceToTop } from './transmittance';

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
  width: number;
  height: number;
  /** RGB, row by row from straight down to the zenith. */
  data: Float32Array;
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
  const march = createMarch(air, tables);
  const out = new Float64Array(3);
  const nudge = 1e-5;
  for (let row = 0; row < HEIGHT; row++) {
    // The two rows next to the horizon look just over and just under it.
    const aim = elevationOf(row, horizon) + (row === HEIGHT / 2 ? nudge : row === HEIGHT / 2 - 1 ? -nudge : 0);
    for (let column = 0; column < WIDTH; column++) {
      const azimuth = Math.PI * (column / (WIDTH - 1)) ** NEAR_SUN;
      march(GROUND_M + eye, aim, azimuth, sunElevationRad, out);
      data.set(out, (row * WIDTH + column) * 3);
    }
  }
  return { width: WIDTH, height: HEIGHT, data };
}

/** Adds the view's radiance at an azimuth from the sun and an elevation (radians), times a gain per primary, to `out`. */
export type SkyLookup = (azimuthRad: number, elevationRad: number, gain: Rgb, out: Float64Array) => void;

/** Prepares looking a view up; a row of equal elevations costs little more than its columns. */
export function createSkyLookup({ data }: SkyView, horizon: number): SkyLookup {
  const half = HEIGHT / 2;
  let lastElevation = NaN;
  let row = 0;
  let fy = 0;
  return (azimuthRad, elevationRad, gain, out) => {
    if (elevationRad !== lastElevation) {
      lastElevation = elevationRad;
      const y = rowOf(elevationRad, horizon);
      // Never across the horizon.
      row = elevationRad >= horizon ? Math.min(HEIGHT - 2, Math.max(half, Math.floor(y))) : Math.min(half - 2, Math.max(0, Math.floor(y)));
      fy = Math.min(1, Math.max(0, y - row));
    }
    const around = Math.abs(azimuthRad) % (2 * Math.PI);
    const side = (around > Math.PI ? 2 * Math.PI - around : around) / Math.PI;
    // side ** (2 / 3), the inverse of NEAR_SUN.
    const x = Math.cbrt(side * side) * (WIDTH - 1);
    const x0 = Math.min(WIDTH - 2, Math.floor(x));
    const fx = x - x0;
    const a = (row * WIDTH + x0) * 3;
    const b = a + WIDTH * 3;
    const waa = (1 - fx) * (1 - fy);
    const wab = fx * (1 - fy);
    const wba = (1 - fx) * fy;
    const wbb = fx * fy;
    for (let c = 0; c < 3; c++) {
      out[c]! += gain[c]! * (waa * data[a + c]! + wab * data[a + 3 + c]! + wba * data[b + c]! + wbb * data[b + 3 + c]!);
    }
  };
}

type March = (radiusM: number, elevationRad: number, azimuthRad: number, sunElevationRad: number, out: Float64Array) => void;

/**
 * Makes the function that adds up light along a line of sight: light of the sun scattered once by its true phase functions,
 * light scattered more than once evenly, and the ground where it is met.
 *
 * @returns writes the radiance for a sun of 1 lux into `out`
 */
export function createMarch(air: Air, { transmittance, diffuse }: AirTables): March {
  const through = new Float64Array(CHANNELS);
  const mean = new Float64Array(3);
  const lit = new Float64Array(3);
  return (radius, elevation, azimuth, sunElevation, out) => {
    const cosView = Math.sin(elevation);
    const sinView = Math.cos(elevation);
    const [sinSun, cosSunLevel] = [Math.sin(sunElevation), Math.cos(sunElevation)];
    const cosAngle = sinView * cosSunLevel * Math.cos(azimuth) + cosView * sinSun;
    const ground = distanceToGround(radius, cosView);
    const length = Math.min(ground, distanceToTop(radius, cosView));
    const rayleigh = phaseRayleigh(cosAngle);
    const mie = phaseCornetteShanks(cosAngle, air.hazeForward);
    let [tr, tg, tb] = [1, 1, 1];
    out.fill(0);
    for (let i = 0; i < STEPS; i++) {
      const [from, to] = [(i / STEPS) ** 2 * length, ((i + 1) / STEPS) ** 2 * length];
      const step = to - from;
      const s = (from + to) / 2;
      const r = Math.sqrt(radius * radius + s * s + 2 * radius * s * cosView);
      // The sun's zenith angle there: the vertical turns along a long line of sight.
      const up = (radius * sinSun + s * cosAngle) / r;
      const height = Math.max(0, r - GROUND_M);
      const d = densitiesAt(air, height);
      transmittance.look(r, up, through);
      diffuse.look(height, up, mean);
      for (let c = 0; c < 3; c++) {
        const molecules = air.molecules[c]! * d.molecules;
        const haze = air.haze[c]! * d.haze;
        const even = molecules + haze * (1 - air.hazeForward);
        const extinction = even + air.hazeAbsorption[c]! * d.haze + air.absorption[c]! * d.absorption;
        const source =
          through[c]! * (molecules * rayleigh + haze * mie) + even * (mean[c]! + (through[3 + c]! - through[c]!) / (4 * Math.PI));
        const fall = Math.exp(-extinction * step);
        // The source is even over the step, and dimmed within it.
        const gained = extinction > 1e-12 ? (source * (1 - fall)) / extinction : source * step;
        if (c === 0) {
          out[0]! += tr * gained;
          tr *= fall;
        } else if (c === 1) {
          out[1]! += tg * gained;
          tg *= fall;
        } else {
          out[2]! += tb * gained;
          tb *= fall;
        }
      }
    }
    if (ground === Infinity) return;
    const up = (radius * sinSun + ground * cosAngle) / GROUND_M;
    diffuse.groundLux(up, lit);
    for (let c = 0; c < 3; c++) out[c]! += ((c === 0 ? tr : c === 1 ? tg : tb) * air.groundAlbedo[c]! * lit[c]!) / Math.PI;
  };
}
