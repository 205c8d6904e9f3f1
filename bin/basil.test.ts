import type { fogReport } from './lib/fogReport';
import type { weatherReport } from './lib/weatherReport';
import { layerCount, type BakePlan } from '../core/bake';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { applyLut, readCube } from '../core/grade';
import { readExr, writeExr, type FloatImage } from '../core/image';
import type { BakeManifest } from '../core/bake';
import { defaultRig, type Rig } from '../core/rig';
import { commandFolder } from '../tests/lib/commandFolder';
import { commandHere } from '../tests/lib/commandHere';
import { iesText } from '../tests/lib/ies';
import { lampWith } from '../tests/lib/lamps';
import { quadLevel, room, type Quad } from '../tests/lib/level';
import { cueWith, mean, uniformSky } from '../tests/lib/bake';

const { folder, basil, put, remove } = commandFolder();
afterAll(remove);

const image = (...path: string[]) => readExr(readFileSync(join(folder, ...path)));
/** One channel of the gathered texels. */
const channel = ({ rgba }: FloatImage, c: number) =>
  Array.from({ length: rgba.length / 4 }, (_, i) => i)
    .filter((i) => rgba[i * 4 + 3] === 1)
    .map((i) => rgba[i * 4 + c]!);

const bake = { texelsPerM: 4, maxMapSize: 256, quality: 'fine', bounces: 200, densities: {}, groupDensities: {}, budgetMB: 512 } as const;
const rigOf = (change: Partial<Rig>): string => JSON.stringify({ ...defaultRig(), bake, ...change });
const ground: Quad = { name: 'ground', corner: [-2, 0, -2], along: [0, 0, 4], up: [4, 0, 0], albedo: 0.5 };

