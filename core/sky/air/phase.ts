/** Rayleigh's phase function, per steradian: 3 / (16 pi) (1 + cos^2). */
export function phaseRayleigh(cosAngle: number): number {
  return (3 / (16 * Math.PI)) * (1 + cosAngle * cosAngle);
}

/** Cornette & Shanks 1992, eq. 8: Henyey & Greenstein's function made physical, per steradian; g is the share sent forward. */
export function phaseCornetteShanks(cosAngle: number, g: number): number {
  const denominator = (1 + g * g - 2 * g * cosAngle) ** 1.5;
  return (((3 / (8 * Math.PI)) * (1 - g * g)) / (2 + g * g)) * ((1 + cosAngle * cosAngle) / denominator);
}
