import { cp, mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { cueWith, uniformSky } from '../../tests/lib/bake';
import { quadLevel, room, type Quad } from '../../tests/lib/level';
import { readExr, writeExr } from '../../core/image';
import { defaultRig, type Cue, type Rig } from '../../core/rig';
import { bakeToFolder } from './bakeFiles';
import type { BakeManifest } from '../../core/bake';
import { mixFolder } from './mixFolder';

const ground: Quad = { name: 'ground', corner: [-4, 0, -4], along: [0, 0, 8], up: [8, 0, 0], albedo: 0.5 };

/** Names that differ in what no file's name holds, of another script, and of nothing but signs. */
const NAMES = ['Noon', 'Noon!', '(noon)', '正午', '夕方', '...', '?!'];
const cues = NAMES.map((name, i): Cue => ({
  ...cueWith({ sky: uniformSky(500 * (i + 1)), sun: { elevationDeg: 20 + 9 * i, azimuthDeg: 40 * i, illuminanceLux: 9000 * (i + 1) } }),
  id: `c${i}`,
  name,
  hour: i + 1,
}));
const rig: Rig = { ...defaultRig(), bake: { ...defaultRig().bake, texelsPerM: 1, maxMapSize: 16, quality: 'rough', bounces: 2 }, cues };

let base: string;
let manifest: BakeManifest;
beforeAll(async () => {
  base = await mkdtemp(join(tmpdir(), 'basil-mix-'));
  // A room besides the ground, so that one map is not enough.
  manifest = await bakeToFolder(await quadLevel([ground, ...room(10, 13, { albedo: 0.6 })]), 'level.glb', rig, join(base, 'whole'), {
    threads: 2,
  });
});
afterAll(() => rm(base, { recursive: true, force: true }));

const image = async (...path: string[]) => readExr(await readFile(join(base, ...path)));

describe('files of a bake', () => {
  it('are named once each, by the names of cues in their own script', async () => {
    expect(manifest.maps.length).toBeGreaterThan(1);
    const names = manifest.files.map((f) => f.file);
    expect(new Set(names.map((n) => n.toLowerCase())).size).toBe(names.length);
    const there = new Set(await readdir(join(base, 'whole')));
    for (const name of names) expect(there.has(name)).toBe(true);
    for (const name of ['cue-noon.0.exr', 'cue-noon-2.0.exr', 'cue-noon-3.1.exr', 'cue-正午.0.exr', 'cue-cue.0.exr', 'cue-cue-2.1.exr'])
      expect(names).toContain(name);
  });

  it.each(NAMES.map((name, i) => [name, i] as const))('mix to the very light of cue %s', async (_, i) => {
    const out = join(base, `mixed-${i}.exr`);
    const report = await mixFolder(join(base, 'whole'), rig, { cue: cues[i]! }, out);
    expect(report).toMatchObject({ leftOut: [], stale: [] });
    expect(report.files).toEqual(manifest.maps.map((_, map) => join(base, `mixed-${i}.${map}.exr`)));
    const peaks: number[] = [];
    for (const map of manifest.maps.keys()) {
      const own = manifest.files.find((f) => f.map === map && f.cue === NAMES[i] && !f.stem)!;
      const [wanted, found] = [await image('whole', own.file), await image(`mixed-${i}.${map}.exr`)];
      const peak = Math.max(...wanted.rgba);
      peaks.push(peak);
      found.rgba.forEach((v, k) =>
        expect(Math.abs(v - wanted.rgba[k]!)).toBeLessThanOrEqual(1e-4 * Math.abs(wanted.rgba[k]!) + 1e-6 * peak),
      );
    }
    // The room has no opening; the ground has light.
    expect(Math.max(...peaks)).toBeGreaterThan(100);
  });
});

describe('compact stems in a folder', () => {
  let compact: BakeManifest;
  beforeAll(async () => {
    const level = await quadLevel([ground, ...room(10, 13, { albedo: 0.6 })]);
    compact = await bakeToFolder(level, 'level.glb', rig, join(base, 'compact'), { threads: 2, compact: true });
  });

  it('mix to the light of each cue, but for what storing loses', async () => {
    for (const [i, name] of NAMES.entries()) {
      await mixFolder(join(base, 'compact'), rig, { cue: cues[i]! }, join(base, `small-${i}.exr`));
      let [off, all] = [0, 0];
      for (const map of compact.maps.keys()) {
        const own = compact.files.find((f) => f.map === map && f.cue === name)!;
        const [wanted, found] = [await image('compact', own.file), await image(`small-${i}.${map}.exr`)];
        found.rgba.forEach((v, k) => {
          off += (v - wanted.rgba[k]!) ** 2;
          all += wanted.rgba[k]! ** 2;
        });
      }
      expect(all).toBeGreaterThan(0);
      expect(Math.sqrt(off / all)).toBeLessThan(0.012);
    }
  });

  it('are no images, and are refused in words where one is missing or damaged', async () => {
    expect(compact.files.some((f) => f.stem)).toBe(false);
    const { file } = compact.files.find((f) => f.compact && f.map === 1)!;
    const mix = () => mixFolder(join(base, 'compact'), rig, { cue: cues[0]! }, join(base, 'none.exr'));
    for (const name of [file, 'stems-tables.bin']) {
      const path = join(base, 'compact', name);
      const bytes = await readFile(path);
      await writeFile(path, bytes.subarray(0, bytes.length - 3));
      await expect(mix()).rejects.toThrow(`compact: ${name} is damaged`);
      await rm(path);
      await expect(mix()).rejects.toThrow(`compact: ${name} is missing`);
      await writeFile(path, bytes);
    }
    await mix();
  });
});

type Damage = (folder: string, manifest: BakeManifest) => Promise<unknown>;
const rewrite =
  (how: (m: BakeManifest) => unknown): Damage =>
  async (folder, m) =>
    writeFile(join(folder, 'manifest.json'), JSON.stringify(how(structuredClone(m)) ?? null));
const changed = (how: (m: BakeManifest) => void) =>
  rewrite((m) => {
    how(m);
    return m;
  });
const stemOf = (m: BakeManifest, layer: number) => m.files.find((f) => f.stem?.layer === layer && f.map === 0)!;

describe('a folder that is damaged', () => {
  it.each<[string, Damage, RegExp]>([
    ['without a manifest', async (folder) => rm(join(folder, 'manifest.json')), /there is no manifest\.json/],
    ['with a manifest cut short', async (folder) => writeFile(join(folder, 'manifest.json'), '{"format":"basil-bake",'), /is not JSON/],
    ['with a manifest of nothing', rewrite(() => null), /none of a bake/],
    ['with one of something else', rewrite(() => ({ format: 'other', version: 3 })), /none of a bake/],
    ['with one of another version', rewrite((m) => ({ ...m, version: 99 })), /of version 99/],
    ['with nothing but a head', rewrite(({ format, version }) => ({ format, version })), /damaged: "plan" is required/],
    [
      'with a sun that stands nowhere',
      changed((m) => delete (m.plan.suns[0] as { azimuthDeg?: number }).azimuthDeg),
      /"plan\.suns\[0\]\.azimuthDeg" is required/,
    ],
    ['with a map of no size', changed((m) => (m.maps[0]!.width = 0)), /"maps\[0\]\.width"/],
    [
      'with a layer that is not there',
      changed((m) => (m.files.at(-1)!.stem = { layer: 9999, part: 'color' })),
      /a map or a layer that is not there/,
    ],
    ['with a file of another map', changed((m) => (m.files[0]!.map = 7)), /a map or a layer that is not there/],
    ['with a file of another folder', changed((m) => (stemOf(m, 0).file = '../whole/stem-sky-0.0.exr')), /"files\[\d+\]\.file"/],
    [
      'with a stem that no file is named for',
      changed((m) => m.files.splice(m.files.indexOf(stemOf(m, 3)), 1)),
      /names no file for layer 3 of map 0/,
    ],
    ['with a file missing', async (folder, m) => rm(join(folder, stemOf(m, 2).file)), /stem-sky-2\.0\.exr is missing/],
    [
      'with a file cut short',
      async (folder, m) => {
        const path = join(folder, stemOf(m, 1).file);
        await writeFile(path, (await readFile(path)).subarray(0, 200));
      },
      /stem-sky-1\.0\.exr: /,
    ],
    [
      'with a file of another size',
      async (folder, m) => writeFile(join(folder, stemOf(m, 0).file), await writeExr(new Float32Array(4 * 4 * 4), 4, 4)),
      /stem-sky-0\.0\.exr is not \d+ x \d+/,
    ],
  ])('%s is refused in words, and nothing is written', async (_, damage, words) => {
    const folder = join(base, 'damaged');
    await cp(join(base, 'whole'), folder, { recursive: true });
    await damage(folder, manifest);
    const before = (await readdir(base)).sort();
    const mixing = mixFolder(folder, rig, { cue: cues[0]! }, join(base, 'none.exr'));
    await expect(mixing).rejects.toMatchObject({ code: 'bad-input' });
    await expect(mixing).rejects.toThrow(words);
    await expect(mixing).rejects.toThrow('damaged: ');
    expect((await readdir(base)).sort()).toEqual(before);
    await rm(folder, { recursive: true });
  });
});
