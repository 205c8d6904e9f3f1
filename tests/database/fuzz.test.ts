import { streamOf, type Db } from '../../server/data';
import { receiveSkyImage } from '../../server/stores';
import { bareProject } from '../lib/bareProject';
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
    const { projectId, hash } = await bareProject(db, new Uint8Array(500));
    const { id: imageId } = await receiveSkyImage(db, projectId, 'sky.hdr', streamOf(new Uint8Array(40)));
    const { done, findings } = await fuzzRequests([projectId, imageId, hash], 20_261_129, (n) => n >= 2000);
    expect(findings).toEqual([]);
    expect(done).toBe(2000);
  });
});
