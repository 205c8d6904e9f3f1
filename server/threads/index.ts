export { ThreadPool } from './pool';
export { PICTURE } from './tasks';
