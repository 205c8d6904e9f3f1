export { rigSetting } from './intake';
export { readStemFiles } from './storedFiles';
export { startWorker, type RunningWorker } from './worker';
export { withinTime } from './withinTime';
