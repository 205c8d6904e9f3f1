export { addFinish, type FinishDifferences } from './addFinish';
export { addModels, type PlacedModel } from './addModels';
export type { LayoutOptions } from './layOut';
export {
  densityFactor,
  prepareLevel,
  type LevelSummary,
  type PrepareOptions,
  type PreparedLevel,
  type SeemingPlacing,
} from './prepareLevel';
export { levelIo, readLevel, writeLevel } from './readLevel';
export { readForms, type FormPoints, type ObjectForms } from './readForms';
export { readSurfaces } from './surfaces';
export { NO_MAP, type MapSize, type Material, type Surfaces, type Texture } from './types';
export { shareSurfaces } from './shareSurfaces';
export { tracedSurfaces, type Standing } from './tracedSurfaces';
export { standModels, type ModelOfRig } from './standModels';
export { undrawnTriangles, withRoles } from './withRoles';
