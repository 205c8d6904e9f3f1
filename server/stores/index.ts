export * from './bakes';
export * from './cores';
export * from './intakes';
export * from './levels';
export * from './looks';
export * from './models';
export * from './projects';
export * from './skyImages';
