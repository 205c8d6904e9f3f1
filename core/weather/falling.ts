/** Decibels a kilometre as a share per metre. */
const DB_PER_KM = Math.LN10 / 10 / 1000;

/**
 * Share of what falls that is snow, by the air's temperature: half at 1.2 degrees, by a hyperbolic tangent (Dai 2008, eq. 1 over land,
 * scaled to go from all to nothing).
 */
export const snowShare = (temperatureC: number): number => 0.5 - 0.5 * Math.tanh(0.7205 * (temperatureC - 1.1662));

/** What rain takes of light per metre, by its rate: 1.076 R^0.67 dB/km (Carbonneau & Wisely 1998). */
export const rainExtinction = (rateMmH: number): number => (rateMmH > 0 ? 1.076 * rateMmH ** 0.67 * DB_PER_KM : 0);

/** Temperatures between which snow is dry and wet, degrees. */
const DRY_C = -5;
/** Wavelength that extinction is taken at, nanometres. */
const GREEN_NM = 555;

/**
 * What snow takes of light per metre, by its rate as water: wet and dry snow by ITU-R P.1814, table 3, blended between -5 and 0 degrees. Dry
 * snow takes by far the most.
 */
export function snowExtinction(rateMmH: number, temperatureC: number): number {
  if (rateMmH <= 0) return 0;
  const wet = (1.023e-4 * GREEN_NM + 3.7855466) * rateMmH ** 0.72;
  const dry = (5.42e-5 * GREEN_NM + 5.4958776) * rateMmH ** 1.38;
  const share = Math.min(1, Math.max(0, temperatureC / DRY_C));
  return (wet + (dry - wet) * share) * DB_PER_KM;
}

/** Terminal speed of a drop, m/s, by its diameter in mm: Atlas, Srivastava & Sekhon 1973 after Gunn & Kinzer 1949. */
export const dropSpeed = (diameterMm: number): number => Math.max(0, 9.65 - 10.3 * Math.exp(-0.6 * diameterMm));

/** Speed at which snow falls, m/s. */
export const FLAKE_SPEED = 1;

/** Slope of the sizes of drops, per mm (Marshall & Palmer 1948): their number falls by exp(-slope x diameter). */
export const dropSlope = (rateMmH: number): number => 4.1 * rateMmH ** -0.21;

/** Diameter that half the water lies over, mm, and drops in a cubic metre over a millimetre: those that are seen. */
export const medianDropMm = (rateMmH: number): number => 3.67 / dropSlope(rateMmH);
export const seenDrops = (rateMmH: number): number => (rateMmH > 0 ? (8000 / dropSlope(rateMmH)) * Math.exp(-dropSlope(rateMmH)) : 0);
