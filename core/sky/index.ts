export { FACES, faceOfName, sortFaces, type Face } from './skyFaces';
export { CLEAR_AIR, GROUND_M, TOP_M, isAirless, type Air } from './air/air';
export {
  airTables,
  cloudLight,
  illuminanceBelow,
  mixAir,
  skyViewOf,
  transmittanceTo,
  type AirSky,
  type AngularRadiance,
  type Luminary,
} from './air/airSky';
export { createMarch, horizonElevation, type SkyView } from './air/skyView';
export { buildAirTables, type AirTables } from './air/tables';
export { faceLight, type FaceLight } from './faceLight';
export { bandsRadiance, type BandsRadiance } from './bands';
export { pixelDirection, pixelOf, resampleEquirect, rowSolidAngle, sampleEquirect, turnEquirect } from './equirect';
export { airMass, starFrame, zenithDepth, type BehindSky, type StarTurn } from './behindAir';
export { imageLux, type ImageSky } from './imageSky';
export {
  CLOUD_CONSTANTS,
  cloudField,
  driftOf,
  mixClouds,
  overcastZenith,
  throughClouds,
  type CloudLight,
  type Clouds,
  type CloudsNow,
} from './clouds';
export { AUREOLE_COUNT, AUREOLE_FORMULAS, LOBE_FORMULA, aureoleBasis, aureolesBasis, type Aureoles } from './aureole';
export {
  DOME_COUNT,
  DOME_LOWER,
  LOW_FUNCTIONS,
  domeBasis,
  domeCount,
  evaluateDome,
  fullBasis,
  lowDome,
  projectDome,
  skyDome,
  type DomeRgb,
} from './domeBasis';
export { throughVeil, totalThroughVeil, type Veil } from './veil';
export { visibleDisc } from './discVisibility';
export { paintPanorama } from './paintPanorama';
export { panoramaIlluminance, type Panorama } from './panorama';
export { angularRadiance, dissolveSky, skyRadiance, type BandsSky, type CloudedSky, type Sky, type SkyPart, type VeiledSky } from './sky';
export { groundIlluminance, skyHarmonics } from './skyHarmonics';
export {
  DIFFUSE_LOBE,
  SH_COUNT,
  SH_FACTORS,
  facingSh,
  diffuseSh,
  evaluateSh,
  horizontalIlluminance,
  projectSh,
  projectSky,
  shBasis,
  type ShRgb,
} from './sphericalHarmonics';
export { makeStars, type Stars } from './stars';
export { gaussLegendre } from './quadrature';
export { phaseCornetteShanks } from './air/phase';
