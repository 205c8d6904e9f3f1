/** Radiance HDR images: read and written without anything but the bytes, so in a page too. */
export { readHdr, readHdrHead, type HdrHead } from './readHdr';
export { writeHdr } from './writeHdr';
