export { MAX_PIXELS, decodeImage } from './decodeImage';
export { readExr, type FloatImage } from './readExr';
export { writeExr } from './writeExr';
export { writeHdr } from './writeHdr';
