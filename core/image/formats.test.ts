import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { Failure, decodeSrgb } from '../units';
import { readSkyImage, sniffImage, writeExr } from './index';
import { readHdr, writeHdr } from '../rgbe';

const folder = mkdtempSync(join(tmpdir(), 'basil-images-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const file = (name: string) => join(folder, name);
const bytesOf = (name: string) => new Uint8Array(readFileSync(file(name)));
/** OpenImageIO's tool, of Debian's packages. */
const oiio = (...args: string[]) => execFileSync('oiiotool', args, { encoding: 'utf8' });

const [WIDTH, HEIGHT] = [64, 32];
/** A picture with values from night to sun, smooth and rough. */
const source = Float32Array.from({ length: WIDTH * HEIGHT * 4 }, (_, i) => {
  const [x, y, c] = [(i >> 2) % WIDTH, Math.floor((i >> 2) / WIDTH), i & 3];
  return c === 3 ? 1 : Math.fround((0.02 + Math.abs(Math.sin(x * 0.31 + c) * Math.cos(y * 0.17))) * 10 ** (((x >> 3) % 6) - 2));
});

/** The greatest error of an image against the source, relative to each pixel's brightest part. */
function error(rgba: Float32Array, against: Float32Array = source): number {
  let most = 0;
  for (let i = 0; i < WIDTH * HEIGHT; i++) {
    const peak = Math.max(...against.subarray(i * 4, i * 4 + 3));
    for (let c = 0; c < 3; c++) most = Math.max(most, Math.abs(rgba[i * 4 + c]! - against[i * 4 + c]!) / peak);
  }
  return most;
}

const KEPT = [
  ['half', 'none', 2 ** -11],
  ['half', 'rle', 2 ** -11],
  ['half', 'zip', 2 ** -11],
  ['half', 'zips', 2 ** -11],
  ['half', 'piz', 2 ** -11],
  ['float', 'none', 0],
  ['float', 'rle', 0],
  ['float', 'zip', 0],
  ['float', 'piz', 0],
] as const;
const LOSSY = ['dwaa', 'dwab', 'b44', 'b44a', 'pxr24'] as const;

beforeAll(async () => {
  writeFileSync(file('ours.exr'), await writeExr(source, WIDTH, HEIGHT));
  writeFileSync(file('ours.hdr'), writeHdr(source, WIDTH, HEIGHT));
  // All in one run: the tool takes half a second to start.
  const written = (name: string, type: string, compression: string) => ['-d', type, '--compression', compression, '-o', file(name)];
  oiio(
    file('ours.exr'),
    ...KEPT.flatMap(([type, compression]) => written(`${type}-${compression}.exr`, type, compression)),
    ...LOSSY.flatMap((compression) => written(`${compression}.exr`, 'half', compression)),
  );
  for (const compression of LOSSY) oiio(file(`${compression}.exr`), ...written(`plain-${compression}.exr`, 'float', 'none'));
});

describe('images written by other tools', () => {
  it.each(KEPT)('OpenEXR of %s with %s compression is read as it was written', async (type, compression, most) => {
    const name = `${type}-${compression}.exr`;
    const { image, format, bits, isHdr } = await readSkyImage(bytesOf(name), name);
    expect([format, isHdr, image.width, image.height, bits]).toEqual(['exr', true, WIDTH, HEIGHT, type === 'float' ? 32 : 16]);
    expect(error(image.rgba)).toBeLessThanOrEqual(most);
  });

  it.each(LOSSY)('OpenEXR with the lossy %s is read to what that tool itself reads', async (compression) => {
    const theirs = (await readSkyImage(bytesOf(`plain-${compression}.exr`), 'plain.exr')).image.rgba;
    expect(error((await readSkyImage(bytesOf(`${compression}.exr`), 'lossy.exr')).image.rgba, theirs)).toBeLessThan(2 ** -7);
  });

  it('tiled OpenEXR is read', async () => {
    execFileSync('exrmaketiled', ['-t', '16', '16', file('half-zip.exr'), file('tiled.exr')]);
    expect(error((await readSkyImage(bytesOf('tiled.exr'), 'tiled.exr')).image.rgba)).toBeLessThanOrEqual(2 ** -11);
  });

  it('a grey OpenEXR is read as grey', async () => {
    oiio(file('ours.exr'), '--ch', 'G', '--chnames', 'Y', '-d', 'float', '-o', file('grey.exr'));
    const { image } = await readSkyImage(bytesOf('grey.exr'), 'grey.exr');
    expect(image.rgba.every((v, i) => i % 4 === 3 || v === source[(i & ~3) + 1])).toBe(true);
  });

  it('Radiance HDR is read', async () => {
    oiio(file('ours.exr'), '-o', file('theirs.hdr'));
    const { image, format } = await readSkyImage(bytesOf('theirs.hdr'), 'theirs.hdr');
    expect(format).toBe('hdr');
    expect(error(image.rgba)).toBeLessThanOrEqual(1 / 128);
  });

  it('a PNG of 16 bits keeps its precision, and one of 8 is decoded as sRGB', async () => {
    oiio(
      '--pattern',
      'fill:topleft=0,0,0:topright=0.02,0.01,0.005:bottomleft=0.5,0.4,0.3:bottomright=1,1,1',
      '64x32',
      '3',
      '-d',
      'uint16',
      '-o',
      file('deep.png'),
    );
    const deep = await readSkyImage(bytesOf('deep.png'), 'deep.png');
    expect([deep.bits, deep.isHdr, deep.encoding]).toEqual([16, false, 'srgb']);
    // 64 steps from black to 0.02: 8 bits would leave 6 of them.
    const steps = new Set(Array.from({ length: 64 }, (_, x) => deep.image.rgba[x * 4]!));
    expect(steps.size).toBe(64);
    expect(deep.image.rgba[63 * 4]).toBeCloseTo(decodeSrgb(0.02), 4);
    const flat = await sharp({ create: { width: 64, height: 32, channels: 3, background: { r: 188, g: 64, b: 255 } } })
      .png()
      .toBuffer();
    const shown = (await readSkyImage(flat, 'flat.png')).image.rgba;
    [188, 64, 255].forEach((v, c) => expect(shown[c]).toBeCloseTo(decodeSrgb(v / 255), 6));
    expect((await readSkyImage(flat, 'flat.png', 'linear')).image.rgba[0]).toBeCloseTo(188 / 255, 6);
    const jpeg = await sharp(flat).jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
    expect((await readSkyImage(jpeg, 'flat.jpg')).image.rgba[0]).toBeCloseTo(decodeSrgb(188 / 255), 1);
  });
});

describe('our images in other tools', () => {
  it('OpenEXR and HDR are read by them to the same pixels', async () => {
    for (const [name, most] of [
      ['ours.exr', 0],
      ['ours.hdr', 1 / 128],
    ] as const) {
      oiio(file(name), '--ch', 'R,G,B', '-d', 'float', '--compression', 'none', '-o', file(`back-of-${name}.exr`));
      expect(error((await readSkyImage(bytesOf(`back-of-${name}.exr`), 'back.exr')).image.rgba)).toBeLessThanOrEqual(most);
    }
  });
});

describe('what a file is', () => {
  it('comes from its bytes, and a name that says otherwise is told', async () => {
    const { format, claimed } = await readSkyImage(bytesOf('ours.exr'), 'sky.hdr');
    expect([format, claimed]).toEqual(['exr', 'hdr']);
    expect(sniffImage(new TextEncoder().encode('a letter'))).toBe('text');
  });

  it('the old run-length coding of Radiance is understood', async () => {
    const head = new TextEncoder().encode('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 4 +X 300\n');
    // One pixel, then 1 1 1 n repeats: 43 + (1 << 8) = 299 more.
    const row = [128, 64, 32, 129, 1, 1, 1, 43, 1, 1, 1, 1];
    const bytes = new Uint8Array([...head, ...row, ...row, ...row, ...row]);
    const { image } = await readSkyImage(bytes, 'old.hdr');
    expect([image.width, image.height]).toEqual([300, 4]);
    for (const i of [0, 299, 1199]) expect([...image.rgba.subarray(i * 4, i * 4 + 4)]).toEqual([1, 0.5, 0.25, 1]);
  });

  it.each<[string, () => Uint8Array, RegExp]>([
    ['nothing at all', () => new Uint8Array(0), /empty/],
    ['a renamed text file', () => new TextEncoder().encode('Dear sky,\n'.repeat(40)), /text file/],
    ['one pixel', () => writeHdr(new Float32Array(32), 8, 1), /too small/],
    ['a head alone', () => bytesOf('ours.exr').slice(0, 60), /damaged/],
    [
      'a bomb: a head of 60000 x 60000',
      () => new TextEncoder().encode('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 60000 +X 60000\n'),
      /60000 x 60000/,
    ],
  ])('%s is refused with a reason', async (_, bytes, words) => {
    await expect(readSkyImage(bytes(), 'sky.hdr')).rejects.toThrow(words);
    await expect(readSkyImage(bytes(), 'sky.hdr')).rejects.toBeInstanceOf(Failure);
  });

  it('a PNG of 8400 x 4200 is taken in at half its size, some rows at a time', async () => {
    const [width, height] = [8400, 4200];
    const large = await sharp({ create: { width, height, channels: 3, background: { r: 188, g: 64, b: 255 } }, limitInputPixels: false })
      .png({ compressionLevel: 1 })
      .toBuffer();
    const { image, file } = await readSkyImage(large, 'large.png');
    expect(file).toEqual({ width, height });
    expect([image.width, image.height]).toEqual([4200, 2100]);
    for (const i of [0, 4199, 4200 * 1050 + 77, 4200 * 2100 - 1]) {
      [188, 64, 255].forEach((v, c) => expect(image.rgba[i * 4 + c]).toBeCloseTo(decodeSrgb(v / 255), 5));
    }
  });

  it('a large Radiance HDR is brought together two by two as it is read, with all its light', () => {
    const small = readHdr(bytesOf('ours.hdr'), 2);
    const whole = readHdr(bytesOf('ours.hdr'));
    expect([small.width, small.height]).toEqual([WIDTH / 2, HEIGHT / 2]);
    for (let y = 0; y < HEIGHT / 2; y++) {
      for (let x = 0; x < WIDTH / 2; x++) {
        const mean = [0, 1, WIDTH, WIDTH + 1].reduce((sum, o) => sum + whole.rgba[(y * 2 * WIDTH + x * 2 + o) * 4 + 1]! / 4, 0);
        expect(small.rgba[(y * (WIDTH / 2) + x) * 4 + 1]! / mean).toBeCloseTo(1, 5);
      }
    }
  });

  it('a PNG that unpacks to more than is taken is refused before it is unpacked', async () => {
    const bomb = await sharp({ create: { width: 17_000, height: 9000, channels: 3, background: '#000' }, limitInputPixels: false })
      .png({ compressionLevel: 9 })
      .toBuffer();
    expect(bomb.length).toBeLessThan(1_000_000);
    const before = process.memoryUsage().rss;
    await expect(readSkyImage(bomb, 'bomb.png')).rejects.toThrow('17000 x 9000');
    expect(process.memoryUsage().rss - before).toBeLessThan(150e6);
  });
});
