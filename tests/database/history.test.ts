import { defaultRig, type Rig } from '../../core/rig';
import type { HistoryEntry } from '../../core/api';
import type { Db } from '../../server/data';
import { saveRig, thinRevisions } from '../../server/stores';
import { routes } from '../../server/web';
import { bareProject } from '../lib/bareProject';
import { freshDatabase } from '../lib/database';
import { until } from '../lib/wait';

let db: Db;
let drop: () => Promise<void>;
let id: string;

beforeAll(async () => {
  ({ db, drop } = await freshDatabase());
  globalThis.basilContext = { db };
  ({ projectId: id } = await bareProject(db, new Uint8Array(100)));
});
afterAll(async () => {
  globalThis.basilContext = undefined;
  await drop?.();
});

const HOST = 'http://127.0.0.1:4170';
const of = <P>(params: P) => ({ params: Promise.resolve(params) });
const revisionOf = (revision: string) => of({ id, revision });
const send = (method: string, body: BodyInit) => new Request(HOST, { method, body });
const listed = async () => (await (await routes.history(new Request(HOST), of({ id }))).json()) as HistoryEntry[];
const rigWith = (airId: string): Rig => ({ ...defaultRig(), airId });
/** The signature that a PNG begins with, and some bytes. */
const picture = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3]);

describe('the history of a rig', () => {
  it('lists its revisions, the newest first, with what was done', async () => {
    await saveRig(db, id, 1, rigWith('humid'), 'Humid air');
    await saveRig(db, id, 2, rigWith('clear'), 'Clear air');
    const entries = await listed();
    expect(entries.map(({ revision, note, name, hasPicture }) => [revision, note, name, hasPicture])).toEqual([
      [3, 'Clear air', null, false],
      [2, 'Humid air', null, false],
      [1, 'New project', null, false],
    ]);
    expect(Date.now() - Date.parse(entries[0]!.at)).toBeLessThan(60_000);
  });

  it('takes a name and a picture for one of them', async () => {
    expect((await routes.nameRevision(send('PATCH', JSON.stringify({ name: ' For review ' })), revisionOf('2'))).status).toBe(200);
    expect((await routes.setRevisionPicture(send('PUT', picture), revisionOf('2'))).status).toBe(200);
    expect((await listed())[1]).toMatchObject({ revision: 2, name: 'For review', hasPicture: true });
    const kept = await routes.revisionPicture(new Request(HOST), revisionOf('2'));
    expect(kept.headers.get('content-type')).toBe('image/png');
    expect(new Uint8Array(await kept.arrayBuffer())).toEqual(picture);
    await routes.nameRevision(send('PATCH', JSON.stringify({ name: null })), revisionOf('2'));
    expect((await listed())[1]!.name).toBeNull();
  });

  it.each([
    ['a name for one that is not there', () => routes.nameRevision(send('PATCH', '{"name":"x"}'), revisionOf('99')), 404],
    ['a name for nonsense', () => routes.nameRevision(send('PATCH', '{"name":"x"}'), revisionOf('1; drop')), 404],
    ['no name', () => routes.nameRevision(send('PATCH', '{}'), revisionOf('1')), 400],
    ['a name that is too long', () => routes.nameRevision(send('PATCH', JSON.stringify({ name: 'x'.repeat(81) })), revisionOf('1')), 400],
    ['a picture that is none', () => routes.setRevisionPicture(send('PUT', 'a text'), revisionOf('1')), 400],
    ['a picture that is too large', () => routes.setRevisionPicture(send('PUT', new Uint8Array(300_000)), revisionOf('1')), 413],
    ['a picture of one that is not there', () => routes.setRevisionPicture(send('PUT', picture), revisionOf('99')), 404],
    ['a picture that nobody took', () => routes.revisionPicture(new Request(HOST), revisionOf('1')), 404],
    ['the history of no project', () => routes.history(new Request(HOST), of({ id: '0b8f0f63-3c8e-4a52-9b6c-1d7b5c1f2a10' })), 404],
  ])('refuses %s', async (_, ask, status) => {
    expect((await ask()).status).toBe(status);
  });

  it('keeps what has a name when old ones are thinned out', async () => {
    await routes.nameRevision(send('PATCH', '{"name":"Kept"}'), revisionOf('1'));
    await thinRevisions(db, id, new Date(Date.now() + 400 * 86_400_000));
    expect((await listed()).map((e) => e.revision)).toEqual([3, 1]);
  });
});

describe('events of a project', () => {
  it('tell each page that looks at it of a new revision, and of no other project’s', async () => {
    const other = (await bareProject(db, new Uint8Array(101))).projectId;
    const closing = new AbortController();
    const answer = await routes.events(new Request(HOST, { signal: closing.signal }), of({ id }));
    expect(answer.headers.get('content-type')).toBe('text/event-stream');
    let told = '';
    const reading = (async () => {
      const decoder = new TextDecoder();
      for await (const part of answer.body as unknown as AsyncIterable<Uint8Array>) told += decoder.decode(part);
    })();
    // It listens from here on.
    await until(() => Promise.resolve(told.includes('"revision":null')), 'the first notice');
    await saveRig(db, other, 1, rigWith('humid'), 'Elsewhere');
    await saveRig(db, id, 3, rigWith('humid'), 'Humid again');
    await until(() => Promise.resolve(told.includes('"revision":4')), 'the notice of a revision');
    expect(told).not.toContain('"revision":2');
    closing.abort();
    await reading;
  });

  it('are refused for what is no project', async () => {
    expect((await routes.events(new Request(HOST), of({ id: '0b8f0f63-3c8e-4a52-9b6c-1d7b5c1f2a10' }))).status).toBe(404);
  });
});
