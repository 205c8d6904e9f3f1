export { frameAll, renderPicture, type BakedLevel } from './picture';
