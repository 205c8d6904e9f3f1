export {
  BAKE_STEPS,
  STEP_SHARES,
  bakeHere,
  bakeLevel,
  inputsOf,
  jobsOfMaps,
  mapsOf,
  memoryExecutor,
  fitsPlan,
  planFinish,
  planJobs,
  readyBands,
  runJob,
  type BakeExecutor,
  type BakeJobs,
  type BakeResults,
  type BakeStep,
  type BounceJob,
  type CompactJob,
  type JobInputs,
  type JobResults,
  type JobStep,
  type RunJob,
  type TablesInputs,
  type TablesJob,
} from './bakeLevel';
export { previewBake, previewLight } from './preview';
export { directTile, type TileDirect } from './transport/directTile';
export { skyNumbers } from './transport/skyFunctions';
export { directionGains } from './mix/directionGains';
export { LIGHT_BYTES, createDirectLight, joinDirect, type DirectLight } from './transport/directLight';
export {
  emptyHalves,
  fromHalves,
  halfReader,
  readCover,
  readLayers,
  readLayersInto,
  takeLayers,
  toHalves,
  writeCover,
  writeLayers,
  type HalfLayers,
  type HalfStems,
} from './stems/stemCodec';
export { dilate, dilateOnce } from './texels/dilate';
export { bandRanges, packBand, readBand, unpackBand, type ByteRange } from './lightmap/bandCodec';
export { shownBand, type TracedBand } from './lightmap/shownBand';
export { bakeNoise, noiseOfTile, sourceName, type BakeNoise, type NoiseSums, type SourceNoise } from './transport/bakeNoise';
export { denoiseBand, type BandStems, type DenoisedBand } from './lightmap/denoiseBand';
export { OutdatedTiles } from './transport/outdatedTiles';
export { finishPieces, joinPieces, type FinishJob, type FinishedPieces } from './lightmap/finishPieces';
export { bounceCost, solveBounce } from './transport/solveBounce';
export { gatherTile, type TileStems } from './transport/gatherTile';
export { bakedDirect, createMix, hasBakedDirect, isSameSun, mixAt, mixGains, mixMap, mixTexels, readerOf, spreadOverMap } from './mix/mix';
export { liveLamps, type LiveLamp } from './mix/liveLamps';
export { cueStandings, lackingOpenings, type CueStanding } from './plan/cueStandings';
export { bakeChange, bakedLamps, staleReasons, type BakeChange } from './plan/staleReasons';
export { createScene, mayBeHoles, startOffset, type Scene } from './transport/scene';
export { tracedIndices } from './transport/tracedIndices';
export {
  FIRST_SUN_LAYER,
  GLOW_LAYER,
  LAYER,
  NOISE_KINDS,
  SKY_BOUNCE_LAYER,
  SKY_BOUNCE_LAYERS,
  SKY_LAYERS,
  aureoleLayer,
  circuitLayer,
  layerCount,
  noiseLayer,
  type MapStems,
  type NoiseKind,
} from './stems/layers';
export { byFewestPaths, finishedEarly } from './plan/finishEarly';
export { TRACED_ROUGH, keepUp, type ToTrace } from './plan/keepUp';
export { layoutOf } from './plan/layoutOf';
export { seenFirst } from './plan/seenFirst';
export { QUALITIES, planBake, qualityOf } from './plan/planBake';
export {
  aureolesOf,
  type BakePlan,
  type BakedCircuit,
  type BakedGlow,
  type BakedParts,
  type BakedSun,
  type Measure,
  type MixedParts,
} from './plan/bakePlan';
export { SAME_SUN_DEG, sunShares, sunsToBake } from './plan/sunSamples';
export { packColumns, readColumn } from './stems/halfColumns';
export { SKY_BOUNCE_KEY, stemParts, tracedLayers, tracedParts, type Piece, type StemPart } from './stems/stemParts';
export { chartOfVertex } from './texels/charts';
export { coverTexels, type Texels, type Tile } from './texels/coverTexels';
export { estimateTiles, planTiles, type PlannedTile } from './texels/planTiles';
export { cosineDirection, hash32, samplePair } from './sampling/sobol';
export { inTriangle, mappedParts, triangleAt, type ObjectPart } from './sampling/objectPoints';
export { litThrough } from './transport/litThrough';
export { opened } from './plan/opened';
export { mapsByObject, mapsOfObjects } from './plan/objectMask';
export { MANIFEST_VERSION, manifestFault, type BakeManifest } from './stems/manifest';
export { packBounced, packDirect, packTile, unpackBounced, unpackDirect, unpackTile } from './transport/tileCodec';
export { joinLight, type BouncedLight, type LevelLight } from './transport/bouncedLight';
export type { StemReader } from './stems/stemReader';
export { MIXED, addLayers, readerOfMix } from './mix/mixedMap';
export {
  COMPACT,
  TABLES_KEY,
  compactBytes,
  compactParts,
  supersededBy,
  tablesFile,
  type CompactPart,
  type CompactTable,
} from './compact/compactParts';
export {
  DIRECT_MOST,
  compactMaps,
  joinBlocks,
  largestSum,
  layerIndex,
  sampleStems,
  sampleStep,
  type CompactStems,
  type TexelHalves,
} from './compact/compactStems';
export { layerOf, mixCompact, mixPart, partGains, type PartGains, type RgbGains } from './compact/compactMix';
export { momentsOf } from './compact/momentsOf';
export { joinPlanes, readPlanes, readTables, writePlanes, writeTables } from './compact/compactCodec';
export {
  bandReader,
  layersOf,
  gainsOfLayers,
  gainsWithout,
  storedHalves,
  storedReader,
  type SomeLayers,
  type StoredStems,
} from './compact/storedStems';
export { finishedRanges, packFinished, unpackFinished } from './lightmap/finishedCodec';
export { mapOutline } from './texels/mapOutline';
export type { Gains } from './stems/gains';
export type { LayerBlock } from './compact/layerBlock';
