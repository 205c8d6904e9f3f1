import { sql } from 'kysely';
import { tmpdir } from 'node:os';
import { defaultRig, type Rig } from '../../core/rig';
import type { BakeParts, BakesNow, CityView, ProjectCard, ProjectView } from '../../core/api';
import type { Db } from '../../server/data';
import { endLook, failBake } from '../../server/stores';
import { routes } from '../../server/web';
import { bareProject } from '../lib/bareProject';
import { countOf, freshDatabase } from '../lib/database';

let db: Db;
let drop: () => Promise<void>;
let id: string;
let hash: string;
const content = Uint8Array.from({ length: 5000 }, (_, i) => i & 255);

beforeAll(async () => {
  ({ db, drop } = await freshDatabase());
  // The routes work on the database of their process.
  globalThis.basilContext = { db };
  ({ projectId: id, hash } = await bareProject(db, content));
});
afterAll(async () => {
  globalThis.basilContext = undefined;
  await drop?.();
});

const HOST = 'http://127.0.0.1:4170';
const get = (path: string, headers: Record<string, string> = {}) => new Request(`${HOST}${path}`, { headers });
const send = (method: string, path: string, body: unknown) =>
  new Request(`${HOST}${path}`, { method, body: typeof body === 'string' ? body : JSON.stringify(body) });
const of = <P>(params: P) => ({ params: Promise.resolve(params) });
const json = async <T>(response: Response) => (await response.json()) as T;
const refusal = async (response: Response) => {
  const { error } = await json<{ error: { code: string; message: string; remedy: string } }>(response);
  return { status: response.status, ...error };
};

