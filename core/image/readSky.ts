import sharp from 'sharp';
import { FACES, sortFaces, type Face, type Panorama } from '../sky';
import { Failure, decodeSrgb } from '../units';
import { joinFaces } from './faceFiles';
import { unzipFiles } from './unzipFiles';
import { findLayout, toPanorama, type ImageLayout, type SkyLayout } from './layout';
import { readExr } from './readExr';
import { readExrHead } from './readExrHead';
import { readHdr, readHdrHead } from '../rgbe';
import { FORMAT_NAMES, claimedFormat, sniffImage, type ImageFormat } from './sniff';

/** How the numbers of an image stand for light. */
export type Encoding = 'linear' | 'srgb';

/** A sky image as it was read: linear, four numbers a pixel. */
export interface SkyImage {
  image: Panorama;
  /** Size of the file's own pixels; larger than the image's where they were brought together. */
  file: { width: number; height: number };
  format: ImageFormat;
  /** What the name says it is, where that is something else; null where they agree or the name says nothing. */
  claimed: ImageFormat | null;
  /** How the sky lay on the file; its pixels here are a panorama's where it was another. */
  layout: SkyLayout;
  /** Bits of a stored component: 8 or 16 whole numbers, 16 or 32 floating ones, 8 with a shared exponent. */
  bits: number;
  /** How its numbers were taken. */
  encoding: Encoding;
  /** Whether it can hold light brighter than white. */
  isHdr: boolean;
  /** Pixels with values below zero that were read as 0. Default: none. */
  negative?: number;
}

/** Most pixels that are worked on; each takes 16 bytes, so 550 MB in all. */
export const MAX_SKY_PIXELS = 8192 * 4096;
/** Most pixels of a file; what has more than are worked on is brought together two by two, or four by four, as it is read. */
const MAX_FILE_PIXELS = 16_384 * 8192;
/** Most pixels of rows that are unpacked at a time. */
const STRIP_PIXELS = 1 << 24;
/** Largest file of a sky image, bytes. */
export const MAX_SKY_BYTES = 450_000_000;

const refuse = (what: string, remedy: string, cause?: unknown): never => {
  throw new Failure('bad-input', what, remedy, { cause });
};

/** Refuses a size that is not taken; answers how many pixels along each side are brought together as it is read. */
function reduction(width: number, height: number, most = MAX_FILE_PIXELS): number {
  if (!(width >= 4 && height >= 2))
    refuse(`The image is ${width} x ${height} pixels, too small for a sky.`, 'Bring one of 512 x 256 or more.');
  if (width * height > most) {
    const [w, h] = most === MAX_FILE_PIXELS ? [16_384, 8192] : [8192, 4096];
    refuse(
      `The image is ${width} x ${height} pixels; Basil takes up to ${w} x ${h} of its kind.`,
      'Make it smaller and bring it again; light needs no more.',
    );
  }
  let by = 1;
  while ((width / by) * (height / by) > MAX_SKY_PIXELS) by *= 2;
  return by;
}

/**
 * Reads a sky image of any kind that Basil takes: Radiance HDR, OpenEXR, PNG of 8 or 16 bits, JPEG, or the six faces of a sky in a zip archive. What it is comes from its
 * bytes; its size is checked before any pixel is decoded.
 *
 * @param name of the file, to say where it claims to be something else
 * @param as how to take whole-number pixels instead of by the custom of their format
 * @param lies how the sky lies on the file, where that is known
 *
 * Throws a `bad-input` {@link Failure} that says what is wrong and what to do.
 */
export async function readSkyImage(bytes: Uint8Array, name: string, as?: Encoding, lies?: ImageLayout): Promise<SkyImage> {
  if (sniffImage(bytes) === 'zip') return readFaces(bytes, name, as);
  const read = await readPixels(bytes, name, as);
  const negative = mendNegative(read.image);
  const layout = lies ?? findLayout(read.image);
  return { ...read, negative, image: toPanorama(read.image, layout), layout };
}

/** Most pixels with values below zero that are taken for the leavings of lossy compression, as a share of all. */
const MOST_NEGATIVE = 0.01;

/** Sets values below zero to 0, where few pixels have some; answers how many had. */
function mendNegative({ rgba }: Panorama): number {
  const below: number[] = [];
  for (let i = 0; i < rgba.length; i += 4) {
    const [r, g, b] = [rgba[i]!, rgba[i + 1]!, rgba[i + 2]!];
    if (Math.min(r, g, b) < 0 && Math.min(r, g, b) > -Infinity && Math.max(r, g, b) < Infinity) below.push(i);
  }
  if (below.length > (rgba.length / 4) * MOST_NEGATIVE) return 0;
  for (const i of below) for (let c = 0; c < 3; c++) rgba[i + c] = Math.max(0, rgba[i + c]!);
  return below.length;
}

/** What a file's own pixels are, before it is known how the sky lies on them. */
type Pixels = Omit<SkyImage, 'layout' | 'negative'>;

