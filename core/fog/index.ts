export { FOG_BODIES, FOG_GLSL, FOG_LAMPS, FOG_SUNS, SKY_M } from './fogGlsl';
export {
  depthSeen,
  distanceSeen,
  extinctionAt,
  extinctionOf,
  opticalDepth,
  seenThrough,
  visibilityWord,
  type Fog,
  type FogAbove,
} from './fog';
export {
  lampShare,
  lengthAt,
  lookThrough,
  throughPhase,
  type FogLamp,
  type FogLight,
  type FogLook,
  type FogShade,
  type Seen,
} from './look';
export { SKY_WAYS, cellMiddle, measureOpenness, opennessAt, opennessFrame, type Openness, type OpennessFrame } from './openness';
export { BODY_STEPS, bodySpace, densityIn, lookThroughBody, throughBody, type FogBody, type VolumeShape } from './volume';
export { depthAbove, lampScattered, sunScattered } from './scattered';
