export { ThreadPool } from './pool';
export { PICTURE, unpackMap, type PackedMap } from './tasks';
export type { PreparedSky, ReadSky } from '../../core/image';