/** Reads the six faces of a sky out of a zip archive; what they are as files is told of the first. */
async function readFaces(bytes: Uint8Array, name: string, as?: Encoding): Promise<SkyImage> {
  const files = sortFaces(unzipFiles(bytes, name, MAX_SKY_BYTES));
  const faces: Partial<Record<Face, Pixels & { name: string }>> = {};
  for (const face of FACES) faces[face] = { name: files[face].name, ...(await readPixels(files[face].bytes, files[face].name, as)) };
  const read = faces as Record<Face, Pixels & { name: string }>;
  const image = joinFaces(read);
  const { claimed, format, bits, encoding } = read.right;
  const { width } = read.right.file;
  return {
    image,
    negative: mendNegative(image),
    file: { width: width * FACES.length, height: width },
    format,
    claimed,
    layout: 'files',
    bits,
    encoding,
    isHdr: FACES.some((face) => read[face].isHdr),
  };
}

async function readPixels(bytes: Uint8Array, name: string, as?: Encoding): Promise<Pixels> {
  const format = sniffImage(bytes);
  const said = claimedFormat(name);
  const claimed = said !== null && said !== format ? said : null;
  const called = claimed
    ? `${name} is ${FORMAT_NAMES[format]}, though its name says ${claimed.toUpperCase()}`
    : `${name} is ${FORMAT_NAMES[format]}`;
  switch (format) {
    case 'hdr': {
      const { width, height } = readHdrHead(bytes);
      const by = reduction(width, height);
      // A row of run-length codes takes some bytes for each 127 pixels at the least.
      if (bytes.length < height * 4) refuse(`${name} is cut short: ${bytes.length} bytes for ${height} rows.`, 'Fetch or export it again.');
      return { image: readHdr(bytes, by), file: { width, height }, format, claimed, bits: 8, encoding: 'linear', isHdr: true };
    }
    case 'exr': {
      const { width, height, bits } = readExrHead(bytes);
      reduction(width, height, MAX_SKY_PIXELS);
      return { image: readExr(bytes), file: { width, height }, format, claimed, bits, encoding: 'linear', isHdr: true };
    }
    case 'png':
    case 'jpeg':
      return { ...(await readWhole(bytes, name, as ?? 'srgb')), format, claimed, isHdr: false };
    case 'empty':
      return refuse(`${name} is empty: it has no bytes.`, 'Fetch or export it again.');
    case 'text':
    case 'unknown':
      return refuse(`${called}.`, 'Bring a Radiance HDR, an OpenEXR, a PNG or a JPEG image.');
    default:
      return refuse(`${called}, which Basil does not take as a sky.`, 'Convert it to OpenEXR or Radiance HDR.');
  }
}

/** Pixels of whole numbers, by their encoding: some rows at a time, brought together where there are too many. */
async function readWhole(
  bytes: Uint8Array,
  name: string,
  encoding: Encoding,
): Promise<Pick<SkyImage, 'image' | 'file' | 'bits' | 'encoding'>> {
  const read = <T>(work: Promise<T>): Promise<T> =>
    work.catch((cause: unknown) => {
      throw new Failure('bad-input', `${name} is damaged: its pixels cannot be unpacked.`, 'Fetch or export it again.', { cause });
    });
  const { width, height, depth } = await read(sharp(bytes, { limitInputPixels: false, failOn: 'error' }).metadata());
  const by = reduction(width, height);
  const isDeep = depth === 'ushort';
  const most = isDeep ? 65_535 : 255;
  const light = Float32Array.from({ length: most + 1 }, (_, i) => (encoding === 'srgb' ? decodeSrgb(i / most) : i / most) / (by * by));
  const [wide, high] = [Math.floor(width / by), Math.floor(height / by)];
  const rgba = new Float32Array(wide * high * 4);
  const strip = Math.max(by, Math.floor(STRIP_PIXELS / width / by) * by);
  for (let top = 0; top < high * by; top += strip) {
    const rows = Math.min(strip, high * by - top);
    const { data, info } = await read(
      sharp(bytes, { limitInputPixels: MAX_FILE_PIXELS, failOn: 'error' })
        .extract({ left: 0, top, width, height: rows })
        .toColourspace(isDeep ? 'rgb16' : 'srgb')
        .removeAlpha()
        .raw({ depth: isDeep ? 'ushort' : 'uchar' })
        .toBuffer({ resolveWithObject: true }),
    );
    const values = isDeep ? new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2) : data;
    for (let y = 0; y < rows; y++) {
      for (let x = 0; x < wide * by; x++) {
        const from = (y * width + x) * info.channels;
        const out = (Math.floor((top + y) / by) * wide + Math.floor(x / by)) * 4;
        for (let c = 0; c < 3; c++) rgba[out + c]! += light[values[from + (info.channels >= 3 ? c : 0)]!]!;
        rgba[out + 3] = 1;
      }
    }
  }
  return { image: { width: wide, height: high, rgba }, file: { width, height }, bits: isDeep ? 16 : 8, encoding };
}
