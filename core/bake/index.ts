export { fromHalves, packStems, readStems, toHalves, unpackStems, type HalfStems } from './encode';
export { finishMap } from './finish';
export { gatherTile, varianceSlots, type TileStems } from './gather';
export { isSameSun, mixGains, mixMap, mixTexel, onlyPart, skyCoefficients, type Gains, type MixPart } from './mix';
export { bakedLight, frameAll, renderPicture, type BakedLevel } from './picture';
export { createScene, startOffset, type Scene } from './scene';
export { FIRST_SUN_LAYER, GLOW_LAYER, LAYER, SKY_LAYERS, layerCount, planBake, type BakePlan, type BakedSun, type MapStems } from './stems';
export { planTiles, type Tile } from './texels';
