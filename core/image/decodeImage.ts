import sharp from 'sharp';
import { Failure } from '../units';

/** Pixels that one image may have; checked before any is decoded. */
export const MAX_PIXELS = 16384 * 16384;

/**
 * Decodes an 8-bit image (PNG, JPEG, WebP, AVIF by content) to sRGB RGBA bytes, top row first.
 * Throws a `bad-input` {@link Failure} that names `what`.
 */
export async function decodeImage(bytes: Uint8Array, what: string): Promise<{ width: number; height: number; data: Uint8Array }> {
  try {
    const { data, info } = await sharp(bytes, { limitInputPixels: MAX_PIXELS })
      .toColourspace('srgb')
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength) };
  } catch (cause) {
    throw new Failure('bad-input', `The image of ${what} is damaged: its pixels cannot be unpacked.`, 'Export it again, as PNG or JPEG.', {
      cause,
    });
  }
}
