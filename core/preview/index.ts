export { bakedLight, frameAll, renderPicture, type BakedLevel } from './picture';
