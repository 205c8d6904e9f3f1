import type { DrawnDay } from '../../almanac';

/** The moon of a cue, by numbers. */
export interface Moon {
  /** Clockwise from north, 0..360. */
  azimuthDeg: number;
  /** Above the horizon, -90..90; a moon that has set lights nothing. */
  elevationDeg: number;
  /** Its direct light on a plane facing it, in lux. */
  illuminanceLux: number;
  /** Colour temperature in kelvin. */
  colorK: number;
  /** Full angle under which the disc is seen; it softens the shadows. */
  discDeg: number;
  /** Share of the disc that is lit: 0 new, 1 full. Without a strength of its own, its light follows. */
  litShare: number;
}

/** How a sun or moon is seen, apart from how it lights. */
export interface BodyLook {
  /** Whether it gives light. */
  lights: boolean;
  /** Whether its disc is seen. */
  seen: boolean;
  /** Full angle of the disc that is seen; null is the one that softens the shadows. */
  discDeg: number | null;
  /** Share of its light that is seen as a halo about the disc, 0..1; it lights nothing. */
  halo: number;
  /** Angle over which the halo falls to 1/e. */
  haloDeg: number;
  /** `#rrggbb`, of the halo. */
  haloColor: string;
}

/** The sky of the night by hand. */
export interface Night {
  /** Luminance of the moonless sky, cd/m2. */
  glowCdM2: number;
  /** `#rrggbb`; its hue alone, strength stays with the luminance. */
  glowColor: string;
  /** Stops by which the stars are brighter. */
  starsEv: number;
  /** Stops by which the whole sky is brighter at night; moon and stars stay. */
  skyEv: number;
}

/** Where a further sun or moon goes: on the main sun's path some hours behind, on a path of its own, or nowhere. */
export type BodyPath =
  { by: 'behind'; behindH: number } | { by: 'own'; drawn: DrawnDay } | { by: 'still'; azimuthDeg: number; elevationDeg: number };

/** A body that is seen as it lights. */
export const PLAIN_LOOK: BodyLook = { lights: true, seen: true, discDeg: null, halo: 0, haloDeg: 2, haloColor: '#ffffff' };

/** The night of clear country air, without a moon. */
export const CLEAR_NIGHT: Night = { glowCdM2: 2e-4, glowColor: '#d1e2ff', starsEv: 0, skyEv: 0 };

/** A path that may go through midnight as a day that begins an hour before it rises, with an hour of the clock on it. */
export function fromItsRise(drawn: DrawnDay, hour: number): { day: DrawnDay; hour: number } {
  const since = (h: number) => 1 + ((((h - drawn.riseH) % 24) + 24) % 24);
  return { day: { ...drawn, riseH: 1, highestH: since(drawn.highestH), setH: since(drawn.setH) }, hour: since(hour) % 24 };
}