describe('the routes', () => {
  it('list, open and rename a project', async () => {
    const [card] = await json<ProjectCard[]>(await routes.listProjects(get('/api/projects'), of({})));
    expect(card).toMatchObject({ id, name: 'Quay', triangles: 7, cues: 2 });
    await routes.renameProject(send('PATCH', `/api/projects/${id}`, { name: 'Old quay' }), of({ id }));
    expect((await json<ProjectView>(await routes.openProject(get(''), of({ id })))).name).toBe('Old quay');
    expect(await refusal(await routes.renameProject(send('PATCH', '', { name: ' ' }), of({ id })))).toMatchObject({ status: 400 });
  });

  it('say that what is not there is not there, without asking the database for nonsense', async () => {
    for (const wrong of ['nonsense', '0b8f0f63-3c8e-4a52-9b6c-1d7b5c1f2a10', "'; drop table projects; --"]) {
      expect(await refusal(await routes.openProject(get(''), of({ id: wrong })))).toMatchObject({ status: 404, code: 'not-found' });
    }
  });

  it('store a rig over the revision that it began at, and refuse a stale or a broken one', async () => {
    const rig: Rig = { ...defaultRig(), airId: 'humid' };
    const save = (base: unknown, document: unknown) => routes.saveRig(send('POST', '', { base, rig: document, note: 'Humid' }), of({ id }));
    expect(await json(await save(1, rig))).toEqual({ revision: 2 });
    expect(await refusal(await save(1, rig))).toMatchObject({ status: 409, code: 'conflict' });
    expect(await refusal(await save(2, { ...rig, airId: 'treacle' }))).toMatchObject({
      status: 400,
      message: expect.stringContaining('treacle'),
    });
    expect(await refusal(await save('two', rig))).toMatchObject({
      status: 400,
      message: expect.stringContaining('"base" must be a number'),
    });
    expect((await json<ProjectView>(await routes.openProject(get(''), of({ id })))).revision).toBe(2);
  });

  it('give a stored revision of the rig, and say where there is none', async () => {
    const asked = (revision: string) => routes.rigRevision(get(`/api/projects/${id}/rig?revision=${revision}`), of({ id }));
    expect(await json(await asked('1'))).toMatchObject({ revision: 1, rig: { airId: 'temperate' } });
    expect(await json(await asked('2'))).toMatchObject({ revision: 2, rig: { airId: 'humid' } });
    expect(await refusal(await asked('77'))).toMatchObject({ status: 404 });
    for (const wrong of ['', 'two', '-1', '1e99']) expect(await refusal(await asked(wrong))).toMatchObject({ status: 400 });
  });

  it('refuse what is no JSON with a word', async () => {
    for (const body of ['{', '[1', '"text"', 'null']) {
      expect(await refusal(await routes.saveRig(send('POST', '', body), of({ id })))).toMatchObject({
        status: 400,
        message: 'The request is not JSON.',
      });
    }
  });

  it('serve names of this machine alone, and those that are listed', async () => {
    const asked = (host: string, origin?: string) =>
      routes.listProjects(get('/api/projects', { host, ...(origin ? { origin } : {}) }), of({}));
    for (const host of ['127.0.0.1:4170', 'localhost:4170', '[::1]:4170', '127.8.4.1', 'basil.localhost:80'])
      expect((await asked(host)).status).toBe(200);
    for (const host of ['evil.example:4170', '127.0.0.1.evil.example', 'localhost.evil.example', '192.168.1.4:4170', ''])
      expect(await refusal(await asked(host))).toMatchObject({ status: 400, message: expect.stringContaining('not its own') });
    process.env.BASIL_HOSTS = 'light.studio, 192.168.1.4';
    try {
      for (const host of ['light.studio:4170', '192.168.1.4']) expect((await asked(host)).status).toBe(200);
      expect((await asked('evil.example')).status).toBe(400);
      expect((await asked('light.studio', 'http://light.studio')).status).toBe(200);
      expect((await asked('light.studio', 'http://evil.example')).status).toBe(400);
    } finally {
      delete process.env.BASIL_HOSTS;
    }
    // A page without an origin of its own.
    expect(await refusal(await asked('127.0.0.1:4170', 'null'))).toMatchObject({
      status: 400,
      message: expect.stringContaining('another site'),
    });
  });

  it('take no text that cannot be kept, and no body without end', async () => {
    const named = (name: string) => routes.renameProject(send('PATCH', '', { name }), of({ id }));
    for (const name of ['a\0b', 'half \ud800 pair'])
      expect(await refusal(await named(name))).toMatchObject({ status: 400, message: expect.stringContaining('cannot be kept') });
    expect((await named('pair \u{1f300}')).status).toBe(200);
    expect(await refusal(await routes.findCities(get('/api/cities?name=%00'), of({})))).toMatchObject({ status: 400 });
    let sent = 0;
    const body = new ReadableStream<Uint8Array>({
      pull(controller) {
        sent += 1_000_000;
        controller.enqueue(new Uint8Array(1_000_000).fill(32));
      },
    });
    const endless = new Request(`${HOST}/`, { method: 'PATCH', body, duplex: 'half' } as RequestInit);
    expect(await refusal(await routes.renameProject(endless, of({ id })))).toMatchObject({ status: 413, code: 'too-large' });
    expect(sent).toBeLessThan(40_000_000);
  });

  it('keep nothing of an upload that breaks off, and say that it did', async () => {
    const before = await countOf(db, 'blobs');
    const send = (pull: (controller: ReadableStreamDefaultController<Uint8Array>) => void, length?: number) =>
      routes.receiveLevel(
        new Request(`${HOST}/api/intakes?name=Broken.glb`, {
          method: 'POST',
          body: new ReadableStream({ pull }),
          headers: length === undefined ? {} : { 'content-length': String(length) },
          duplex: 'half',
        } as RequestInit),
        of({}),
      );
    let parts = 0;
    const short = await send((to) => (parts++ < 3 ? to.enqueue(new Uint8Array(700_000)) : to.close()), 5_000_000);
    expect(await refusal(short)).toMatchObject({ status: 400, message: expect.stringContaining('broke off') });
    parts = 0;
    const cut = await send((to) => (parts++ < 3 ? to.enqueue(new Uint8Array(700_000)) : to.error(new Error('aborted'))));
    expect(await refusal(cut)).toMatchObject({ status: 400, message: expect.stringContaining('broke off') });
    expect(await countOf(db, 'blobs')).toBe(before);
  });

  it('refuse files and bakes while the disk is nearly full, say so, and still store the rig', async () => {
    const before = await countOf(db, 'blobs');
    Object.assign(process.env, { BASIL_DATA: tmpdir(), BASIL_RESERVE_MB: '1e9' });
    try {
      const level = new Request(`${HOST}/api/intakes?name=a.glb`, { method: 'POST', body: new Uint8Array(50) });
      expect(await refusal(await routes.receiveLevel(level, of({})))).toMatchObject({
        status: 507,
        code: 'no-room',
        message: expect.stringMatching(/^The file has no room: [\d.]+ [MG]B are free .+ and 1000000\.0 GB have to be\.$/),
        remedy: expect.stringContaining('Make room'),
      });
      expect(await refusal(await routes.requestBake(send('POST', '', {}), of({ id })))).toMatchObject({ status: 507 });
      expect(await json(await routes.health(get(''), of({})))).toMatchObject({ disk: { state: 'held' } });
      const { revision, rig } = await json<ProjectView>(await routes.openProject(get(''), of({ id })));
      expect((await routes.saveRig(send('POST', '', { base: revision, rig, note: '' }), of({ id }))).status).toBe(200);
      process.env.BASIL_RESERVE_MB = '0';
      expect(await json(await routes.health(get(''), of({})))).toMatchObject({ disk: { state: 'ample' } });
    } finally {
      delete process.env.BASIL_DATA;
      delete process.env.BASIL_RESERVE_MB;
    }
    expect(await countOf(db, 'blobs')).toBe(before);
  });

  it('serve the page of this server alone', async () => {
    const asked = (origin: string) => routes.listProjects(get('/api/projects', { origin, host: '127.0.0.1:4170' }), of({}));
    expect(await refusal(await asked('http://elsewhere.example'))).toMatchObject({
      status: 400,
      message: expect.stringContaining('another site'),
    });
    expect((await asked(HOST)).status).toBe(200);
  });

  it('hand stored files over by hash, as what they are, for good', async () => {
    const file = (h: string, as: string) => routes.file(get(`/api/files/${h}?as=${as}`), of({ hash: h }));
    const response = await file(hash, 'level');
    expect(response.headers.get('content-type')).toBe('model/gltf-binary');
    expect(response.headers.get('cache-control')).toContain('immutable');
    expect(new Uint8Array(await response.arrayBuffer())).toEqual(content);
    const etag = response.headers.get('etag')!;
    const again = await routes.file(get(`/api/files/${hash}?as=level`, { 'if-none-match': etag }), of({ hash }));
    expect([again.status, (await again.arrayBuffer()).byteLength]).toEqual([304, 0]);
    expect((await file(hash, 'script')).status).toBe(404);
    expect((await file('../../etc/passwd', 'level')).status).toBe(404);
    expect((await file('0'.repeat(64), 'level')).status).toBe(404);
  });

  it('find cities, and ask for a file where one must come', async () => {
    const cities = await json<CityView[]>(await routes.findCities(get('/api/cities?name=reyk'), of({})));
    expect(cities[0]!.country).toBe('Iceland');
    expect(await refusal(await routes.receiveSkyImage(new Request(HOST, { method: 'POST' }), of({ id })))).toMatchObject({
      status: 400,
      message: 'The request holds no file.',
    });
  });

  it('tell a fault of ours as one, and no more of it', async () => {
    const quiet = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    globalThis.basilContext = { db: null as never };
    const answered = await routes.listProjects(get('/api/projects'), of({}));
    globalThis.basilContext = { db };
    expect(await refusal(answered)).toMatchObject({
      status: 500,
      code: 'fault',
      message: "A fault of Basil's.",
    });
    quiet.mockRestore();
  });

  it('say how many cores there are to bake, and take fewer of them', async () => {
    await db.insertInto('workers').values({ id: '6f0b6c0e-1c55-4e0f-9d2c-6a9b7d0c1e11', seen_at: new Date(), threads: 6 }).execute();
    const cores = async () => json(await routes.cores(get('/api/cores'), of({})));
    expect(await cores()).toEqual({ most: 6, used: null, byItself: null });
    await routes.useCores(send('POST', '', { used: 4 }), of({}));
    await routes.useCores(send('POST', '', { byItself: 1 }), of({}));
    expect(await cores()).toEqual({ most: 6, used: 4, byItself: 1 });
    for (const used of [0, 1.5, '2', undefined]) {
      expect(await refusal(await routes.useCores(send('POST', '', { used }), of({})))).toMatchObject({ status: 400 });
    }
    await routes.useCores(send('POST', '', { used: null, byItself: null }), of({}));
    expect(await cores()).toEqual({ most: 6, used: null, byItself: null });
  });

  it('refuse to bake some objects where nothing is baked, and what are no objects', async () => {
    const bake = async (body: unknown) => refusal(await routes.requestBake(send('POST', '', body), of({ id })));
    expect(await bake({ only: ['Pier'] })).toMatchObject({ status: 409, message: expect.stringContaining('Nothing is baked yet') });
    for (const only of [[], [7], 'Pier']) expect(await bake({ only })).toMatchObject({ status: 400 });
    expect(await db.selectFrom('bakes').select('id').execute()).toEqual([]);
  });

  it('tell what was looked over, and that a bake is paused or not', async () => {
    expect(await json(await routes.look(get(''), of({ id })))).toEqual({ looking: false, found: null, error: null });
    expect(await refusal(await routes.changeBake(send('POST', '', { paused: 'yes' }), of({ id })))).toMatchObject({ status: 400 });
    for (const box of [{ min: [0, 0] }, { min: [0, 0, 0], max: [1, 1, 1] }, { min: ['a', 0], max: [1, 1] }, 7])
      expect(await refusal(await routes.askLook(send('POST', '', { box }), of({ id })))).toMatchObject({ status: 400 });
    expect(await json(await routes.look(get(''), of({ id })))).toMatchObject({ looking: false });
    await json(await routes.askLook(send('POST', '', { box: { min: [-4, 2], max: [4, 9.5] } }), of({ id })));
    expect(await json(await routes.look(get(''), of({ id })))).toMatchObject({ looking: true });
    await endLook(db, id, { error: 'Too dark.' });
    expect(await json(await routes.look(get(''), of({ id })))).toEqual({ looking: false, found: null, error: 'Too dark.' });
  });

  it('let a bake that failed go on, and refuse to change one in any other way', async () => {
    const { id: bakeId } = await json<{ id: string }>(await routes.requestBake(send('POST', '', {}), of({ id })));
    const bakes = async () => json<BakesNow>(await routes.bakes(get(''), of({ id })));
    expect(await bakes()).toMatchObject({ atWork: { id: bakeId, state: 'planning' }, failed: null });
    await failBake(db, bakeId, 'Planning failed.');
    expect(await bakes()).toMatchObject({ atWork: null, failed: { id: bakeId, error: 'Planning failed.' } });
    for (const body of [{}, { again: false }, { again: 'yes' }, { again: true, paused: true }, { early: false }, { pinned: 1 }])
      expect(await refusal(await routes.changeBake(send('PATCH', '', body), of({ id: bakeId })))).toMatchObject({ status: 400 });
    expect((await bakes()).atWork).toBeNull();
    expect((await routes.changeBake(send('PATCH', '', { again: true }), of({ id: bakeId }))).status).toBe(200);
    expect(await bakes()).toMatchObject({ atWork: { id: bakeId, error: null }, failed: null });
    // It is not done, so it is neither pinned nor in the list; it can be finished early.
    expect(await refusal(await routes.changeBake(send('PATCH', '', { pinned: true }), of({ id: bakeId })))).toMatchObject({ status: 404 });
    expect(await refusal(await routes.cancelBake(send('DELETE', '/?for=good', {}), of({ id: bakeId })))).toMatchObject({ status: 404 });
    expect(await json(await routes.keptBakes(get(''), of({ id })))).toMatchObject({ bakes: [], most: 4 });
    // Where it is looked at from is noted, and has it put in order once for all that come while nobody does so.
    const eye = { eye: [0, 1.7, 8], target: [0, 1, 0], fovDeg: 55 };
    for (const wrong of [{}, { ...eye, fovDeg: 0 }, { ...eye, eye: [0, 1] }, { ...eye, target: [0, 1, '2'] }, { ...eye, name: 'Yard' }])
      expect(await refusal(await routes.changeBake(send('PATCH', '', { eye: wrong }), of({ id: bakeId })))).toMatchObject({ status: 400 });
    for (const fovDeg of [50, 55])
      expect((await routes.changeBake(send('PATCH', '', { eye: { ...eye, fovDeg } }), of({ id: bakeId }))).status).toBe(200);
    expect(await db.selectFrom('bakes').select('eye').where('id', '=', bakeId).execute()).toEqual([{ eye }]);
    expect((await sql`select id from queue.job where name = 'bake-order' and state < 'completed'`.execute(db)).rows).toHaveLength(1);
    expect((await routes.changeBake(send('PATCH', '', { early: true }), of({ id: bakeId }))).status).toBe(200);
    expect((await bakes()).atWork).toMatchObject({ early: true });
    for (const body of [{}, { on: 'yes' }])
      expect(await refusal(await routes.keepBaking(send('PUT', '', body), of({ id })))).toMatchObject({ status: 400 });
    await routes.keepBaking(send('PUT', '', { on: true }), of({ id }));
    expect((await bakes()).keepsBaking).toBe(true);
    await routes.keepBaking(send('PUT', '', { on: false }), of({ id }));
    // What it holds is asked for apart.
    const parts = await routes.bakeParts(get(''), of({ id: bakeId }));
    expect(parts.headers.get('cache-control')).toBe('no-store');
    expect(await json<BakeParts>(parts)).toMatchObject({ only: null, maps: [], bands: [], coarse: true });
    expect(JSON.stringify(await bakes()).length).toBeLessThan(500);
    await routes.cancelBake(send('DELETE', '', {}), of({ id: bakeId }));
    expect(await bakes()).toMatchObject({ atWork: null, failed: null });
  });

  it('delete a project with all that was its own', async () => {
    expect((await routes.deleteProject(send('DELETE', '', {}), of({ id }))).status).toBe(200);
    expect(await json(await routes.listProjects(get('/api/projects'), of({})))).toEqual([]);
  });
});
