/** Reflected-light calibration K = 12.5 cd s/m2 at ISO 100 (ISO 2720): average luminance = K/100 * 2^EV. */
const REFLECTED = 0.125;
/** Incident-light calibration C = 250 lx s at ISO 100 (ISO 2720): illuminance = C/100 * 2^EV. */
const INCIDENT = 2.5;
/** Saturation-based speed (ISO 12232): the sensor clips at 1.2 * 2^EV cd/m2. */
const SATURATION = 1.2;

/** Average luminance in cd/m2 that a reflected-light meter reads as `ev100`. */
export function luminanceFromEv100(ev100: number): number {
  return REFLECTED * 2 ** ev100;
}

/** EV100 that a reflected-light meter reads from an average luminance in cd/m2; -Infinity for none. */
export function ev100FromLuminance(luminanceCdM2: number): number {
  return Math.log2(luminanceCdM2 / REFLECTED);
}

/** Illuminance in lux that an incident-light meter reads as `ev100`. */
export function illuminanceFromEv100(ev100: number): number {
  return INCIDENT * 2 ** ev100;
}

/** EV100 that an incident-light meter reads from an illuminance in lux; -Infinity for none. */
export function ev100FromIlluminance(illuminanceLux: number): number {
  return Math.log2(illuminanceLux / INCIDENT);
}

/** Luminance in cd/m2 that is rendered as 1 (white, before the tone curve) at `ev100`. */
export function whiteLuminance(ev100: number): number {
  return SATURATION * 2 ** ev100;
}
