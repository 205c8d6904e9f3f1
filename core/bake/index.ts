export { coarseBake, coarseLight } from './coarse';
export { directTile, type TileDirect } from './direct';
export { directionGains } from './directionGains';
export { joinDirect, type DirectLight } from './directLight';
export {
  emptyHalves,
  fromHalves,
  halfReader,
  readCover,
  readLayersInto,
  takeLayers,
  toHalves,
  writeCover,
  writeLayers,
  type HalfLayers,
  type HalfStems,
} from './encode';
export { gutterOf } from './gutter';
export { finishMap } from './finish';
export { gatherTile, type TileStems } from './gather';
export {
  bakedDirect,
  createMix,
  hasBakedDirect,
  isSameSun,
  mixAt,
  mixGains,
  mixMap,
  mixTexel,
  mixTexels,
  readerOf,
  spreadOverMap,
  type Gains,
  type StemReader,
} from './mix';
export { bakedLight, frameAll, renderPicture, type BakedLevel } from './picture';
export { preflight, type PreflightLine } from './preflight';
export { rigRemarks } from './rigRemarks';
export { cutByReach, lampFaults, type LampFault, type SurfaceCast } from './lampFaults';
export { liveLamps, type LiveLamp } from './liveLamps';
export { bakeChange, bakedLamps, staleReasons, type BakeChange } from './staleReasons';
export { createScene, startOffset, type Scene } from './scene';
export {
  FIRST_SUN_LAYER,
  GLOW_LAYER,
  LAYER,
  QUALITIES,
  SKY_LAYERS,
  circuitLayer,
  layerCount,
  planBake,
  type BakePlan,
  type BakedCircuit,
  type BakedParts,
  type BakedSun,
  type MapStems,
} from './stems';
export { SAME_SUN_DEG, sunShares, sunsToBake } from './stations';
export { stemParts, tracedParts, type StemPart } from './stemParts';
export { estimateTiles, planTiles, type Tile } from './texels';
