import type { Rgb, Vec3 } from '../../units';

/** The disc of a sun or moon as it is seen. */
export interface ShownDisc {
  /** Unit vector towards it, in the level. */
  direction: Vec3;
  discDeg: number;
  /** What a plane facing it would have of the disc that is seen, linear RGB lux; over the fog, dimmed by clouds and a fade. */
  illuminance: Rgb;
  /** A glow about the disc: what a plane facing it would have of it, and the angle over which it falls to 1/e. */
  halo: { illuminance: Rgb; sizeDeg: number } | null;
  /** Share of the disc that is lit, 0..1: 1 for a sun. */
  litShare: number;
  /** Towards the sun that lights a moon; null for a sun. */
  litFrom: Vec3 | null;
}

/** A sun or moon as it shines at one moment. */
export interface SunLight {
  kind: 'sun' | 'moon';
  /** Unit vector towards it, in the level. */
  direction: Vec3;
  /** From the place's north. */
  azimuthDeg: number;
  elevationDeg: number;
  discDeg: number;
  /** On a plane facing it: linear RGB lux, dimmed by the part of the disc that has set, by clouds, fog and a fade. */
  illuminance: Rgb;
  /** The same over the fog. */
  overFog: Rgb;
  /** Share of it that clouds let through, 1 without any; it is in `illuminance`. */
  clear: number;
  /** The cues whose baked stems of the main light answer to it, with their shares; none for further lights. */
  stems: { cueId: string; share: number }[];
}
