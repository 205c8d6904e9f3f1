export { SHIPPED_AIRS, airById } from './airs';
export { DEFAULT_BAKE, DEFAULT_BANDS, DEFAULT_DAY, DEFAULT_PLACE, defaultRig, fixedExposure, timedCue } from './defaults';
export { mergeRigs, type RigMerge } from './mergeRigs';
export {
  bodiesAt,
  cueById,
  fadeLighting,
  incidentEv,
  openGroundLux,
  resolveCue,
  resolveHour,
  type Lighting,
  type SunLight,
} from './resolve';
export { checkRig } from './schema';
export {
  RIG_VERSION,
  type BakeQuality,
  type BakeSettings,
  type Band,
  type Bands,
  type Cue,
  type CueKind,
  type Day,
  type Exposure,
  type Holds,
  type NamedAir,
  type OtherBody,
  type Rig,
  type RigPlace,
  type Sun,
  type Vantage,
} from './types';
export { readRig } from './upgrade';
export { dayStrip, type DayStrip } from './dayStrip';
