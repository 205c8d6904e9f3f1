export { Shelf } from './shelf/Shelf';
export { Studio } from './Studio';
export { Frame } from './theme/Frame';
