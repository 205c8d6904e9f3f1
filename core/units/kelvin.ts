import { chromaticity, rgbFromXyz } from './color';
import type { Rgb } from './photometry';

/** The range over which a colour temperature is given a colour, in kelvin. */
export const KELVIN_RANGE = [1000, 25000] as const;

type Chromaticity = { x: number; y: number };

/**
 * CIE 1931 2-degree colour-matching functions as sums of piecewise Gaussians, wavelength in nm
 * (Wyman, Sloan & Shirley 2013, "Simple Analytic Approximations to the CIE XYZ Color Matching Functions", eq. 4).
 */
function colorMatching(nm: number): [number, number, number] {
  const lobe = (weight: number, centre: number, below: number, above: number) => {
    const t = (nm - centre) / (nm < centre ? below : above);
    return weight * Math.exp(-0.5 * t * t);
  };
  return [
    lobe(1.056, 599.8, 37.9, 31.0) + lobe(0.362, 442.0, 16.0, 26.7) + lobe(-0.065, 501.1, 20.4, 26.2),
    lobe(0.821, 568.8, 46.9, 40.5) + lobe(0.286, 530.9, 16.3, 31.1),
    lobe(1.217, 437.0, 11.8, 36.0) + lobe(0.681, 459.0, 26.0, 13.8),
  ];
}

/** The matching functions every 5 nm over the visible range. */
const VISIBLE = Array.from({ length: 81 }, (_, i) => ({ nm: 380 + 5 * i, seen: colorMatching(380 + 5 * i) }));

/** Chromaticity of a black body: Planck's law (second radiation constant of ITS-90) through the matching functions. */
export function planckianChromaticity(kelvin: number): Chromaticity {
  const secondConstant = 1.438776877e7; // nm K
  let x = 0;
  let y = 0;
  let z = 0;
  for (const { nm, seen } of VISIBLE) {
    const power = nm ** -5 / Math.expm1(secondConstant / (nm * kelvin));
    const [cx, cy, cz] = seen;
    x += power * cx;
    y += power * cy;
    z += power * cz;
  }
  const sum = x + y + z;
  return { x: x / sum, y: y / sum };
}

/** Chromaticity of CIE daylight D (CIE 15:2004, eq. 3.3 to 3.5), for 4000 to 25000 K. */
export function daylightChromaticity(kelvin: number): Chromaticity {
  const u = 1000 / kelvin;
  const x =
    kelvin <= 7000 ? 0.244063 + 0.09911 * u + 2.9678 * u * u - 4.607 * u ** 3 : 0.23704 + 0.24748 * u + 1.9018 * u * u - 2.0064 * u ** 3;
  return { x, y: -3 * x * x + 2.87 * x - 0.275 };
}

/**
 * Chromaticity of a light of the given colour temperature: a black body up to 4000 K, CIE daylight from 5000 K, blended between.
 * Throws a RangeError outside {@link KELVIN_RANGE}.
 */
export function chromaticityOfKelvin(kelvin: number): Chromaticity {
  if (!(kelvin >= KELVIN_RANGE[0] && kelvin <= KELVIN_RANGE[1])) {
    throw new RangeError(`A colour temperature lies between ${KELVIN_RANGE[0]} and ${KELVIN_RANGE[1]} K, not ${kelvin}.`);
  }
  const daylight = Math.min(1, Math.max(0, (kelvin - 4000) / 1000));
  const a = daylight < 1 ? planckianChromaticity(kelvin) : { x: 0, y: 0 };
  const b = daylight > 0 ? daylightChromaticity(kelvin) : { x: 0, y: 0 };
  return { x: a.x * (1 - daylight) + b.x * daylight, y: a.y * (1 - daylight) + b.y * daylight };
}

/**
 * Linear Rec. 709 colour, at luminance 1, of a light of the given colour temperature ({@link chromaticityOfKelvin}). Components
 * outside the gamut are clipped at 0 before the luminance is set. Throws a RangeError outside {@link KELVIN_RANGE}.
 */
export function rgbFromKelvin(kelvin: number): Rgb {
  const { x, y } = chromaticityOfKelvin(kelvin);
  const rgb = rgbFromXyz(x / y, 1, (1 - x - y) / y);
  return chromaticity(rgb.map((v) => Math.max(0, v)) as Rgb);
}

/**
 * Correlated colour temperature of a linear Rec. 709 colour, in kelvin, by McCamy 1992 (a cubic in the inverse slope to the
 * epicentre): good to some kelvin near the Planckian locus between 2000 and 12 500 K. Null for black and far off the locus.
 */
export function kelvinFromRgb([r, g, b]: Readonly<Rgb>): number | null {
  // ITU-R BT.709-6 primaries and white to CIE XYZ.
  const x = 0.4124564 * r + 0.3575761 * g + 0.1804375 * b;
  const y = 0.2126729 * r + 0.7151522 * g + 0.072175 * b;
  const z = 0.0193339 * r + 0.119192 * g + 0.9503041 * b;
  const sum = x + y + z;
  if (!(sum > 0)) return null;
  const n = (x / sum - 0.332) / (0.1858 - y / sum);
  const kelvin = 449 * n ** 3 + 3525 * n ** 2 + 6823.3 * n + 5520.33;
  return kelvin > 500 && kelvin < 50_000 ? kelvin : null;
}
