export { openingView } from './openingView';
export { seenTiles } from './seenTiles';
export {
  boundsOf,
  developPicture,
  exposureOf,
  frameAll,
  meanRadiances,
  renderPicture,
  renderRadiances,
  type BakedLevel,
  type PictureSize,
} from './picture';
export { EYE_M, walkableFloor } from './walkableFloor';
