import sharp from 'sharp';
import { FloatType } from 'three';
import { HDRLoader } from 'three/examples/jsm/loaders/HDRLoader.js';
import { decodeImage, readExr, writeExr } from './index';
import { writeHdr } from '../rgbe';

describe('images', () => {
  it('writes OpenEXR that reads back bit for bit, top row first', async () => {
    const rgba = Float32Array.from({ length: 5 * 3 * 4 }, (_, i) => Math.fround(Math.sin(i) * 10 ** (i % 7)));
    const back = readExr(await writeExr(rgba, 5, 3));
    expect([back.width, back.height]).toEqual([5, 3]);
    expect([...back.rgba]).toEqual([...rgba]);
    expect(() => readExr(new Uint8Array([1, 2, 3]))).toThrow('OpenEXR');
  });

  it('refuses OpenEXR that is cut short anywhere, in its head as well, and never goes on for ever', async () => {
    const whole = await writeExr(new Float32Array(16 * 16 * 4).fill(0.5), 16, 16);
    for (let length = 0; length < whole.length; length += length < 400 ? 1 : 97) {
      expect(() => readExr(whole.subarray(0, length))).toThrow(/OpenEXR image (is damaged|could not be read)/);
    }
    expect(readExr(whole).rgba.every((v) => v === 0.5)).toBe(true);
  });

  it('writes Radiance HDR that another reader reads, within the eight bits it has', () => {
    const [width, height] = [40, 9];
    const rgba = Float32Array.from({ length: width * height * 4 }, (_, i) =>
      i % 160 < 60 ? 0.5 : Math.abs(Math.sin(i)) * 10 ** ((i % 9) - 4),
    );
    const { data } = new HDRLoader().setDataType(FloatType).parse(writeHdr(rgba, width, height).buffer as ArrayBuffer) as unknown as {
      data: Float32Array;
    };
    for (let i = 0; i < width * height; i++) {
      const peak = Math.max(...rgba.subarray(i * 4, i * 4 + 3));
      for (let c = 0; c < 3; c++) expect(Math.abs(data[i * 4 + c]! - rgba[i * 4 + c]!)).toBeLessThanOrEqual(peak / 128);
    }
    expect(() => writeHdr(rgba, 4, 9)).toThrow(RangeError);
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
