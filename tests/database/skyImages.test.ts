import { writeExr } from '../../core/image';
import { DEFAULT_IMAGE, defaultRig } from '../../core/rig';
import { readHdr } from '../../core/rgbe';
import { panoramaIlluminance } from '../../core/sky';
import { luminance } from '../../core/units';
import type { LevelSummary } from '../../core/level';
import { readBlob, storeBlob, streamOf, type Db } from '../../server/data';
import {
  addLevel,
  changeSkyImage,
  copySkyImage,
  deleteSkyImage,
  readSkyImageRow,
  receiveSkyImage,
  replaceSkyFile,
  saveRig,
  skyImagesOf,
} from '../../server/stores';
import { startWorker, type RunningWorker } from '../../server/jobs';
import { countOf, freshDatabase } from '../lib/database';
import { cutAt, knownSky } from '../lib/skies';
import { until } from '../lib/wait';

let db: Db;
let address: string;
let drop: () => Promise<void>;
let worker: RunningWorker;
let project: string;

beforeAll(async () => {
  ({ db, address, drop } = await freshDatabase());
  worker = await startWorker(address, { threads: 1 });
  const hash = await storeBlob(db, streamOf(new Uint8Array(9)), async (_, h) => h);
  const layout = { texelsPerM: 4, maxMapSize: 1024 };
  const level = { name: 'Terrace', sourceHash: hash, preparedHash: hash, layout, summary: {} as LevelSummary };
  ({ projectId: project } = await db.transaction().execute((tx) => addLevel(tx, level, null)));
});
afterAll(async () => {
  await worker?.stop();
  await drop?.();
});

const { image } = knownSky(135, 40, 'clear');
const exr = (of: typeof image) => writeExr(of.rgba, of.width, of.height);
const read = async (id: string) => {
  return until(async () => {
    const row = await readSkyImageRow(db, id);
    return row.state === 'ready' || row.state === 'failed' ? row : null;
  }, 'the image to be read');
};
const bring = async (name: string, bytes: Uint8Array) => read((await receiveSkyImage(db, project, name, streamOf(bytes))).id);
const levelLux = async (hash: string) => luminance(panoramaIlluminance(readHdr(await readBlob(db, hash))));

