export { openingView } from './openingView';
export { boundsOf, frameAll, renderPicture, type BakedLevel } from './picture';
