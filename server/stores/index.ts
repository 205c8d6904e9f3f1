export * from './bakes';
export * from './intakes';
export * from './projects';
