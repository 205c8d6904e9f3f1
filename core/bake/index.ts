export { coarseBake, coarseLight } from './preview';
export { directTile, type TileDirect } from './transport/directTile';
export { directionGains } from './mix/directionGains';
export { joinDirect, type DirectLight } from './transport/directLight';
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
} from './stems/stemCodec';
export { gutterOf } from './texels/dilate';
export { finishMap } from './lightmap/finishMap';
export { gatherTile, type TileStems } from './transport/gatherTile';
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
} from './mix/mix';
export { liveLamps, type LiveLamp } from './mix/liveLamps';
export { bakeChange, bakedLamps, staleReasons, type BakeChange } from './plan/staleReasons';
export { createScene, startOffset, type Scene } from './transport/scene';
export { FIRST_SUN_LAYER, GLOW_LAYER, LAYER, SKY_LAYERS, circuitLayer, layerCount, type MapStems } from './stems/layers';
export { QUALITIES, planBake } from './plan/planBake';
export { type BakePlan, type BakedCircuit, type BakedParts, type BakedSun } from './plan/bakePlan';
export { SAME_SUN_DEG, sunShares, sunsToBake } from './plan/sunSamples';
export { stemParts, tracedParts, type StemPart } from './stems/stemParts';
export { estimateTiles, planTiles, type Tile } from './texels/coverTexels';
export { chartOfVertex, coverTexels } from './texels/coverTexels';
export { cosineDirection, hash32, samplePair } from './sampling/sobol';
export { MANIFEST_VERSION, manifestFault, type BakeManifest } from './stems/manifest';
export { estimateBake } from './estimate/estimateBake';
export { probeBake, type BakeEstimate } from './estimate/probeBake';
export { standModels } from './plan/standModels';
export { packDirect, packTile, unpackDirect, unpackTile } from './transport/tileCodec';
export type { StemReader } from './stems/stemReader';
