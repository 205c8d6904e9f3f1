export { addModels, type PlacedModel } from './addModels';
export type { LayoutOptions } from './layOut';
export { prepareLevel, type LevelSummary, type PrepareOptions, type PreparedLevel } from './prepareLevel';
export { levelIo, readLevel } from './readLevel';
export { readSurfaces } from './surfaces';
export { NO_MAP, type MapSize, type Material, type Surfaces, type Texture } from './types';
export { shareSurfaces } from './shareSurfaces';
export { standModels, type ModelOfRig } from './standModels';
export { withRoles } from './withRoles';
