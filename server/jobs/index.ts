export { rigSetting } from './intake';
export { readStemFiles, readTableFile } from './storedFiles';
export { startWorker, type RunningWorker } from './worker';
export { withinTime } from './withinTime';
