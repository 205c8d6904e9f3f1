export type { LayoutOptions } from './layOut';
export { prepareLevel, type LevelSummary, type PreparedLevel } from './prepareLevel';
export { levelIo, readLevel } from './readLevel';
export { readSurfaces } from './surfaces';
export type { MapSize, Material, Surfaces, Texture } from './types';
