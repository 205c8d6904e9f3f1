export { ThreadPool } from './pool';
export { PICTURE } from './tasks';
export type { PreparedSky, ReadSky } from './readSky';
