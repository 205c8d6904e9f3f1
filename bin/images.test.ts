import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { calibrated, readExr, writeExr } from '../core/image';
import { writeHdr } from '../core/rgbe';
import { FACES, panoramaIlluminance } from '../core/sky';
import { luminance } from '../core/units';
import { commandHere } from '../tests/lib/commandHere';
import { cutAt, knownSky } from '../tests/lib/skies';

const folder = mkdtempSync(join(tmpdir(), 'basil-cli-images-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function basil(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [join(__dirname, 'basil.mjs'), 'image', ...args], {
    encoding: 'utf8',
    env: { ...process.env, INIT_CWD: folder, NODE_OPTIONS: '' },
  });
  return { status, stderr, facts: (stdout.startsWith('{') ? JSON.parse(stdout) : {}) as Record<string, unknown>, stdout };
}
const { image, sun } = knownSky(135, 40, 'clear');
const { width, height, rgba } = image;
const written = (name: string) => readExr(readFileSync(join(folder, name)));
const levelLux = (of: typeof image) => luminance(panoramaIlluminance(of));

beforeAll(async () => {
  writeFileSync(join(folder, 'sky.exr'), await writeExr(rgba, width, height));
  writeFileSync(join(folder, 'named.exr'), writeHdr(rgba, width, height));
  const cut = cutAt(calibrated(image, 3), 1);
  writeFileSync(join(folder, 'cut.exr'), await writeExr(cut.rgba, width, height));
  writeFileSync(join(folder, 'letter.hdr'), 'Dear sky,');
});

describe('sky images at the command line', () => {
  it('are inspected: what they are, their sun and their light', () => {
    const { status, facts } = basil('inspect', 'sky.exr', '--json');
    expect(status).toBe(0);
    expect(facts).toMatchObject({
      format: 'exr',
      claimed: null,
      width: 512,
      height: 256,
      bits: 32,
      encoding: 'linear',
      isHdr: true,
      badPixels: 0,
      problems: [],
    });
    const found = facts.sun as { azimuthDeg: number; elevationDeg: number; lux: number; kelvin: number };
    expect(found.azimuthDeg).toBeCloseTo(135, 0);
    expect(found.elevationDeg).toBeCloseTo(40, 0);
    expect(found.lux / luminance(sun)).toBeCloseTo(1, 0);
    expect(found.kelvin).toBeGreaterThan(4500);
    expect(facts.illuminanceLux).toBeCloseTo(levelLux(image), -2);
    expect(basil('inspect', 'named.exr').stdout).toContain('other-format: Its name says EXR; it is a Radiance HDR image');
  });

  it('come as six faces, which are brought together', async () => {
    for (const [i, face] of FACES.entries()) {
      const pixels = new Float32Array(16 * 16 * 4).fill(i + 1);
      writeFileSync(join(folder, `${face}.exr`), await writeExr(pixels, 16, 16));
    }
    const files = FACES.map((face) => `${face}.exr`);
    const { status, facts } = basil('faces', ...files, '--out', 'faces.exr', '--json');
    expect(status).toBe(0);
    expect(facts).toMatchObject({ width: 64, height: 32 });
    const whole = written('faces.exr');
    const along = (x: number, y: number) => whole.rgba[(y * 64 + x) * 4]!;
    // Zenith, nadir, north in the middle, east right of it, west left of it, south at the wrap.
    expect([along(32, 0), along(32, 31), along(32, 16), along(48, 16), along(16, 16), along(0, 16)]).toEqual([3, 4, 5, 1, 2, 6]);
    const wrong = basil('faces', ...files.slice(0, 5), 'sky.exr', '--out', 'x.exr');
    expect(wrong.status).toBe(2);
    expect(wrong.stderr).toContain('sky.exr, the back face, is 512 x 256; a face is square');
    expect(basil('faces', ...files.slice(0, 5), '--out', 'x.exr').stderr).toContain('5 of six faces');
  });

  it('are split: the sun out of the image, nothing lost', () => {
    const { status, facts } = basil('split', 'sky.exr', '--out', 'rest.exr', '--json');
    expect(status).toBe(0);
    const sine = Math.sin(((facts.elevationDeg as number) * Math.PI) / 180);
    expect(((facts.horizontalAfterLux as number) + (facts.sunLux as number) * sine) / levelLux(image)).toBeCloseTo(1, 2);
    expect(levelLux(written('rest.exr')) / levelLux(image)).toBeLessThan(0.4);
  });

  it('are repaired, by the codes of remedies or of problems', () => {
    const seen = basil('inspect', 'cut.exr', '--json').facts.problems as { code: string; remedies: string[] }[];
    expect(seen.map((p) => p.code)).toContain('clipped-sun');
    const { status, facts } = basil(
      'repair',
      'cut.exr',
      '--fix',
      'clipped-sun,calibrate',
      '--lux',
      '90000',
      '--out',
      'mended.exr',
      '--json',
    );
    expect(status).toBe(0);
    expect(facts.applied).toEqual(['rebuild-sun', 'calibrate']);
    expect(facts.problems).toEqual([]);
    expect(levelLux(written('mended.exr'))).toBeCloseTo(90_000, -2);
  });

  it('are converted: smaller and turned', () => {
    expect(basil('convert', 'named.exr', '--out', 'small.exr', '--width', '128', '--turn', '90').status).toBe(0);
    const small = written('small.exr');
    expect([small.width, small.height]).toEqual([128, 64]);
    expect(levelLux(small) / levelLux(image)).toBeCloseTo(1, 1);
  });

  it.each([
    [['inspect', 'letter.hdr'], /letter\.hdr is a text file, though its name says HDR/],
    [['inspect', 'none.exr'], /none\.exr does not exist/],
    [['repair', 'sky.exr', '--fix', 'magic', '--out', 'a.exr'], /no remedy "magic"/],
    [['repair', 'sky.exr', '--fix', 'seam', '--out', 'a.png'], /neither \.exr nor \.hdr/],
    [['convert', 'sky.exr', '--out', 'a.exr', '--as', 'gamma'], /no encoding/],
  ])('refuse nonsense in one line: %j', async (args, words) => {
    const { status, stderr } = await commandHere(folder, 'image', ...args);
    expect(status).toBe(2);
    expect(stderr.trim().split('\n')).toHaveLength(1);
    expect(stderr).toMatch(words);
  });
});
