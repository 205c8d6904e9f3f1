import type { Server } from 'node:http';
import { startCatalogue, type Acting } from '../../demo/catalogue';
import type { LevelSummary } from '../../core/level';
import { Failure } from '../../core/units';
import { fetchItem, readCatalogue } from '../../server/catalogues';
import { storeBlob, streamOf, type Db } from '../../server/data';
import { addLevel, receiveSkyImage, skyImagesOf } from '../../server/stores';
import { startWorker, type RunningWorker } from '../../server/jobs';
import { countOf, freshDatabase } from '../lib/database';
import { until } from '../lib/wait';

let db: Db;
let drop: () => Promise<void>;
let worker: RunningWorker;
let project: string;
let server: Server;
let address: string;
let act: (as: Acting) => void;

beforeAll(async () => {
  let database: string;
  ({ db, address: database, drop } = await freshDatabase());
  worker = await startWorker(database, { threads: 1 });
  const hash = await storeBlob(db, streamOf(new Uint8Array(9)), async (_, h) => h);
  const level = {
    name: 'Terrace',
    sourceHash: hash,
    preparedHash: hash,
    layout: { texelsPerM: 4, maxMapSize: 1024 },
    summary: {} as LevelSummary,
  };
  ({ projectId: project } = await db.transaction().execute((tx) => addLevel(tx, level, null)));
  ({ server, address, act } = await startCatalogue(0));
  process.env.BASIL_CATALOGUES = address;
});
afterAll(async () => {
  server?.closeAllConnections();
  server?.close();
  await worker?.stop();
  await drop?.();
});

/** Brings an image in as the route does, and waits for what becomes of it. */
async function bring(id: string) {
  const { item, fileName, bytes } = await fetchItem(address, id);
  const image = await receiveSkyImage(db, project, fileName, bytes, { name: item.name, tags: item.tags });
  return until(async () => {
    const found = (await skyImagesOf(db, project)).find((i) => i.id === image.id)!;
    return found.state === 'ready' || found.state === 'failed' ? found : null;
  }, 'the image to be read');
}

describe('a collection of skies', () => {
  it('lists a dozen with their pictures, sizes, licences and typical values', async () => {
    const { name, items } = await readCatalogue(address);
    expect(name).toBe('Computed skies');
    expect(items).toHaveLength(12);
    for (const item of items) {
      expect(item).toMatchObject({ licence: 'CC0-1.0' });
      expect((await fetch(item.picture!)).headers.get('content-type')).toBe('image/png');
    }
    expect(items.find((i) => i.id === 'clear-540')!.typical!.sunLux).toBeGreaterThan(60_000);
  });

  it('gives an image whose sun is where its list says', async () => {
    const image = await bring('upland-750');
    expect(image).toMatchObject({ state: 'ready', name: 'Dry upland at 12:30', tags: ['upland', 'day'] });
    const { typical } = (await readCatalogue(address)).items.find((i) => i.id === 'upland-750')!;
    expect(image.sun!.azimuthDeg).toBeCloseTo(typical!.sunAzimuthDeg!, -0.5);
    expect(image.sun!.lux / typical!.sunLux!).toBeCloseTo(1, 0);
  });

  it.each<[Acting, RegExp]>([
    ['fail', /refuses its list: status 503/],
    ['stall', /has sent nothing for 10 s/],
  ])('that %ss is told in words, and leaves nothing', async (acting, words) => {
    const before = [await countOf(db, 'blobs'), (await skyImagesOf(db, project)).length];
    act(acting);
    try {
      await expect(bring('clear-540')).rejects.toThrow(words);
      await expect(bring('clear-540')).rejects.toBeInstanceOf(Failure);
    } finally {
      act('well');
    }
    expect([await countOf(db, 'blobs'), (await skyImagesOf(db, project)).length]).toEqual(before);
  });

  it('that sends a broken file is found out when it is read', async () => {
    act('break');
    const image = await bring('humid-540').finally(() => act('well'));
    expect(image.state).toBe('failed');
    expect(image.error).toMatch(/damaged|cut short/);
  });

  it('that is gone, or is none, is told in words', async () => {
    await expect(readCatalogue('http://127.0.0.1:9/catalogue.json')).rejects.toThrow('cannot be reached');
    await expect(readCatalogue(address.replace('catalogue.json', 'pictures/clear-540.png'))).rejects.toThrow('not JSON');
    await expect(fetchItem('http://example.invalid/c.json', 'x')).rejects.toThrow('not one of this Basil’s');
    await expect(fetchItem(address, 'none')).rejects.toMatchObject({ code: 'not-found' });
  });
});
