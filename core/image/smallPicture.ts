import sharp from 'sharp';
import { displayColor } from '../grade';
import type { Panorama } from '../sky';
import type { SkyReport } from './inspectSky';

/** Samples along each side of what one pixel of a small picture covers. */
const FINE = 3;

/**
 * A small PNG picture of a sky image, exposed for the mean of its stops: a sun does not darken it.
 *
 * @param most width and height that it has at most; it keeps the image's own proportion
 */
export async function smallPicture(
  { width, height, rgba }: Panorama,
  { histogram: { from, shares } }: Pick<SkyReport, 'histogram'>,
  most = { width: 400, height: 200 },
): Promise<Uint8Array> {
  const seen = shares.slice(1).reduce((sum, s) => sum + s, 0);
  const ev = seen > 0 ? from + shares.slice(1).reduce((sum, s, i) => sum + (s / seen) * ((i + 1.5) / 2), 0) - 0.8 : 0;
  const wide = Math.max(1, Math.min(most.width, Math.round((most.height * width) / height)));
  const high = Math.max(1, Math.min(most.height, Math.round((wide * height) / width)));
  const rgb = new Uint8Array(wide * high * 3);
  for (let y = 0; y < high; y++) {
    for (let x = 0; x < wide; x++) {
      const sum: [number, number, number] = [0, 0, 0];
      for (let k = 0; k < FINE * FINE; k++) {
        const px = Math.min(width - 1, Math.floor(((x + ((k % FINE) + 0.5) / FINE) / wide) * width));
        const py = Math.min(height - 1, Math.floor(((y + (Math.floor(k / FINE) + 0.5) / FINE) / high) * height));
        for (let c = 0; c < 3; c++) {
          const v = rgba[(py * width + px) * 4 + c]!;
          sum[c]! += v >= 0 && v < 1e30 ? v / (FINE * FINE) : 0;
        }
      }
      const shown = displayColor(sum, ev);
      for (let c = 0; c < 3; c++) rgb[(y * wide + x) * 3 + c] = Math.round(shown[c]! * 255);
    }
  }
  return sharp(rgb, { raw: { width: wide, height: high, channels: 3 } })
    .png()
    .toBuffer();
}
