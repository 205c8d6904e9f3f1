/** What a file is, told by its first bytes. */
export type ImageFormat =
  'hdr' | 'exr' | 'png' | 'jpeg' | 'ktx2' | 'webp' | 'avif' | 'tiff' | 'gif' | 'bmp' | 'zip' | 'text' | 'empty' | 'unknown';

export const FORMAT_NAMES: Readonly<Record<ImageFormat, string>> = {
  hdr: 'a Radiance HDR image',
  exr: 'an OpenEXR image',
  png: 'a PNG image',
  jpeg: 'a JPEG image',
  ktx2: 'a KTX2 texture',
  webp: 'a WebP image',
  avif: 'an AVIF image',
  tiff: 'a TIFF image',
  gif: 'a GIF image',
  bmp: 'a BMP image',
  zip: 'a zip archive',
  text: 'a text file',
  empty: 'empty',
  unknown: 'of a kind that Basil does not know',
};

const MAGIC: [ImageFormat, number, number[]][] = [
  ['exr', 0, [0x76, 0x2f, 0x31, 0x01]],
  ['png', 0, [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]],
  ['jpeg', 0, [0xff, 0xd8, 0xff]],
  ['ktx2', 0, [0xab, 0x4b, 0x54, 0x58, 0x20, 0x32, 0x30, 0xbb]],
  ['hdr', 0, [0x23, 0x3f]],
  ['tiff', 0, [0x49, 0x49, 0x2a, 0x00]],
  ['tiff', 0, [0x4d, 0x4d, 0x00, 0x2a]],
  ['gif', 0, [0x47, 0x49, 0x46, 0x38]],
  ['bmp', 0, [0x42, 0x4d]],
  ['zip', 0, [0x50, 0x4b, 0x03, 0x04]],
  ['webp', 8, [0x57, 0x45, 0x42, 0x50]],
  ['avif', 4, [0x66, 0x74, 0x79, 0x70, 0x61, 0x76, 0x69]],
];

/** What a file is by its first bytes; its name plays no part. */
export function sniffImage(bytes: Uint8Array): ImageFormat {
  if (bytes.length === 0) return 'empty';
  for (const [format, at, magic] of MAGIC) if (magic.every((v, i) => bytes[at + i] === v)) return format;
  const head = bytes.subarray(0, 512);
  return head.every((v) => v === 9 || v === 10 || v === 13 || (v >= 32 && v !== 127)) ? 'text' : 'unknown';
}

const ENDINGS: Readonly<Record<string, ImageFormat>> = {
  hdr: 'hdr',
  pic: 'hdr',
  rgbe: 'hdr',
  exr: 'exr',
  png: 'png',
  jpg: 'jpeg',
  jpeg: 'jpeg',
  ktx2: 'ktx2',
  webp: 'webp',
  avif: 'avif',
  tif: 'tiff',
  tiff: 'tiff',
  gif: 'gif',
  bmp: 'bmp',
  zip: 'zip',
};

/** What a file's name says it is; null where it says nothing. */
export const claimedFormat = (name: string): ImageFormat | null => ENDINGS[/\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? ''] ?? null;
