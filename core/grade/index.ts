export { TONE_NEUTRAL_GLSL, displayColor, toneNeutral } from './toneCurve';
