import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { writeExr, type ReadSkyArgs } from '../../core/image';
import { writeHdr } from '../../core/rgbe';
import { Failure } from '../../core/units';
import { ThreadPool } from './index';

const pool = new ThreadPool(2);
afterAll(() => pool.close());

const [WIDTH, HEIGHT] = [64, 32];
const pixels = Float32Array.from({ length: WIDTH * HEIGHT * 4 }, (_, i) => Math.abs(Math.sin(i * 0.37)) * 10 ** (((i >> 6) % 5) - 2));
/** The same pixels as another tool packs them. */
async function exrAs(compression: string): Promise<Uint8Array> {
  const folder = mkdtempSync(join(tmpdir(), 'basil-exr-'));
  try {
    writeFileSync(join(folder, 'a.exr'), await writeExr(pixels, WIDTH, HEIGHT));
    execFileSync('oiiotool', [join(folder, 'a.exr'), '-d', 'half', '--compression', compression, '-o', join(folder, 'b.exr')]);
    return new Uint8Array(readFileSync(join(folder, 'b.exr')));
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const late = new Failure('bad-input', 'The image could not be read in time: it is damaged.', 'Fetch or export it again.');

/** Reads an image on a thread that is given up after some seconds. */
function readWithin(seconds: number, args: ReadSkyArgs) {
  const ended = new AbortController();
  const timer = setTimeout(() => ended.abort(late), seconds * 1000);
  return pool.run('readSky', args, { signal: ended.signal }).finally(() => clearTimeout(timer));
}

/** A fixed stream of numbers 0..1. */
function* stream(seed: number) {
  for (let s = seed; ;) {
    s = (Math.imul(s, 1664525) + 1013904223) >>> 0;
    yield s / 2 ** 32;
  }
}

describe('two hundred damaged files', () => {
  it('end in a clear error or in an image, and never in anything else', async () => {
    const png = await sharp({ create: { width: 64, height: 32, channels: 3, background: '#7799bb' } })
      .png()
      .toBuffer();
    const whole: [string, Uint8Array][] = [
      ['sky.exr', await writeExr(pixels, WIDTH, HEIGHT)],
      ['piz.exr', await exrAs('piz')],
      ['rle.exr', await exrAs('rle')],
      ['dwa.exr', await exrAs('dwaa')],
      ['sky.hdr', writeHdr(pixels, WIDTH, HEIGHT)],
      ['sky.png', new Uint8Array(png)],
      ['sky.jpg', new Uint8Array(await sharp(png).jpeg().toBuffer())],
    ];
    const random = stream(20_261_125);
    const next = () => random.next().value as number;
    const outcomes = { refused: 0, read: 0 };
    const before = process.memoryUsage().rss;
    for (let n = 0; n < 200; n++) {
      const [name, from] = whole[n % whole.length]!;
      const bytes = from.slice();
      const cut = n % 3 === 0;
      if (cut) {
        // Cut short, anywhere but in its last bytes.
      } else if (n % 3 === 1) {
        for (let k = 0; k < 12; k++) bytes[Math.floor(next() * bytes.length)]! ^= 1 << Math.floor(next() * 8);
      } else {
        // Wrong sizes and offsets in the head.
        for (let k = 0; k < 6; k++) bytes[8 + Math.floor(next() * Math.min(400, bytes.length - 8))] = Math.floor(next() * 256);
      }
      const given = cut ? bytes.slice(0, Math.floor(next() * 0.95 * bytes.length)) : bytes;
      try {
        const { image } = await readWithin(5, { bytes: given, name, remedies: [], options: {} });
        expect(image.rgba.length).toBe(image.width * image.height * 4);
        outcomes.read++;
        // What is cut short must be noticed.
        if (cut) throw new Error(`${name} cut to ${given.length} of ${bytes.length} bytes was read`);
      } catch (fault) {
        if (!(fault instanceof Failure)) throw fault;
        expect(fault.code).toBe('bad-input');
        expect(fault.message.length).toBeGreaterThan(15);
        expect(fault.remedy).not.toBe('');
        outcomes.refused++;
      }
    }
    expect(outcomes.refused).toBeGreaterThan(100);
    expect(outcomes.refused + outcomes.read).toBe(200);
    expect(process.memoryUsage().rss - before).toBeLessThan(600e6);
  }, 120_000);
});