describe('sky images on the shelf', () => {
  it('are read, reported on and made ready: whole, and without their sun', async () => {
    const made = await bring('evening_terrace.exr', await exr(image));
    expect(made).toMatchObject({ name: 'evening terrace', state: 'ready', house: false });
    expect(made.report!.problems).toEqual([]);
    const lux = luminance(panoramaIlluminance(image));
    expect((await levelLux(made.wholeHash!)) / lux).toBeCloseTo(1, 1);
    const sun = made.sun!;
    expect(((await levelLux(made.restHash!)) + sun.lux * Math.sin((sun.elevationDeg * Math.PI) / 180)) / lux).toBeCloseTo(1, 1);
    expect((await readBlob(db, made.afterHash!)).subarray(1, 4)).toEqual(new Uint8Array(Buffer.from('PNG')));
  });

  it('are refused with a reason where they are no images, and nothing else is kept of them', async () => {
    const made = await bring('letter.hdr', new TextEncoder().encode('Dear sky,'));
    expect(made.state).toBe('failed');
    expect(made.error).toMatch(/letter\.hdr is a text file, though its name says HDR/);
    await deleteSkyImage(db, project, made.id);
    await expect(receiveSkyImage(db, project, 'none.exr', streamOf(new Uint8Array(0)))).rejects.toThrow('empty');
  });

  it('are repaired from the file as it came, and go back to it', async () => {
    const made = await bring('cut.exr', await exr(cutAt(image, 40_000)));
    expect(made.report!.problems.map((p) => p.code)).toContain('clipped-sun');
    await changeSkyImage(db, project, made.id, { remedies: ['rebuild-sun'], options: { sunLux: 90_000 } });
    const mended = await read(made.id);
    expect(mended.original!.problems.map((p) => p.code)).toContain('clipped-sun');
    expect(mended.report!.problems).toEqual([]);
    expect(mended.sun!.lux / 90_000).toBeCloseTo(1, 0);
    expect(mended.beforeHash).not.toBe(mended.afterHash);
    await changeSkyImage(db, project, made.id, { remedies: [], options: {} });
    expect((await read(made.id)).wholeHash).toBe(made.wholeHash);
  });

  it('take another file in their place, and keep their remedies', async () => {
    const made = await bring('first.exr', await exr(cutAt(image, 40_000)));
    await changeSkyImage(db, project, made.id, { remedies: ['rebuild-sun'] });
    const before = await read(made.id);
    const other = knownSky(80, 25, 'clear').image;
    await replaceSkyFile(db, project, made.id, 'second.exr', streamOf(await exr(cutAt(other, 40_000))));
    const after = await read(made.id);
    expect(after).toMatchObject({ id: made.id, fileName: 'second.exr', remedies: ['rebuild-sun'], state: 'ready' });
    expect(after.sun!.azimuthDeg).toBeCloseTo(80, 0);
    expect(after.sourceHash).not.toBe(before.sourceHash);
    await expect(readBlob(db, before.wholeHash!)).rejects.toThrow('no such file');
    await expect(replaceSkyFile(db, project, made.id, 'none.exr', streamOf(new Uint8Array(0)))).rejects.toThrow('empty');
    expect((await readSkyImageRow(db, made.id)).sourceHash).toBe(after.sourceHash);
  });

  it('of the house are kept while a cue of any project holds them', async () => {
    const made = await bring('shared.exr', await exr(image));
    await changeSkyImage(db, project, made.id, { house: true });
    const hash = await storeBlob(db, streamOf(new Uint8Array(11)), async (_, h) => h);
    const level = {
      name: 'Quarry',
      sourceHash: hash,
      preparedHash: hash,
      layout: { texelsPerM: 4, maxMapSize: 1024 },
      summary: {} as LevelSummary,
    };
    const { projectId: other } = await db.transaction().execute((tx) => addLevel(tx, level, null));
    const rig = defaultRig();
    rig.cues[1]!.holds.image = { ...DEFAULT_IMAGE, imageId: made.id };
    await saveRig(db, other, 1, rig, 'A sky of the house');
    expect((await skyImagesOf(db, other)).map((i) => i.id)).toContain(made.id);
    await expect(deleteSkyImage(db, project, made.id)).rejects.toThrow('shared is used by Late sun of Quarry');
    await expect(changeSkyImage(db, project, made.id, { house: false })).rejects.toThrow('Late sun of Quarry');
    delete rig.cues[1]!.holds.image;
    await saveRig(db, other, 2, rig, 'Another');
    await deleteSkyImage(db, project, made.id);
  });

  it('that come with Basil are copied, never changed; those in use are not deleted', async () => {
    const { id } = await receiveSkyImage(db, null, 'ours.exr', streamOf(await exr(image)), { shipped: true, tags: ['clear'] });
    const shipped = await read(id);
    expect(shipped).toMatchObject({ house: true, shipped: true, tags: ['clear'] });
    await expect(changeSkyImage(db, project, id, { name: 'Mine' })).rejects.toMatchObject({ code: 'conflict' });
    await expect(deleteSkyImage(db, project, id)).rejects.toMatchObject({ code: 'conflict' });
    const copy = await copySkyImage(db, project, id);
    await changeSkyImage(db, project, copy.id, { name: 'Mine', tags: ['dusk', ''] });
    // A change that says nothing changes nothing.
    await changeSkyImage(db, project, copy.id, {});
    const rig = defaultRig();
    rig.cues[0]!.holds.image = { ...DEFAULT_IMAGE, imageId: copy.id };
    await saveRig(db, project, 1, rig, 'A sky');
    await expect(deleteSkyImage(db, project, copy.id)).rejects.toThrow('Mine is used by Noon of Terrace');
    delete rig.cues[0]!.holds.image;
    await saveRig(db, project, 2, rig, 'No sky');
    const before = await countOf(db, 'blobs');
    await deleteSkyImage(db, project, copy.id);
    // The shipped one still holds on to the same bytes.
    expect(await countOf(db, 'blobs')).toBe(before);
    expect((await skyImagesOf(db, project)).map((i) => i.name)).toEqual(expect.arrayContaining(['ours', 'cut', 'evening terrace']));
  });
});
