export * from './bakes';
export * from './intakes';
export * from './levels';
export * from './models';
export * from './projects';
export * from './skyImages';