describe('the command line', () => {
  it('bakes a closed emitting cube to E = pi L / (1 - albedo), from the images it writes', async () => {
    put('cube.glb', await quadLevel(room(0, 2, { albedo: 0.5, glow: 100 })));
    put('dark.json', rigOf({ cues: [{ ...cueWith({ sky: uniformSky(0), sun: { illuminanceLux: 0 } }), name: 'Inside' }] }));
    const { status, stdout } = basil('bake', 'cube.glb', '--rig', 'dark.json', '--out', 'cube', '--json');
    expect(status).toBe(0);
    const manifest = JSON.parse(stdout) as { files: { file: string; unit: string; formula: string }[] };
    for (const { file } of manifest.files) expect(existsSync(join(folder, 'cube', file))).toBe(true);
    for (const c of [0, 1, 2]) {
      expect(Math.abs(mean(channel(image('cube', 'cue-inside.exr'), c)) / 200 - 1)).toBeLessThan(0.01);
      const [direct, bounce] = ['direct', 'bounce'].map((way) => mean(channel(image('cube', `stem-glow-${way}.exr`), c)));
      expect(Math.abs((direct! + bounce!) / 200 - 1)).toBeLessThan(0.01);
      // What each wall sees of the others glows at L; the rest has bounced.
      expect(Math.abs(direct! / 100 - 1)).toBeLessThan(0.01);
    }
    expect(JSON.parse(readFileSync(join(folder, 'cube', 'manifest.json'), 'utf8'))).toMatchObject({ format: 'basil-bake', version: 6 });
  });

  it('bakes by other samples, to another noise and without steps, and says how uncertain each source is', async () => {
    put('yard.glb', await quadLevel(room(0, 2, { albedo: 0.5 }).filter((q) => q.name !== 'ceiling')));
    const cue = { ...cueWith({ sky: uniformSky(2000), sun: { elevationDeg: 70, illuminanceLux: 1000, colorK: 6504 } }), name: 'Noon' };
    put('yard.json', rigOf({ bake: { ...bake, quality: 'rough' }, cues: [cue] }));
    const baked = (out: string, ...more: string[]) =>
      JSON.parse(basil('bake', 'yard.glb', '--rig', 'yard.json', '--out', out, '--json', ...more).stdout) as BakeManifest;
    const [plain, other] = [baked('yard'), baked('other', '--seed', '3', '--noise', '0.1', '--without', 'filter,seams')];
    expect(other.plan).toMatchObject({ seed: 3, noise: 0.1, without: ['filter', 'seams'] });
    for (const { noise } of [plain, other]) {
      expect(noise.sources.map(({ source, ids }) => [source, ...ids])).toEqual([['sky'], ['sun', cue.id]]);
      for (const line of noise.sources) expect(line.noise).toBeGreaterThan(0);
    }
    expect(other.noise.sources[1]!.noise).toBeLessThan(0.95 * plain.noise.sources[1]!.noise);
    expect(channel(image('other', 'cue-noon.exr'), 1)).not.toEqual(channel(image('yard', 'cue-noon.exr'), 1));
  });

  it('bakes a plane under a uniform sky to E = pi L, and the cue is the sum its manifest states', async () => {
    put('plane.glb', await quadLevel([ground]));
    put(
      'open.json',
      rigOf({
        cues: [{ ...cueWith({ sky: uniformSky(2000), sun: { elevationDeg: 30, illuminanceLux: 1000, colorK: 6504 } }), name: 'Open' }],
      }),
    );
    expect(basil('bake', 'plane.glb', '--rig', 'open.json', '--out', 'plane').status).toBe(0);
    const [cue, sky, sun] = ['cue-open.exr', 'stem-sky-0.exr', 'stem-sun-direct-open.exr'].map((f) => channel(image('plane', f), 1));
    // A uniform sky L has L sqrt(4 pi) in the first coefficient and nothing elsewhere.
    expect(Math.abs(mean(sky!) * Math.sqrt(4 * Math.PI) - 1)).toBeLessThan(0.002);
    sky!.forEach((v) => expect(Math.abs(v * Math.sqrt(4 * Math.PI) - 1)).toBeLessThan(0.01));
    sun!.forEach((v) => expect(v * Math.PI).toBeCloseTo(0.5, 2));
    cue!.forEach((v, i) => expect(v / (2000 * Math.sqrt(4 * Math.PI) * sky![i]! + 1000 * sun![i]!)).toBeCloseTo(1, 2));
  });

  it('mixes stems to the very light that the bake wrote, and says what it leaves out at an hour that no cue holds', () => {
    const mixed = basil('mix', 'plane', '--rig', 'open.json', '--cue', 'Open', '--out', 'mixed.exr', '--json');
    const report = JSON.parse(mixed.stdout) as { meanLux: number; leftOut: string[]; stale: string[] };
    expect(report).toMatchObject({ leftOut: [], stale: [] });
    const [wanted, found] = [image('plane', 'cue-open.exr').rgba, image('mixed.exr').rgba];
    expect(found.length).toBe(wanted.length);
    found.forEach((v, i) => expect(Math.abs(v - wanted[i]!)).toBeLessThanOrEqual(1e-4 * Math.abs(wanted[i]!) + 1e-6));
    expect(Math.abs(report.meanLux / (Math.PI * mean(channel(image('plane', 'cue-open.exr'), 1))) - 1)).toBeLessThan(0.01);
    const dimmed = JSON.parse(readFileSync(join(folder, 'open.json'), 'utf8')) as Rig;
    dimmed.cues[0]!.holds.sun!.illuminanceLux = 0;
    put('dimmed.json', JSON.stringify(dimmed));
    const half = JSON.parse(
      basil('mix', 'plane', '--rig', 'dimmed.json', '--cue', 'Open', '--out', 'dimmed.exr', '--json').stdout,
    ) as typeof report;
    expect(half.meanLux).toBeLessThan(report.meanLux - 400);
    expect(half.stale).toEqual([]);
    dimmed.cues[0]!.holds.sun = { elevationDeg: 50, illuminanceLux: 1000 };
    put('moved.json', JSON.stringify(dimmed));
    const moved = JSON.parse(
      basil('mix', 'plane', '--rig', 'moved.json', '--cue', 'Open', '--out', 'moved.exr', '--json').stdout,
    ) as typeof report;
    expect(moved.leftOut.join()).toMatch(/direct light of the sun at 50\.0 degrees/);
    expect(moved.stale.join()).toMatch(/its light moved by/);
  });

  it('looks a level over, and the lamps of a rig in it', () => {
    const linesOf = (...args: string[]) =>
      (JSON.parse(basil('preflight', ...args, '--json').stdout) as { lines: { code: string; about: string[]; text: string }[] }).lines;
    expect(linesOf('plane.glb')).toEqual([]);
    expect(linesOf('cube.glb').map((l) => l.code)).toEqual(['opening', 'no-sky']);
    // For people: kind by kind, each with what it is about.
    expect(basil('preflight', 'cube.glb').stdout).toMatch(
      /^1 surface seems to mark only the sky:\n {2}\S.*\nNo sky is seen:|^No sky is seen:\n {2}\S/,
    );
    const low = lampWith({ id: 'low', name: 'Low lamp', at: [0, 0.02, 0], circuitId: 'c' });
    put('low.json', rigOf({ lamps: [low], circuits: [{ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }] }));
    expect(linesOf('plane.glb', '--rig', 'low.json')).toMatchObject([{ code: 'too-near', about: ['Low lamp'], atM: [0, 0.02, 0] }]);
  });

  it('foresees the texels, layers and maps that a bake then has', () => {
    const report = JSON.parse(basil('estimate', 'plane.glb', '--rig', 'open.json', '--threads', '2', '--json').stdout) as {
      texels: number;
      layers: number;
      maps: object[];
      seconds: number;
      threads: number;
      probe: { texels: number };
    };
    const { maps, plan } = JSON.parse(readFileSync(join(folder, 'plane', 'manifest.json'), 'utf8')) as { maps: object[]; plan: BakePlan };
    expect(report).toMatchObject({ threads: 2, layers: layerCount(plan), maps });
    expect(report.texels).toBe(channel(image('plane', 'cue-open.exr'), 1).length);
    expect(report.probe.texels).toBeGreaterThan(0);
    expect(report.seconds).toBeGreaterThan(0);
  });

  it('inspects a level', async () => {
    put('box.glb', await quadLevel(room(0, 2, { albedo: 0.5 })));
    const { status, stdout } = basil('level', 'inspect', 'box.glb', '--json');
    expect(status).toBe(0);
    expect(JSON.parse(stdout)).toMatchObject({ file: 'box.glb', objects: 6, triangles: 12, areaM2: expect.closeTo(24, 5) });
  });

  it('tells where sun and moon stand, against the published example', () => {
    const { status, stdout } = basil(
      'almanac',
      '--lat',
      '39.742476',
      '--lon',
      '-105.1786',
      '--height',
      '1830.14',
      '--at',
      '2003-10-17T12:30:30-07:00',
      '--json',
    );
    expect(status).toBe(0);
    const { sun, moon } = JSON.parse(stdout) as { sun: Record<string, number> & { rise: string }; moon: Record<string, number> };
    expect(Math.abs(sun.azimuthDeg! - 194.34024)).toBeLessThan(0.02);
    expect(Math.abs(90 - sun.elevationDeg! - 50.11162)).toBeLessThan(0.02);
    expect(sun.illuminanceLux).toBeGreaterThan(85_000);
    expect(Date.parse(sun.rise)).toBeLessThan(Date.parse('2003-10-17T14:00:00Z'));
    expect(moon.litShare).toBeGreaterThan(0.5);
  });

  it('tells what a fog hides, as Koschmieder has it, and how much of it is over the eye', () => {
    const { status, stdout } = basil('fog', '--visibility', '0.8km', '--base', '-2m', '--fall-off', '10', '--eye', '-2', '--json');
    expect(status).toBe(0);
    const report = JSON.parse(stdout) as ReturnType<typeof fogReport>;
    expect(report).toMatchObject({ visibilityM: 800, word: 'fog' });
    expect(report.extinctionPerM).toBeCloseTo(3.912 / 800, 6);
    expect(report.reaches.find((r) => r.share === 0.02)!.distanceM).toBeCloseTo(800, 1);
    expect(report.depthAbove).toBeCloseTo((3.912 / 800) * 10, 4);
    const held = basil('fog', '--visibility', '50m', '--most', '0.8').stdout;
    expect(held.trim().split('\n')).toEqual([
      'thick fog: 0.07824 taken per metre',
      expect.stringMatching(/^50 % of what is looked at is seen at 10\.0\d* m$/),
      'at least 20 % of what is looked at is always seen',
    ]);
  });

  it('tells what falls in a cue, what lies on its ground, and what comes through', () => {
    const rig = defaultRig();
    rig.weather = { ...rig.weather, cover: 1, rateMmH: 6, temperatureC: -4 };
    rig.cues[1]!.holds.weather = { temperatureC: 12, wet: 0.5 };
    rig.cues[1]!.holds.water = { levelM: 2 };
    const file = join(mkdtempSync(join(tmpdir(), 'basil-cli-weather-')), 'rig.json');
    writeFileSync(file, JSON.stringify(rig));
    const of = (cue: string) =>
      JSON.parse(basil('weather', '--rig', file, '--cue', cue, '--json').stdout) as ReturnType<typeof weatherReport>;
    const [snow, rain] = [of('Noon'), of('Late sun')];
    expect(snow.snowMmH).toBeGreaterThan(5.9);
    expect(snow.water).toBeNull();
    expect(rain.rainMmH).toBeGreaterThan(5.9);
    expect(rain.ground.wet).toBe(0.5);
    expect(rain.extinctionPerM).toBeCloseTo((1.076 * 6 ** 0.67 * Math.LN10) / 10_000, 5);
    expect(snow.visibilityM!).toBeLessThan(rain.visibilityM!);
    expect(rain.water!.reflects[0]).toBeCloseTo(0.0204, 3);
    expect(rain.openGroundLux.sun).toBeLessThan(100);
    expect(basil('weather', '--rig', file, '--cue', 'Noon').stdout).toMatch(/^moderate: .* of snow, -4 C\n/);
  });

  it('writes a cue’s grade as a table and a list that it reads itself, and what it says of them is so', () => {
    const rig = defaultRig();
    rig.cues[0]!.holds.grade = {
      cdl: { slope: [2, 2, 2], offset: [0, 0, 0], power: [1, 1, 1], saturation: 0.8 },
      curve: 'filmic',
    };
    put('graded.json', JSON.stringify(rig));
    const { status, stdout } = basil(
      'grade',
      '--rig',
      'graded.json',
      '--cue',
      'noon',
      '--lut',
      'noon.cube',
      '--size',
      '9',
      '--cdl',
      'noon.cdl',
      '--json',
    );
    expect(status).toBe(0);
    expect(JSON.parse(stdout)).toMatchObject({
      name: 'Noon',
      ev100: 14,
      liftEv: 1,
      lut: { size: 9 },
      grade: { curves: { filmic: 1, neutral: 0 } },
    });
    const text = readFileSync(join(folder, 'noon.cube'), 'utf8');
    expect(text).toMatch(/^# Grade of Noon\. input = log2/);
    expect(text.split('\n').filter((l) => /^[\d.]+ [\d.]+ [\d.]+$/.test(l))).toHaveLength(729);
    expect(JSON.parse(basil('grade', 'read', 'noon.cube', '--json').stdout)).toMatchObject({ kind: 'lut', title: 'Noon', size: 9 });
    expect(basil('grade', 'read', 'noon.cdl').stdout.trim()).toBe('slope 2 2 2, offset 0 0 0, power 1 1 1, saturation 0.8');
  });

  it('writes a table that another reader takes for the same', async () => {
    const rig = defaultRig();
    rig.cues[0]!.holds.grade = { whiteBalance: { kelvin: 5200, tint: 4, adapt: 0 }, curve: 'aces' };
    put('toned.json', JSON.stringify(rig));
    expect(basil('grade', '--rig', 'toned.json', '--cue', 'noon', '--lut', 'toned.cube').status).toBe(0);
    const [width, height] = [32, 16];
    const pixels = Float32Array.from({ length: width * height * 4 }, (_, i) => (i % 4 === 3 ? 1 : ((i * 37) % 101) / 100));
    put('in.exr', await writeExr(pixels, width, height));
    // OpenColorIO, of Debian's packages: the table makes one colour space of another.
    put(
      'config.ocio',
      [
        'ocio_profile_version: 1',
        `search_path: ${folder}`,
        'roles: {default: shaped}',
        'displays: {plain: [!<View> {name: plain, colorspace: shaped}]}',
        'colorspaces:',
        '  - !<ColorSpace> {name: shaped}',
        '  - !<ColorSpace> {name: graded, from_reference: !<FileTransform> {src: toned.cube, interpolation: linear}}',
      ].join('\n'),
    );
    const convert = ['--colorconfig', 'config.ocio', 'in.exr', '--colorconvert', 'shaped', 'graded', '-d', 'float', '-o', 'out.exr'];
    execFileSync('oiiotool', convert, { cwd: folder, stdio: 'pipe' });
    const [before, after] = [await image('in.exr'), await image('out.exr')];
    const lut = readCube(readFileSync(join(folder, 'toned.cube'), 'utf8'));
    let worst = 0;
    for (let i = 0; i < before.rgba.length; i += 4) {
      const ours = applyLut(lut, [before.rgba[i]!, before.rgba[i + 1]!, before.rgba[i + 2]!]);
      for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(ours[c]! - after.rgba[i + c]!));
    }
    expect(worst).toBeLessThan(1e-3);
  });

  it('says where nothing can be written, in one line', () => {
    put('day.json', JSON.stringify(defaultRig()));
    for (const args of [
      ['sky', '--rig', 'day.json', '--at', '12', '--size', '32', '--out', 'none/sky.exr'],
      ['grade', '--rig', 'day.json', '--at', '12', '--size', '5', '--lut', 'none/grade.cube'],
    ]) {
      const { status, stderr } = basil(...args);
      expect([status, stderr.trim().split('\n').length]).toEqual([2, 1]);
      expect(stderr).toContain('its folder does not exist. Make the folder first');
    }
  });

  it('writes the sky of an hour whose panorama holds just the light it states', () => {
    put('day.json', JSON.stringify(defaultRig()));
    for (const out of ['sky.exr', 'sky.hdr']) {
      const { status, stdout } = basil('sky', '--rig', 'day.json', '--at', '10', '--size', '128', '--out', out, '--json');
      expect(status).toBe(0);
      const report = JSON.parse(stdout) as {
        diffuseHorizontalLux: number;
        directHorizontalLux: number;
        lights: { kind: string; colorK: number }[];
      };
      expect(report.diffuseHorizontalLux).toBeGreaterThan(8000);
      expect(report.directHorizontalLux).toBeGreaterThan(50_000);
      expect(report.lights[0]).toMatchObject({ kind: 'sun', colorK: expect.closeTo(5300, -3) });
    }
    const { width, height, rgba } = image('sky.exr');
    expect([width, height]).toEqual([128, 64]);
    expect(rgba.every((v) => Number.isFinite(v) && v >= 0)).toBe(true);
    expect(basil('sky', '--rig', 'day.json', '--cue', 'late sun', '--size', '64').stdout).toMatch(
      /sky [\d.]+ lx and sun [\d.]+ lx on level ground/,
    );
  });

  it.each<[string, string[], RegExp]>([
    ['a file that is not there', ['level', 'inspect', 'nowhere.glb'], /^nowhere\.glb does not exist\. /],
    ['a file that is no level', ['level', 'inspect', 'dark.json'], /^dark\.json: .*no "asset"/],
    ['a rig that is no JSON', ['bake', 'box.glb', '--rig', 'box.glb', '--out', 'x'], /^box\.glb: not JSON/],
    ['a rig with a wrong value', ['bake', 'box.glb', '--rig', 'wrong.json', '--out', 'x'], /^wrong\.json: .*elevationDeg/],
    ['no --rig', ['bake', 'box.glb', '--out', 'x'], /^--rig is missing/],
    ['threads of nonsense', ['bake', 'box.glb', '--rig', 'dark.json', '--out', 'x', '--threads', 'many'], /^--threads many/],
    [
      'a step that cannot be left out',
      ['bake', 'box.glb', '--rig', 'good.json', '--out', 'x', '--without', 'paths'],
      /^--without paths is no step/,
    ],
    ['latitude 95', ['almanac', '--lat', '95', '--lon', '0', '--at', '2026-01-01T00:00:00Z'], /^--lat 95 is not a number from -90 to 90/],
    ['a moment that is none', ['almanac', '--lat', '5', '--lon', '0', '--at', 'noon'], /^--at noon is no moment/],
    ['a cue that is not there', ['cue', 'diff', 'Noon', 'Storm', '--rig', 'good.json'], /^The rig has no cue "Storm"/],
    ['an hour past the day', ['cue', 'at', '25', '--rig', 'good.json'], /^The hour 25 is not a number from 0/],
    ['a cue that is not typical', ['cue', 'add', 'storm', '--rig', 'good.json'], /^There is no typical cue "storm"/],
    ['stems that are not there', ['mix', 'nowhere', '--rig', 'good.json', '--cue', 'Noon', '--out', 'x.exr'], /no manifest\.json/],
    ['a fog of no visibility', ['fog'], /^--visibility is missing/],
    ['a visibility that is none', ['fog', '--visibility', '5 miles'], /^--visibility 5 miles is not a length from 1 m to 1000000 m/],
    [
      'a table with another ending',
      ['grade', '--rig', 'good.json', '--cue', 'Noon', '--lut', 'x.lut'],
      /^--lut x\.lut does not end in \.cube/,
    ],
    ['a table too fine', ['grade', '--rig', 'good.json', '--cue', 'Noon', '--lut', 'x.cube', '--size', '500'], /^--size 500/],
    ['a list that is none', ['grade', 'read', 'good.json'], /^good\.json: .*is not XML/],
    ['a sky of no moment', ['sky', '--rig', 'good.json'], /^Which moment is meant/],
    ['a cue that is not there', ['sky', '--rig', 'good.json', '--cue', 'Dusk'], /no cue "Dusk"\. It has: Noon, Late sun/],
    ['hour 25', ['sky', '--rig', 'good.json', '--at', '25'], /^--at 25/],
    ['an unknown command', ['brighten'], /^There is no command "brighten"/],
    ['an unknown option', ['bake', '--fast'], /--fast/],
  ])('answers %s with one line, exit code 2, and writes nothing', async (_, args, words) => {
    const wrong = defaultRig();
    wrong.cues[0]!.holds.sun = { elevationDeg: 120 };
    put('wrong.json', JSON.stringify(wrong));
    put('good.json', JSON.stringify(defaultRig()));
    const before = readdirSync(folder).sort();
    const { status, stdout, stderr } = await commandHere(folder, ...args);
    expect(status).toBe(2);
    expect(stdout).toBe('');
    expect(stderr.trim().split('\n')).toHaveLength(1);
    expect(stderr).toMatch(words);
    expect(readdirSync(folder).sort()).toEqual(before);
  });

  it('tells what an IES file holds, and refuses a damaged one', () => {
    put('flat.ies', iesText({ lumens: 314, vertical: [0, 30, 60, 90], horizontal: [0], candela: () => 50 }));
    const { status, stdout } = basil('ies', 'inspect', 'flat.ies', '--json');
    expect(status).toBe(0);
    const report = JSON.parse(stdout) as { lumens: number; ratedLumens: number; type: string; efficiency: number };
    expect(report).toMatchObject({ type: 'C', edition: 'LM-63-2002', verticalAngles: 4, horizontalAngles: 1, photometry: 'relative' });
    expect(Math.abs(report.lumens / report.ratedLumens - 1)).toBeLessThan(0.01);
    put('cut.ies', iesText({ vertical: [0, 90], horizontal: [0], candela: () => 50 }).slice(0, -12));
    // As a process of its own, which says so by its exit code.
    const bad = basil('ies', 'inspect', 'cut.ies', '--json');
    expect(bad.status).toBe(2);
    expect(bad.stderr).toMatch(/cut\.ies: The file ends where vertical angle 2 of 2 should stand/);
  });

  it('lists lamps, and bakes them as their circuits’ stems', async () => {
    const circuits: Rig['circuits'] = [{ id: 'hall', name: 'Hall', rule: { by: 'on' }, bounce: 1, flicker: null }];
    const lamp = lampWith({
      at: [0, 2, 0],
      circuitId: 'hall',
      color: { by: 'hex', hex: '#ffffff' },
      output: { by: 'candela', candela: 100 },
    });
    const fixtures: Rig['fixtures'] = [{ id: 'f', name: 'Pendant', lamps: [{ ...lamp, at: [0, 0, 0] }], model: null, without: [] }];
    const placed: Rig['placed'] = [
      {
        id: 'p',
        name: 'Pendant 1',
        fixtureId: 'f',
        at: [0, 2, 0],
        turnDeg: 0,
        tiltDeg: 0,
        rollDeg: 0,
        object: null,
        level: 0.5,
        circuitId: null,
      },
    ];
    const cues = [{ ...cueWith({ sky: uniformSky(0), sun: { illuminanceLux: 0 } }), name: 'Night' }];
    put('ground.glb', await quadLevel([ground]));
    put('lamps.json', rigOf({ lamps: [lamp], circuits, fixtures, placed, cues }));
    const listed = JSON.parse(basil('lamps', 'list', '--rig', 'lamps.json', '--json').stdout) as { fixture: string; lumens: number }[];
    expect(listed.map((l) => l.fixture)).toEqual([null, 'Pendant']);
    expect(listed[0]!.lumens / (4 * Math.PI * 100)).toBeCloseTo(1, 4);
    expect(listed[1]!.lumens / listed[0]!.lumens).toBeCloseTo(0.5, 4);
    expect(basil('bake', 'ground.glb', '--rig', 'lamps.json', '--out', 'lit').status).toBe(0);
    const [cue, direct, bounce] = ['cue-night.exr', 'stem-circuit-direct-hall.exr', 'stem-circuit-bounce-hall.exr'].map((f) =>
      channel(image('lit', f), 1),
    );
    // 150 cd at 2 m over the middle: E = I / h^2.
    expect((Math.max(...direct!) * Math.PI) / (150 / 4)).toBeGreaterThan(0.98);
    expect((Math.max(...direct!) * Math.PI) / (150 / 4)).toBeLessThan(1.002);
    cue!.forEach((v, i) => expect(v).toBeCloseTo(direct![i]! + bounce![i]!, 2));
  });
});
