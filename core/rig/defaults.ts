import { RIG_VERSION, type BakeSettings, type Cue, type Rig } from './types';

export const DEFAULT_BAKE: BakeSettings = { texelsPerM: 4, maxMapSize: 1024, quality: 'fair', bounces: 64 };

/** A clear noon: the sun high in the south, a blue sky, pale ground. */
export const NOON_CUE: Cue = {
  id: 'noon',
  name: 'Noon',
  hour: 12.5,
  fadeS: 1,
  sun: { azimuthDeg: 196, elevationDeg: 62, illuminanceLux: 98000, colorK: 5600, discDeg: 0.53 },
  sky: {
    zenith: { color: '#4f83c9', luminanceCdM2: 2600 },
    horizon: { color: '#bcd0e6', luminanceCdM2: 6200 },
    ground: { color: '#b59a7c', luminanceCdM2: 4200 },
  },
  exposureEv100: 14,
};

/** A late afternoon: the sun low in the west and warm, the sky behind it paler than overhead. */
export const LATE_CUE: Cue = {
  id: 'late',
  name: 'Late sun',
  hour: 17.75,
  fadeS: 1,
  sun: { azimuthDeg: 258, elevationDeg: 14, illuminanceLux: 46000, colorK: 3700, discDeg: 0.53 },
  sky: {
    zenith: { color: '#5578b8', luminanceCdM2: 1300 },
    horizon: { color: '#f0c79a', luminanceCdM2: 3600 },
    ground: { color: '#a07a58', luminanceCdM2: 900 },
  },
  exposureEv100: 12,
};

/** A complete rig to start from: two cues over a clear day. */
export function defaultRig(): Rig {
  return structuredClone({ version: RIG_VERSION, cues: [NOON_CUE, LATE_CUE], bake: DEFAULT_BAKE, vantage: null });
}
