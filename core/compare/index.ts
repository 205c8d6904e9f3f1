export {
  DARK_FLOOR,
  DIFFERENCE_BANDS,
  DIFFERENCE_GLSL,
  differenceColor,
  differenceEv,
  measureDifference,
  type DifferenceFigures,
} from './difference';
export { EV_ZONES, FALSE_COLOR_GLSL, falseColor, stopsOverGrey, zoneAt, zoneShares, type EvZone } from './falseColor';
export { lostShares, type LostShares } from './shares';
