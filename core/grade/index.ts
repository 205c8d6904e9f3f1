export { isFixed, meteredEv, type MeteringRange } from './metered';
export { TONE_CURVE_GLSL, displayColor, toneCurve } from './toneCurve';
