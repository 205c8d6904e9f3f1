/** Length of a flash with its strokes, seconds. */
const FLASH_S = 0.45;
/** Light of a flash a kilometre off on open level ground, lux: as much as an overcast noon. */
const NEAR_LUX = 8000;

/** Light of a flash on open level ground, lux, by the inverse square of its distance. */
export const flashLux = (distanceKm: number): number => NEAR_LUX / distanceKm ** 2;

const hash = (n: number): number => {
  let x = Math.imul(n ^ 0x9e3779b9, 0x85ebca6b);
  x = Math.imul(x ^ (x >>> 13), 0xc2b2ae35);
  return ((x ^ (x >>> 16)) >>> 0) / 2 ** 32;
};

/**
 * How bright lightning is at a moment, 0..1: flashes fall at random into the seconds, each of two strokes that fade.
 *
 * @param seconds of the game's own time
 */
export function lightningAt(perMin: number, seconds: number): number {
  if (perMin <= 0) return 0;
  let sum = 0;
  const second = Math.floor(seconds);
  for (const slot of [second - 1, second]) {
    if (hash(slot) >= Math.min(1, perMin / 60)) continue;
    const since = seconds - slot - hash(slot + 7919) * (1 - FLASH_S);
    for (const [begin, strength] of [
      [0, 1],
      [0.16, 0.6],
    ] as const) {
      const t = since - begin;
      if (t >= 0 && t < FLASH_S - begin) sum += strength * Math.exp(-t / 0.07);
    }
  }
  return Math.min(1, sum);
}
