import sharp from 'sharp';

export type Pixel = [r: number, g: number, b: number];

export const shade = ([r, g, b]: Pixel, by: number): Pixel => [r * by, g * by, b * by];
export const blend = (a: Pixel, b: Pixel, t: number): Pixel => [
  a[0] + (b[0] - a[0]) * t,
  a[1] + (b[1] - a[1]) * t,
  a[2] + (b[2] - a[2]) * t,
];
/** 0 up to `from`, 1 from `to` on, smooth between. */
export function rise(from: number, to: number, v: number): number {
  const t = Math.max(0, Math.min(1, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

/** A square picture as a JPEG, from the sRGB bytes of each pixel. */
export async function paint(size: number, pixel: (x: number, y: number) => Pixel): Promise<Uint8Array> {
  const data = new Uint8Array(size * size * 3);
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++)
      pixel(x, y).forEach((v, c) => (data[(y * size + x) * 3 + c] = Math.max(0, Math.min(255, Math.round(v)))));
  }
  return sharp(data, { raw: { width: size, height: size, channels: 3 } })
    .jpeg({ quality: 82, chromaSubsampling: '4:2:0' })
    .toBuffer();
}
