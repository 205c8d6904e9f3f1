export { fromHalves, halfReader, readStems, toHalves, writeStems, type HalfStems } from './encode';
export { finishMap } from './finish';
export { gatherTile, varianceSlots, type TileStems } from './gather';
export { hasBakedDirect, isSameSun, mixAt, mixGains, mixMap, mixTexel, readerOf, type Gains, type StemReader } from './mix';
export { bakedLight, frameAll, renderPicture, type BakedLevel } from './picture';
export { preflight, type PreflightLine } from './preflight';
export { cutByReach, lampFaults, type LampFault, type SurfaceCast } from './lampFaults';
export { liveLamps, type LiveLamp } from './liveLamps';
export { bakedLamps, staleReasons } from './staleReasons';
export { createScene, startOffset, type Scene } from './scene';
export {
  FIRST_SUN_LAYER,
  GLOW_LAYER,
  LAYER,
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
export { estimateTiles, planTiles, type Tile } from './texels';
