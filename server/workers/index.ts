export { bakeOnThreads } from './bakeOnThreads';
export { ThreadPool, type TaskOptions } from './pool';
export { unpackMap, type PackedMap, type PackedResult, type StemFiles } from './packing';
export { PICTURE } from './tasks';
