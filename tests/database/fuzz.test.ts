import type { LevelSummary } from '../../core/level';
import { storeBlob, streamOf, type Db } from '../../server/data';
import { addLevel, receiveSkyImage } from '../../server/stores';
import { freshDatabase } from '../lib/database';
import { allRoutes, fuzzRequests } from '../fuzz/fuzzRequests';

let db: Db;
let drop: () => Promise<void>;
beforeAll(async () => {
  ({ db, drop } = await freshDatabase());
  globalThis.basilContext = { db };
});
afterAll(async () => {
  globalThis.basilContext = undefined;
  await drop();
});

describe('requests of nonsense', () => {
  it('are asked of every route', async () => {
    const paths = (await allRoutes()).map(({ method, path }) => `${method} ${path}`);
    expect(paths).toContain('PATCH /api/projects/[id]/skies/[image]');
    expect(paths.length).toBeGreaterThan(30);
  });

  it('are answered with what is wrong and what to do, never with a fault of ours', async () => {
    const hash = await storeBlob(db, streamOf(new Uint8Array(500)), async (_, h) => h);
    const level = {
      name: 'Quay',
      sourceHash: hash,
      preparedHash: hash,
      layout: { texelsPerM: 4, maxMapSize: 256 },
      summary: { triangles: 7 } as LevelSummary,
    };
    const { projectId } = await db.transaction().execute((tx) => addLevel(tx, level, null));
    const { id: imageId } = await receiveSkyImage(db, projectId, 'sky.hdr', streamOf(new Uint8Array(40)));
    const { done, findings } = await fuzzRequests([projectId, imageId, hash], 20_261_129, (n) => n >= 2000);
    expect(findings).toEqual([]);
    expect(done).toBe(2000);
  }, 240_000);
});
