export { fluxOf, measuredFlux, measuredIntensity, spotShare, type Intensity } from './distribution';
export { emissionOf, lampColor, reachShare, readProfile, type Emission } from './emission';
export { SAMPLE, createEmitter, extentOf, type Emitter } from './emitter';
export { aimOf, lampFrame, type LampFrame } from './frame';
export { ISOLUX, floorGrid, type FloorGrid } from './isolux';
export { motionPeriod, movedLamp } from './motion';
export { MAX_IES, readIes, type IesFile } from './readIes';
export type { Aim, Lamp, LampColor, LampKept, LampMotion, LampOutput, LampShape, FileLight, Profile } from './types';
