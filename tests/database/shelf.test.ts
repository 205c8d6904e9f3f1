import { defaultRig, packForShelf, readRig, takeFromShelf, type Rig } from '../../core/rig';
import type { ShelfEntry } from '../../core/api';
import type { Db } from '../../server/data';
import { keepOnShelf } from '../../server/stores';
import { routes } from '../../server/web';
import { freshDatabase } from '../lib/database';

let db: Db;
let drop: () => Promise<void>;
beforeAll(async () => {
  ({ db, drop } = await freshDatabase());
  globalThis.basilContext = { db };
});
afterAll(async () => {
  globalThis.basilContext = undefined;
  await drop?.();
});

const HOST = 'http://127.0.0.1:4170';
const of = (id: string) => ({ params: Promise.resolve({ id }) });
const none = { params: Promise.resolve({}) };
const send = (method: string, body: object) => new Request(HOST, { method, body: JSON.stringify(body) });
const listed = async () => (await (await routes.shelf(new Request(HOST), none)).json()) as ShelfEntry[];
const keep = async (body: object) => {
  const answer = await routes.keepOnShelf(send('POST', body), none);
  return { status: answer.status, body: (await answer.json()) as { id: string; name: string; error?: { message: string } } };
};
const noon = (): Rig => packForShelf(defaultRig(), 'cue', 'noon').rig;
const NOBODY = '0b8f0f63-3c8e-4a52-9b6c-1d7b5c1f2a10';

describe('the shelf of all projects', () => {
  it('keeps what a project has, and gives it to another as it was', async () => {
    expect(await listed()).toEqual([]);
    const kept = await keep({ kind: 'cue', rig: noon() });
    expect(kept).toMatchObject({ status: 200, body: { name: 'Noon' } });
    expect(await listed()).toEqual([expect.objectContaining({ id: kept.body.id, kind: 'cue', name: 'Noon' })]);
    const thing = (await (await routes.shelfThing(new Request(HOST), of(kept.body.id))).json()) as { kind: string; rig: unknown };
    const rig = { ...defaultRig(), cues: [{ ...defaultRig().cues[1]! }] };
    takeFromShelf(rig, 'cue', readRig(thing.rig));
    expect(rig.cues[1]).toEqual(defaultRig().cues[0]);
  });

  it('gives each a name of its own among its kind, also where several are kept at once', async () => {
    const names = (await Promise.all([1, 2, 3].map(() => keep({ kind: 'cue', rig: noon() })))).map((k) => k.body.name);
    expect(names.sort()).toEqual(['Noon 2', 'Noon 3', 'Noon 4']);
    const air = packForShelf(defaultRig(), 'air', 'temperate').rig;
    expect((await keep({ kind: 'air', rig: air })).body.name).toBe('Clear, temperate');
  });

  it('renames, and removes', async () => {
    const [first, second] = (await listed()).filter((e) => e.kind === 'cue');
    expect((await routes.renameOnShelf(send('PATCH', { name: ' High sun ' }), of(first!.id))).status).toBe(200);
    expect((await listed()).find((e) => e.id === first!.id)!.name).toBe('High sun');
    const taken = await routes.renameOnShelf(send('PATCH', { name: 'HIGH SUN' }), of(second!.id));
    expect([taken.status, await taken.text()]).toEqual([409, expect.stringContaining('There is another')]);
    expect((await routes.removeFromShelf(new Request(HOST), of(first!.id))).status).toBe(200);
    expect((await listed()).map((e) => e.id)).not.toContain(first!.id);
    expect((await routes.removeFromShelf(new Request(HOST), of(first!.id))).status).toBe(404);
  });

  it.each([
    ['a kind that is none', { kind: 'project', rig: noon() }, 400, '"kind" must be one of'],
    ['no rig', { kind: 'cue' }, 400, '"rig" is required'],
    ['what is no rig', { kind: 'cue', rig: { cues: [] } }, 400, 'no version'],
    ['a rig without a thing of the kind', { kind: 'weather', rig: noon() }, 400, 'has 0 things'],
    ['a rig with several', { kind: 'cue', rig: defaultRig() }, 400, 'has 2 things'],
    [
      'more than the shelf takes',
      { kind: 'profile', rig: { ...noon(), profiles: [{ id: 'p', name: 'P', ies: 'x'.repeat(100) }] } },
      400,
      'cannot be read',
    ],
  ])('refuses %s and keeps nothing', async (_, body, status, message) => {
    const before = await listed();
    const answer = await keep(body);
    expect([answer.status, answer.body.error!.message]).toEqual([status, expect.stringContaining(message)]);
    expect(await listed()).toEqual(before);
  });

  it('has no thing of another id', async () => {
    for (const answer of [
      await routes.shelfThing(new Request(HOST), of(NOBODY)),
      await routes.renameOnShelf(send('PATCH', { name: 'x' }), of(NOBODY)),
      await routes.shelfThing(new Request(HOST), of('1; drop table shelf_things')),
    ])
      expect(answer.status).toBe(404);
  });

  it('upgrades what an earlier version kept', async () => {
    const old = { ...noon(), version: 16, airs: [] };
    const { id } = await keepOnShelf(db, 'cue', noon());
    await db
      .updateTable('shelf_things')
      .set({ rig: JSON.stringify(old) })
      .where('id', '=', id)
      .execute();
    const thing = (await (await routes.shelfThing(new Request(HOST), of(id))).json()) as { rig: Rig };
    expect(thing.rig.airs).toEqual(defaultRig().airs);
  });
});
