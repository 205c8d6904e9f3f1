export { DEFAULT_BAKE, LATE_CUE, NOON_CUE, defaultRig } from './defaults';
export { mergeRigs, type RigMerge } from './mergeRigs';
export { cueById, fadeLighting, resolveCue, type Lighting, type SunLight } from './resolve';
export { checkRig } from './schema';
export {
  RIG_VERSION,
  type BakeQuality,
  type BakeSettings,
  type Band,
  type Bands,
  type Cue,
  type Rig,
  type Sun,
  type Vantage,
} from './types';
export { readRig } from './upgrade';
