export { applyCdl, isNoCdl, NO_CDL, type Cdl } from './cdl';
export { CDL_RANGES, MAX_CDL, readCdl, writeCdl } from './cdlFile';
export { IDENTITY, type Matrix3 } from './colorMatrices';
export { beforeCurve, colorGrade, gradeLiftEv, gradedColor, isColorNeutral, isNeutral } from './develop';
export {
  GRADE_PARTS,
  NEUTRAL_GRADE,
  gradeNow,
  mixGrades,
  type Bloom,
  type Dirt,
  type Grade,
  type GradeNow,
  type GradePart,
  type Grain,
  type Vignette,
} from './grade';
export { SHIPPED_GRADES, type NamedGrade } from './sets';
export { COLOR_GRADE_GLSL } from './gradeGlsl';
export { BLOOM_LEVELS, DIRT_GAIN, DIRT_SIZE, LENS_GLSL, addBloom, bloomSigma, brightPart, grainAt, lensDirt, vignetteGain } from './lens';
export { LUT_SIZES, SHAPER_TEXT, applyLut, gradeLut, readCube, shaped, unshaped, writeCube, type Lut } from './lut';
export { isFixed, meteredEv, type MeteringRange } from './metered';
export { MID_GREY } from './midGrey';
export { nightVision } from './nightVision';
export { HISTOGRAM, PARADE, VECTOR, VECTOR_REACH, measureScopes, type Scopes, type Tenth } from './scopes';
export { CURVES, TONE_CURVE_GLSL, displayColor, toneCurve, type CurveName } from './toneCurve';
export { D65_KELVIN, TINT_RANGE, balanceFor, balancedWhite, whiteBalanceMatrix, type WhiteBalance } from './whiteBalance';
export { isNoZones, type ZoneTone, type Zones } from './zones';
export { wheelPoint, wheelRgb, type WheelPoint } from './wheel';
