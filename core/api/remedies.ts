import type { RemedyCode } from '../image';

/** What each remedy is called. */
export const REMEDY_NAMES: Readonly<Record<RemedyCode, string>> = {
  'fit-resample': 'Stretch to 2:1',
  'fit-pad': 'Pad above and below',
  'fit-upper-half': 'Take as upper half',
  'as-linear': 'Read as linear',
  'as-srgb': 'Read as sRGB',
  expand: 'Expand to HDR, with a sun',
  'rebuild-sun': 'Rebuild the sun',
  'heal-seam': 'Heal the seam',
  'fill-ground': 'Fill the ground',
  'level-horizon': 'Level the horizon',
  'clean-values': 'Fill from neighbours',
  calibrate: 'Set its level',
};
