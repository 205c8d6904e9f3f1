export { openingView } from './openingView';
export { seenTiles } from './seenTiles';
export { boundsOf, frameAll, renderPicture, type BakedLevel } from './picture';
