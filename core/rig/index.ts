export { SHIPPED_AIRS, airById } from './airs';
export { bodiesAt, sunStrengths } from './bodies';
export {
  DEFAULT_BAKE,
  DEFAULT_BANDS,
  DEFAULT_CLOUDS,
  DEFAULT_DAY,
  DEFAULT_IMAGE,
  DEFAULT_LAMP,
  DEFAULT_PLACE,
  FULL,
  defaultRig,
  fixedExposure,
  timedCue,
} from './defaults';
export { hasTwoSuns, refuseHeldImages, type SkyImages, type SkyPixels } from './heldImage';
export { LIVE_SHADOWS, shadowMapBytes, type LiveShadows } from './liveShadows';
export { mergeRigs, type RigMerge } from './mergeRigs';
export { NO_CIRCUIT, dimmerUnder, glowGains, ruleBurns, sunHours, type CircuitGain, type SunHours } from './circuits';
export { modelsOf, type StandingModel } from './modelsOf';
export { lampsOf, lampsOfCopy, type StandingLamp } from './lampsOf';
export { cueById, fadeLighting, incidentEv, openGroundLux, resolveCue, resolveHour, type Lighting, type StemGains } from './resolve';
export { rigOnDay } from './rigOnDay';
export { checkRig } from './schema';
export {
  RIG_VERSION,
  STEMS,
  type BakeQuality,
  type BakeSettings,
  type Facing,
  type Band,
  type Bands,
  type Circuit,
  type CircuitRule,
  type Cue,
  type CueKind,
  type Day,
  type Dimmer,
  type Exposure,
  type Fixture,
  type FixtureModel,
  type HeldImage,
  type Holds,
  type ImageLevel,
  type Moment,
  type NamedAir,
  type OtherBody,
  type PlacedFixture,
  type Rig,
  type RigPlace,
  type StemName,
  type Sun,
  type Trim,
  type Vantage,
} from './types';
export { readRig } from './upgrade';
export { dayStrip, type DayStrip } from './dayStrip';
export type { SunLight } from './sunLight';
