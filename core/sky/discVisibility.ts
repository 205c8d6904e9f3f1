/**
 * The part of a celestial disc, 0..1, that stands above the horizon: the circular segment over the chord that the
 * horizon cuts from a disc of the given diameter. A disc that has set gives exactly 0, so nothing is lit from below.
 */
export function visibleDisc(elevationDeg: number, diameterDeg: number): number {
  const h = elevationDeg / (diameterDeg / 2);
  if (h >= 1) return 1;
  if (h <= -1) return 0;
  return 1 - (Math.acos(h) - h * Math.sqrt(1 - h * h)) / Math.PI;
}
