export { addCodes, groupEntries, type ClusterLight, type Codes, type GroupTable } from './codeSums';
export { createHalfSums, type HalfSums } from './halfSums';
export { DISC_AIMS, type DiscRays, type Discs } from './discRays';
export { dotProducts } from './dotProducts';
export { packHalves } from './packHalves';
export { HINTS, RAY, buildTracer, buildTree, newHit, openTracer, type Cutouts, type Hit, type Tracer, type Tree } from './tracer';
export { createWindowMeans, type WindowLimits, type WindowMeans } from './windowMeans';
export { bounceBetweenCells, createCellLinks, type CellLinks } from './cellBounces';
export {
  SUMMED_TEXELS,
  createLightRoom,
  growLightRoom,
  openLightSums,
  type LightRoom,
  type LightShape,
  type LightSums,
  type SumSlot,
} from './lightSums';
