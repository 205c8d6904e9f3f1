export { SHIPPED_AIRS, airById, airShelf, pinAirs, shippedChanges, type ShippedChange } from './document/airs';
export { LIST_OF, SHELF_KINDS, packForShelf, packedThing, takeFromShelf, type Packed, type ShelfKind, type Taken } from './shelf';
export { bodiesAt, nightGlow, sunStrengths } from './resolve/bodies';
export { CLEAR_NIGHT, PLAIN_LOOK, type BodyLook, type BodyPath, type Moon, type Night } from './document/night';
export {
  DEFAULT_BAKE,
  DEFAULT_BANDS,
  DEFAULT_CLOUDS,
  DEFAULT_DAY,
  DEFAULT_IMAGE,
  DEFAULT_LAMP,
  DEFAULT_PLACE,
  FULL,
  NO_FOG,
  DEFAULT_VOLUME,
  NEW_CUE,
  defaultRig,
  fixedExposure,
  timedCue,
} from './document/defaults';
export { hasTwoSuns, refuseHeldImages, type SkyImages, type SkyPixels } from './resolve/heldImage';
export { SHADOW_BYTES, SHADOW_MAPS, SHADOW_MAP_SIZE, SHADOW_REACH_M } from './document/liveShadows';
export { changeOver, mergeRigs, type RigMerge } from './document/mergeRigs';
export { NO_CIRCUIT, dimmerUnder, gainOfLamp, lampDelay, ruleBurns, sunHours, type CircuitGain, type SunHours } from './resolve/circuits';
export { glowGain, glowLightId, shownGlow, standingGlows, type StandingGlow } from './resolve/glows';
export { modelsOf, type StandingModel } from './resolve/modelsOf';
export { lampsOf, lampsOfCopy, type StandingLamp } from './resolve/lampsOf';
export { incidentEv, openGroundLight, openGroundLux } from './resolve/exposure';
export { fadeLighting } from './resolve/fade';
export { fogUnder, type FogNow } from './resolve/fog';
export { fogLightOf } from './resolve/fogLight';
export { gradeUnder } from './resolve/grade';
export type { Lighting } from './resolve/lighting';
export type { StemGains } from './resolve/mix';
export { blendShare, neighbours, type DayBlend } from './resolve/dayBlend';
export { cueById, cueSuns, resolveCue, resolveHour } from './resolve/resolve';
export { flickerGain } from './resolve/flicker';
export { inMotion, isInMotion } from './resolve/inMotion';
export { coursesOf } from './resolve/courses';
export { heldBetween, type HeldBetween } from './resolve/cueBetween';
export { rigOnDay } from './resolve/rigOnDay';
export { checkRig } from './document/schema';
export { view } from './document/valueSchemas';
export {
  RIG_VERSION,
  BOUNCE_STEMS,
  STEMS,
  type BakeQuality,
  type BakeSettings,
  type Facing,
  type Band,
  type Bands,
  type Circuit,
  type Call,
  type CallClock,
  type CallDays,
  type CallUntil,
  type CallWhen,
  type CircuitRule,
  type Cue,
  type CueKind,
  type Day,
  type Dimmer,
  type Exposure,
  type Fixture,
  type FixtureModel,
  type Flicker,
  type FogSetting,
  type FogVolume,
  type GlowEmission,
  type GlowRule,
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
  type Stroll,
  type StrollLight,
  type StrollPlace,
  type Sun,
  type Trim,
  type NamedVantage,
  type Vantage,
  type WeatherTurn,
} from './document/types';
export { PLAIN_TRIM, bounceLevel, setBounceLevel, setTrim } from './edits/trims';
export { FROM_LEVEL, placeLevelAs, takeLights, takeSun } from './edits/placing';
export { freeNumber } from './edits/freeNumber';
export {
  copiesWanted,
  equalObjects,
  leaveWithout,
  makeFixture,
  objectsWithCopy,
  placeFixture,
  putAtObjects,
  takeModel,
  unlink,
  type CopiesWanted,
  type EqualObject,
} from './edits/fixtures';
export {
  aimAt,
  changeLamps,
  setMotion,
  addPathPoint,
  moveStanding,
  moveToCircuit,
  offSurface,
  openedCopy,
  pasteValues,
  placeLamp,
  removeCircuit,
  removeStanding,
  repeatStanding,
} from './edits/lamps';
export {
  copyHeld,
  heldAt,
  heldDifferences,
  heldPaths,
  moveCue,
  removeCue,
  setHeld,
  setStartCue,
  type HeldDifference,
  type HeldPath,
} from './edits/cues';
export { FULL_MOON, NEW_MOON, addCall, defaultWhen, removeCall, setCall } from './edits/calls';
export {
  beginCalls,
  callLight,
  callsInOrder,
  checkRehearsal,
  happen,
  moonPhase,
  passSeconds,
  rehearse,
  standingStep,
  type CallState,
  type Happening,
  type RehearsedStep,
} from './calls';
export { addFinishCue, type FinishLights } from './edits/finish';
export { showInstead, showVariant } from './edits/materials';
export { setDensities, setObjectRoles, setOpenings, showObjects } from './edits/objects';
export { openStates, type OpenState, type ShownMaterials } from './resolve/shown';
export { heldLeaves, holderPath, isHeldAlone, leafAt, setLeaf, type Leaf, type LeafPath } from './edits/heldLeaves';
export { rigDifferences, type RigDifference } from './edits/rigDifferences';
export { paintedDay } from './resolve/paintedDay';
export { TYPICAL_CUES, typicalCue, type TypicalCue } from './resolve/typicalCues';
export {
  exposureOfImage,
  holdImage,
  lightByImage,
  takeImageSun,
  yawToSun,
  type LightOfImage,
  type SunOfImage,
  type TakenLight,
} from './edits/imageLight';
export { changeGlow, removeGlow, setGlow, type GlowChange } from './edits/glows';
export { removeRole, setRole } from './edits/roles';
export { addStroll, changeStroll, removeStroll } from './edits/strolls';
export { STROLL } from './document/strollTypes';
export { strollLight, strollMoment, strollSeconds, strollView, type StrollMoment } from './resolve/strolls';
export { addVantage, moveVantage, removeVantage, vantageOfCue } from './edits/vantages';
export { FOV_DEG } from './document/vantages';
export { readRig } from './document/upgrade';
export {
  forgetGrade,
  gradeSets,
  keepGrade,
  liftByExposure,
  releaseGrade,
  removeVolume,
  setGrade,
  setVolume,
  setVolumeLevel,
  takeGrade,
} from './edits/mood';
export { forgetWeather, keepWeather, removeMaterialRule, setMaterialRule, setWeatherTurn, weatherSets } from './edits/weather';
export { releasePart, setPart, type Holder, type PartByField } from './edits/holders';
export { holdBody, releaseBody, releaseLook, setLook, setOther, type HeldBodyName } from './edits/night';
export { dayStrip, type DayStrip } from './resolve/dayStrip';
export { cueWeather, hourWeather, type WeatherNow } from './resolve/weather';
export type { WaterNow } from './resolve/water';
export { waterGlow } from './resolve/waterGlow';
export { moonNow } from './resolve/suns';
export type { ShownDisc, SunLight } from './resolve/sunLight';
