import type { Vec3 } from '../units';

/** The version that {@link Rig} documents are written in. */
export const RIG_VERSION = 1;

/** The sun of a cue. */
export interface Sun {
  /** Clockwise from north, 0..360. */
  azimuthDeg: number;
  /** Above the horizon, -90..90; a sun that has set lights nothing. */
  elevationDeg: number;
  /** On a plane facing the sun, in lux. */
  illuminanceLux: number;
  /** Colour temperature in kelvin. */
  colorK: number;
  /** Full angle under which the disc is seen; it softens the shadows. */
  discDeg: number;
}

/** One band of a painted sky: a chromaticity (`#rrggbb`, sRGB) at a luminance. */
export interface Band {
  color: string;
  luminanceCdM2: number;
}

/** A painted sky. */
export interface Bands {
  zenith: Band;
  horizon: Band;
  ground: Band;
}

/** One named, switchable lighting state. */
export interface Cue {
  /** Stays the same through renaming and reordering; stems refer to it. */
  id: string;
  name: string;
  /** Hour of the day at which a timed cue is pinned, 0 to under 24. */
  hour: number;
  /** Seconds over which a go fades. */
  fadeS: number;
  sun: Sun;
  sky: Bands;
  /** Fixed exposure, EV at ISO 100. */
  exposureEv100: number;
}

/** How finely a bake samples: paths from each texel, and rays to each sun. */
export type BakeQuality = 'rough' | 'fair' | 'fine';

export interface BakeSettings {
  /** Lightmap texels per metre. */
  texelsPerM: number;
  /** Longest side of one lightmap, in texels; what does not fit goes to a further map. */
  maxMapSize: number;
  quality: BakeQuality;
  /** Most bounces that are followed; paths end by Russian roulette long before a high figure. */
  bounces: number;
}

/** A saved viewpoint. */
export interface Vantage {
  eye: Vec3;
  target: Vec3;
  /** Vertical angle of view. */
  fovDeg: number;
}

/** Everything that lights a level, as one versioned document. */
export interface Rig {
  version: typeof RIG_VERSION;
  /** Timed cues in the order of their keys. */
  cues: Cue[];
  bake: BakeSettings;
  /** Where pictures of the cues are taken from; a level without one is framed whole. */
  vantage: Vantage | null;
}
