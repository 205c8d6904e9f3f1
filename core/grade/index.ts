export { displayColor, toneNeutral } from './toneCurve';
