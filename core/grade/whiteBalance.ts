import { FROM_XYZ, IDENTITY, TO_XYZ, inverse, product, times, type Matrix3 } from './colorMatrices';
import { KELVIN_RANGE, chromaticityOfKelvin, rgbFromXyz, type Rgb } from '../units';

/** Colour temperature of the white of the display's own colour space, D65: balanced for it, colours stay as they are. */
export const D65_KELVIN = 6504;

/** What is taken for white. */
export interface WhiteBalance {
  /** Colour temperature of the light that is shown neutral, kelvin; {@link D65_KELVIN} leaves colours alone. */
  kelvin: number;
  /** Distance of that light from the daylight locus, in thousandths of Duv: over 0 it is greener. */
  tint: number;
  /** Share by which the light of the scene itself is taken in its place, 0..1. */
  adapt: number;
}

interface Xy {
  x: number;
  y: number;
}

/** Sharpened cone responses of CAT16 (Li et al. 2017, "Comprehensive color solutions: CAM16, CAT16, and CAM16-UCS"). */
const CAT16: Matrix3 = [0.401288, 0.650173, -0.051461, -0.250268, 1.204414, 0.045854, -0.002079, 0.048952, 0.953127];
const FROM_CAT16 = inverse(CAT16);

/** CIE 1960 uv, in which distances off the locus are told (Duv), and back. */
const uvOf = ({ x, y }: Xy) => ({ u: (4 * x) / (-2 * x + 12 * y + 3), v: (6 * y) / (-2 * x + 12 * y + 3) });
const xyOf = ({ u, v }: { u: number; v: number }): Xy => ({ x: (3 * u) / (2 * u - 8 * v + 4), y: (2 * v) / (2 * u - 8 * v + 4) });

const xyOfRgb = (rgb: Readonly<Rgb>): Xy => {
  const [x, y, z] = times(TO_XYZ, rgb);
  return { x: x / (x + y + z), y: y / (x + y + z) };
};

/** Chromaticity of a light of a colour temperature, so many thousandths of Duv off the locus; over 0 it is greener. */
function tintedWhite(kelvin: number, tint: number): Xy {
  const on = chromaticityOfKelvin(kelvin);
  if (tint === 0) return on;
  const { u, v } = uvOf(on);
  // Square to the locus, towards green: up in v.
  const [a, b] = [
    uvOf(chromaticityOfKelvin(Math.min(KELVIN_RANGE[1], kelvin * 1.01))),
    uvOf(chromaticityOfKelvin(Math.max(KELVIN_RANGE[0], kelvin * 0.99))),
  ];
  const [du, dv] = [b.u - a.u, b.v - a.v];
  const length = Math.hypot(du, dv);
  return xyOf({ u: u - (dv / length) * (tint / 1000), v: v + (du / length) * (tint / 1000) });
}

/** What is taken for white: what was chosen, or part of the way from there to the light of the scene. */
function whiteTaken({ kelvin, tint, adapt }: WhiteBalance, sceneWhite: Readonly<Rgb>): Xy {
  const chosen = tintedWhite(kelvin, tint);
  if (adapt === 0) return chosen;
  const [a, b] = [uvOf(chosen), uvOf(xyOfRgb(sceneWhite))];
  return xyOf({ u: a.u + (b.u - a.u) * adapt, v: a.v + (b.v - a.v) * adapt });
}

/** The white of the display: what {@link FROM_XYZ} turns into equal channels. */
const DISPLAY_WHITE = xyOfRgb([1, 1, 1]);
/** The locus passes D65 a hair beside it; that distance is taken off every white, so that balance for D65 is none at all. */
const OFF_LOCUS = (() => {
  const [a, b] = [uvOf(chromaticityOfKelvin(D65_KELVIN)), uvOf(DISPLAY_WHITE)];
  return { u: b.u - a.u, v: b.v - a.v };
})();

/**
 * The matrix on linear Rec. 709 that shows a white as neutral (von Kries in the cone responses of CAT16), its luminance kept.
 * The identity where the white is D65.
 */
export function whiteBalanceMatrix(balance: WhiteBalance, sceneWhite: Readonly<Rgb>): Matrix3 {
  if (balance.kelvin === D65_KELVIN && balance.tint === 0 && balance.adapt === 0) return IDENTITY;
  const taken = uvOf(whiteTaken(balance, sceneWhite));
  const share = 1 - balance.adapt;
  const white = xyOf({ u: taken.u + OFF_LOCUS.u * share, v: taken.v + OFF_LOCUS.v * share });
  const cones = ({ x, y }: Xy) => times(CAT16, [x / y, 1, (1 - x - y) / y]);
  const [from, to] = [cones(white), cones(DISPLAY_WHITE)];
  const gain: Matrix3 = [to[0] / from[0], 0, 0, 0, to[1] / from[1], 0, 0, 0, to[2] / from[2]];
  return product(FROM_XYZ, product(FROM_CAT16, product(gain, product(CAT16, TO_XYZ))));
}

/** The colour, linear Rec. 709 at luminance 1, that a balance without adaptation shows as neutral. */
export function balancedWhite({ kelvin, tint }: Pick<WhiteBalance, 'kelvin' | 'tint'>): Rgb {
  const { u, v } = uvOf(tintedWhite(kelvin, tint));
  const { x, y } = xyOf({ u: u + OFF_LOCUS.u, v: v + OFF_LOCUS.v });
  return rgbFromXyz(x / y, 1, (1 - x - y) / y);
}

/** Furthest tint of a balance, thousandths of Duv. */
export const TINT_RANGE = [-40, 40] as const;

/**
 * The balance that shows a colour as neutral: the nearest point of the locus, and how far off it the colour lies, both within
 * their ranges.
 *
 * @param rgb linear Rec. 709, any strength. Null for black
 */
export function balanceFor(rgb: Readonly<Rgb>): Pick<WhiteBalance, 'kelvin' | 'tint'> | null {
  if (!(Math.max(...rgb) > 0)) return null;
  const seen = uvOf(xyOfRgb(rgb));
  const at = (mired: number) => {
    const { u, v } = uvOf(chromaticityOfKelvin(1e6 / mired));
    return { du: seen.u - u - OFF_LOCUS.u, dv: seen.v - v - OFF_LOCUS.v };
  };
  const [low, high] = [1e6 / KELVIN_RANGE[1], 1e6 / KELVIN_RANGE[0]];
  let [from, to] = [low, high];
  // The distance has one least value along the locus; it is found on ever finer grids.
  for (let round = 0; round < 5; round++) {
    const step = (to - from) / 40;
    const marks = Array.from({ length: 41 }, (_, i) => from + i * step);
    const best = marks.reduce((a, b) => (Math.hypot(at(a).du, at(a).dv) <= Math.hypot(at(b).du, at(b).dv) ? a : b));
    [from, to] = [Math.max(low, best - step), Math.min(high, best + step)];
  }
  const mired = (from + to) / 2;
  const { du, dv } = at(mired);
  const tint = Math.hypot(du, dv) * 1000 * Math.sign(dv);
  return { kelvin: 1e6 / mired, tint: Math.min(TINT_RANGE[1], Math.max(TINT_RANGE[0], tint)) };
}
