export { openingView } from './openingView';
export { seenTiles } from './seenTiles';
export { boundsOf, frameAll, renderPicture, type BakedLevel } from './picture';
export { EYE_M, walkableFloor } from './walkableFloor';
