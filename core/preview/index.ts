export { boundsOf, frameAll, renderPicture, type BakedLevel } from './picture';
