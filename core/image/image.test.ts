import sharp from 'sharp';
import { decodeImage, readExr, writeExr } from './index';

describe('images', () => {
  it('writes OpenEXR that reads back bit for bit, top row first', async () => {
    const rgba = Float32Array.from({ length: 5 * 3 * 4 }, (_, i) => Math.fround(Math.sin(i) * 10 ** (i % 7)));
    const back = readExr(await writeExr(rgba, 5, 3));
    expect([back.width, back.height]).toEqual([5, 3]);
    expect([...back.rgba]).toEqual([...rgba]);
    expect(() => readExr(new Uint8Array([1, 2, 3]))).toThrow('OpenEXR');
  });

  it('are decoded by what they are, to sRGB and alpha', async () => {
    const source = sharp({ create: { width: 3, height: 2, channels: 4, background: { r: 10, g: 200, b: 30, alpha: 0.5 } } });
    for (const bytes of [await source.clone().png().toBuffer(), await source.clone().webp({ lossless: true }).toBuffer()]) {
      const { width, height, data } = await decodeImage(bytes, 'a test');
      expect([width, height, ...data.subarray(0, 4)]).toEqual([3, 2, 10, 200, 30, 128]);
    }
    await expect(decodeImage(new Uint8Array([1, 2, 3]), 'texture "bark"')).rejects.toThrow('texture "bark"');
  });
});
