import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { readExr } from '../core/image';
import { defaultRig, type Cue, type Rig } from '../core/rig';
import { luminance, whiteLuminance } from '../core/units';
import { commandFolder } from '../tests/lib/commandFolder';
import { commandHere } from '../tests/lib/commandHere';
import { quadLevel } from '../tests/lib/level';
import { oneVantage } from '../tests/lib/vantage';

const { basil, put, remove, folder } = commandFolder();
/** What a wall before the eye sends, cd/m2. */
const WALL = 1000;
const EV = 13;
const STEMS = ['--stems', 'baked', '--rig', 'rig.json'];
let rig: Rig;

beforeAll(async () => {
  put(
    'court.glb',
    await quadLevel([
      { name: 'Ground', corner: [-8, 0, -8], along: [0, 0, 16], up: [16, 0, 0], albedo: 0.3 },
      { name: 'Wall', corner: [-6, 0, 0], along: [12, 0, 0], up: [0, 5, 0], albedo: 0, glow: WALL },
    ]),
  );
  rig = defaultRig();
  rig.bake = { ...rig.bake, quality: 'rough', texelsPerM: 1 };
  rig.vantages = oneVantage({ eye: [0, 1.65, 6], target: [0, 1.65, 0], fovDeg: 50 });
  rig.cues[0]!.holds.exposure = { lowEv: EV, highEv: EV, biasEv: 0 };
  put('rig.json', JSON.stringify(rig));
  const { status, stderr } = basil('bake', 'court.glb', '--rig', 'rig.json', '--out', 'baked', '--compact');
  expect([status, stderr]).toEqual([0, '']);
});
afterAll(remove);

const pixels = async (name: string) => {
  const { data, info } = await sharp(join(folder, name)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return {
    width: info.width,
    height: info.height,
    at: (x: number, y: number) => [...data.subarray((y * info.width + x) * 3).subarray(0, 3)],
  };
};

describe('stills at the command line', () => {
  it('are radiances as EXR: what a wall is known to send', () => {
    const { status, stderr } = basil('still', ...STEMS, '--cue', 'Noon', '--width', '64', '--out', 'wall.exr');
    expect([status, stderr]).toEqual([0, '']);
    const { width, height, rgba } = readExr(readFileSync(join(folder, 'wall.exr')));
    expect([width, height]).toEqual([64, 36]);
    const middle = (18 * 64 + 32) * 4;
    expect(luminance([rgba[middle]!, rgba[middle + 1]!, rgba[middle + 2]!]) / WALL).toBeCloseTo(1, 2);
    // The sky is over the ground in the first row.
    expect(rgba[2]!).toBeGreaterThan(0);
  });

  it('are graded as PNG, and larger ones show the same', async () => {
    for (const width of ['60', '240'])
      basil('still', ...STEMS, '--cue', 'Noon', '--width', width, '--height', String(Number(width) / 1.5), '--out', `${width}.png`);
    const [small, large] = [await pixels('60.png'), await pixels('240.png')];
    expect([small.width, small.height, large.width, large.height]).toEqual([60, 40, 240, 160]);
    for (const [x, y] of [
      [30, 15],
      [30, 37],
      [3, 3],
    ] as const)
      small.at(x, y).forEach((v, c) => expect(Math.abs(v - large.at(x * 4 + 2, y * 4 + 2)[c]!)).toBeLessThan(4));
    expect(WALL / whiteLuminance(EV)).toBeLessThan(0.2);
  });

  it('stand in sheets: every cue from one view, and a cue from every view', () => {
    // Work light is in none.
    const work: Cue = { ...rig.cues[0]!, id: 'plain', name: 'Plain light', kind: 'bench' };
    put('work.json', JSON.stringify({ ...rig, cues: [work, ...rig.cues] }));
    const sheet = ['sheet', '--stems', 'baked', '--rig', 'work.json', '--width', '60', '--out', 'cues.png', '--json'];
    const cues = JSON.parse(basil(...sheet).stdout) as { pictures: { label: string }[] };
    expect(cues.pictures.map((p) => p.label)).toEqual(rig.cues.map((c) => c.name));
    const views = JSON.parse(
      basil('sheet', ...STEMS, '--cue', 'Noon', '--width', '60', '--out', 'views.png', '--json').stdout,
    ) as typeof cues;
    expect(views.pictures).toEqual([{ label: 'Vantage 1', note: 'Noon' }]);
  });

  it('climb a ladder of one value, from dark to bright', async () => {
    const paths = 'cues/Noon/holds/exposure/lowEv,cues/Noon/holds/exposure/highEv';
    const { status, stdout } = basil(
      'ladder',
      ...STEMS,
      '--value',
      paths,
      '--from',
      '15',
      '--to',
      '11',
      '--steps',
      '3',
      '--width',
      '60',
      '--out',
      'ladder.png',
      '--json',
    );
    expect(status).toBe(0);
    expect((JSON.parse(stdout) as { pictures: { label: string; note: string }[] }).pictures).toEqual([
      { label: '15', note: '' },
      { label: '13', note: 'as it is' },
      { label: '11', note: '' },
    ]);
    const strip = await pixels('ladder.png');
    const levels = [0, 1, 2].map((k) => strip.at(12 + k * 72 + 30, 44 + 15)[0]!);
    expect(levels[1]!).toBeGreaterThan(levels[0]! + 15);
    expect(levels[2]!).toBeGreaterThan(levels[1]! + 15);
  });

  it.each<[string, string[], RegExp]>([
    ['another ending', ['still', ...STEMS, '--cue', 'Noon', '--out', 'a.jpg'], /neither a \.png nor an \.exr/],
    [
      'a vantage that is not there',
      ['still', ...STEMS, '--cue', 'Noon', '--vantage', 'Roof', '--out', 'a.png'],
      /no vantage "Roof".*Vantage 1/,
    ],
    [
      'a folder that is none of a bake',
      ['still', '--stems', '.', '--rig', 'rig.json', '--cue', 'Noon', '--out', 'a.png'],
      /there is no manifest\.json/,
    ],
    [
      'a picture that is too large',
      ['still', ...STEMS, '--cue', 'Noon', '--width', '16000', '--out', 'a.png'],
      /more memory than it should/,
    ],
    ['a path to no number', ['ladder', ...STEMS, '--value', 'cues/Noon', '--out', 'a.png'], /is no number/],
  ])('refuse %s in one line', async (_, args, words) => {
    const { status, stderr } = await commandHere(folder, ...args);
    expect(status).toBe(2);
    expect(stderr.trim()).toMatch(words);
    expect(stderr.trim().split('\n')).toHaveLength(1);
  });
});
