export { bakeOnThreads } from './bakeOnThreads';
export { ThreadPool, type TaskOptions } from './pool';
export { PICTURE, unpackMap, type PackedMap, type PackedResult, type StemFiles } from './tasks';
