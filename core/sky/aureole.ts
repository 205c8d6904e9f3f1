import type { Vec3 } from '../units';

/** Functions about one low sun: one over the horizon, one close over it, one close under it. */
export const AUREOLE_COUNT = 3;

/** Those of them that are not 0 over the horizon, and under it. */
export const AUREOLE_HALVES = { upper: [0, 1], lower: [2] } as const;
/** Low suns that a basis has these functions about. What is known of one list is kept with it. */
export type Aureoles = readonly Readonly<Vec3>[];

/** How far the light of a hazy air is thrown forwards: the asymmetry of the lobe. */
const FORWARD = 0.8;
/** Heights of a unit direction, 0..1, over which what lies close to the horizon falls off to 1/e. */
const FALL_OFF = { over: 0.05, under: 0.01 } as const;

/**
 * Functions for the light about a low sun, which is brightest along the horizon: a lobe after Henyey and Greenstein (1941) about the sun,
 * H(c) = (1 - g^2) / (4 pi (1 + g^2 - 2 g c)^1.5) with g = 0.8 and c the cosine of the angle to the sun. The first is H over the horizon and 0
 * under it, the second H exp(-y / 0.05) over it, the third H exp(y / 0.01) under it; y is the height of the direction.
 *
 * Writes {@link AUREOLE_COUNT} numbers into `out` from `at` on.
 */
export function aureoleBasis(sun: Readonly<Vec3>, dx: number, dy: number, dz: number, out: Float64Array | number[], at: number): void {
  const across = 1 + FORWARD * FORWARD - 2 * FORWARD * (sun[0] * dx + sun[1] * dy + sun[2] * dz);
  const lobe = (1 - FORWARD * FORWARD) / (4 * Math.PI * across * Math.sqrt(across));
  const over = dy >= 0;
  out[at] = over ? lobe : 0;
  out[at + 1] = over ? lobe * Math.exp(-dy / FALL_OFF.over) : 0;
  out[at + 2] = over ? 0 : lobe * Math.exp(dy / FALL_OFF.under);
}

/** Writes the functions about one sun after another. */
export function aureolesBasis(suns: Aureoles, dx: number, dy: number, dz: number, out: Float64Array | number[], at: number): void {
  for (let a = 0; a < suns.length; a++) aureoleBasis(suns[a]!, dx, dy, dz, out, at + AUREOLE_COUNT * a);
}

/** The functions as text, for whoever reads stems elsewhere: c is the cosine of the angle to the sun, y the height of the direction. */
export const AUREOLE_FORMULAS = ['H(c) where y >= 0', 'H(c) exp(-y / 0.05) where y >= 0', 'H(c) exp(y / 0.01) where y < 0'] as const;
export const LOBE_FORMULA = 'H(c) = 0.36 / (4 pi (1.64 - 1.6 c)^1.5)';
