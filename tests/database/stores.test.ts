import { Readable } from 'node:stream';
import { sql } from 'kysely';
import { defaultRig } from '../../core/rig';
import { Failure } from '../../core/units';
import { freeBlobs, readBlob, readRanges, storeBlob, storeBytes, streamOf, sweepBlobs, type Db } from '../../server/data';
import {
  addLevel,
  deleteProject,
  listProjects,
  openProject,
  receiveLevel,
  renameProject,
  saveRig,
  deletedProjects,
  eraseProject,
  purgeProjects,
  takeProjectBack,
} from '../../server/stores';
import type { LevelSummary } from '../../core/level';
import { countOf, freshDatabase } from '../lib/database';

let db: Db;
let drop: () => Promise<void>;
beforeAll(async () => ({ db, drop } = await freshDatabase()));
afterAll(() => drop());

const summary = { objects: 1, triangles: 2 } as LevelSummary;
const bytesOf = (size: number, seed: number) => Uint8Array.from({ length: size }, (_, i) => (i * seed + (i >> 8)) & 255);

const stored = (bytes: Uint8Array) => storeBlob(db, streamOf(bytes), async (_, hash) => hash);

/** A project over two small blobs. */
async function newProject(name: string, seed: number): Promise<string> {
  const [sourceHash, preparedHash] = [await stored(bytesOf(3000, seed)), await stored(bytesOf(4000, seed))];
  const layout = { texelsPerM: 4, maxMapSize: 1024 };
  const { projectId } = await db.transaction().execute((tx) => addLevel(tx, { name, sourceHash, preparedHash, layout, summary }, null));
  return projectId;
}

describe('blobs', () => {
  it('come back as they went in, over many chunks', async () => {
    const bytes = bytesOf(2_500_000, 7);
    const parts = Readable.from([bytes.subarray(0, 10), bytes.subarray(10, 1_500_000), bytes.subarray(1_500_000)]);
    const hash = await storeBlob(db, parts, async (_, h) => h);
    expect(Buffer.from(await readBlob(db, hash)).equals(Buffer.from(bytes))).toBe(true);
    await freeBlobs(db, [hash]);
    await expect(readBlob(db, hash)).rejects.toThrow('no such file');
  });

  it('that lost bytes, or had them changed, are not read as if they were whole', async () => {
    const bytes = bytesOf(2_500_000, 11);
    const hash = await stored(bytes);
    const change = (set: string) =>
      sql`update blob_chunks set ${sql.raw(set)} from blobs where blobs.id = blob_id and blobs.hash = ${hash} and position = 1`.execute(db);
    const inFirst = () => readRanges(db, hash, [[10, 20]]);
    const inSecond = () => readRanges(db, hash, [[1_000_000, 1_100_000]]);
    expect(Buffer.from((await inSecond())[0]!).equals(Buffer.from(bytes.subarray(1_000_000, 1_100_000)))).toBe(true);

    await change('bytes = set_byte(bytes, 7, get_byte(bytes, 7) # 1)');
    await expect(readBlob(db, hash)).rejects.toThrow('its content has changed');
    await change('bytes = set_byte(bytes, 7, get_byte(bytes, 7) # 1)');
    expect(await readBlob(db, hash)).toHaveLength(bytes.length);

    await change('bytes = substring(bytes from 1 for 1000)');
    await expect(readBlob(db, hash)).rejects.toThrow('1000 of the 1048576 bytes from 1048576 on are there');
    await expect(inSecond()).rejects.toThrow('damaged');
    expect((await inFirst())[0]).toEqual(bytes.subarray(10, 20));

    await sql`delete from blob_chunks using blobs where blobs.id = blob_id and blobs.hash = ${hash} and position = 1`.execute(db);
    await expect(readBlob(db, hash)).rejects.toThrow('0 of the 1048576 bytes');
    await expect(inSecond()).rejects.toThrow('damaged');
    await freeBlobs(db, [hash]);
  });

  it('are stored once for equal bytes', async () => {
    const before = await countOf(db, 'blobs');
    await Promise.all([1, 2, 3].map(() => stored(bytesOf(5000, 3))));
    expect(await countOf(db, 'blobs')).toBe(before + 1);
  });

  it('leave nothing when they are too large', async () => {
    const before = [await countOf(db, 'blobs'), await countOf(db, 'blob_chunks')];
    await expect(storeBlob(db, streamOf(bytesOf(3_000_000, 5)), async () => undefined, 2_000_000)).rejects.toMatchObject({
      code: 'too-large',
    });
    expect([await countOf(db, 'blobs'), await countOf(db, 'blob_chunks')]).toEqual(before);
  });

  it('of bytes in memory leave nothing when the process that stores them dies on the way', async () => {
    const before = [await countOf(db, 'blobs'), await countOf(db, 'blob_chunks')];
    const dying = storeBytes(db, bytesOf(3_000_000, 9), async (tx) => {
      expect((await tx.selectFrom('blob_chunks').select('position').execute()).length).toBeGreaterThanOrEqual(3);
      // What the server sees of a process that is killed: its connection is gone.
      await sql`select pg_terminate_backend(pg_backend_pid())`.execute(tx);
    });
    await expect(dying).rejects.toThrow();
    expect([await countOf(db, 'blobs'), await countOf(db, 'blob_chunks')]).toEqual(before);
  });

  it('that dead processes left are swept away; what is held, and an upload on its way, stays', async () => {
    const id = await newProject('Swept', 17);
    const unheld = await stored(bytesOf(6000, 19));
    const [fresh, old] = await db
      .insertInto('blobs')
      .values([{ hash: null }, { hash: null }])
      .returning('id')
      .execute();
    await sql`update blobs set touched_at = now() - interval '11 minutes' where id = ${old!.id}`.execute(db);
    await sweepBlobs(db);
    const ids = (await db.selectFrom('blobs').select('id').where('hash', 'is', null).execute()).map((row) => row.id);
    expect(ids).toContain(fresh!.id);
    expect(ids).not.toContain(old!.id);
    await expect(readBlob(db, unheld)).rejects.toThrow('no such file');
    const level = await db.selectFrom('levels').select('prepared_hash').where('project_id', '=', id).executeTakeFirstOrThrow();
    expect(await readBlob(db, level.prepared_hash)).toHaveLength(4000);
    await db.deleteFrom('blobs').where('id', '=', fresh!.id).execute();
  });
});

describe('rig revisions', () => {
  it('are added one upon the other, and a stale one is refused and changes nothing', async () => {
    const id = await newProject('Revisions', 11);
    const rig = defaultRig();
    rig.cues[0]!.hour = 9;
    expect(await saveRig(db, id, 1, rig, 'Moved to 09:00')).toEqual({ revision: 2 });
    await expect(saveRig(db, id, 1, defaultRig(), 'from an old tab')).rejects.toMatchObject({ code: 'conflict' });
    expect((await openProject(db, id)).rig.cues[0]!.hour).toBe(9);
    const revisions = await db
      .selectFrom('rig_revisions')
      .select(['revision', 'note'])
      .where('project_id', '=', id)
      .orderBy('revision')
      .execute();
    expect(revisions).toEqual([
      { revision: 1, note: 'New project' },
      { revision: 2, note: 'Moved to 09:00' },
    ]);
  });

  it('lets exactly one of many writers through', async () => {
    const id = await newProject('Race', 13);
    const results = await Promise.allSettled(
      Array.from({ length: 8 }, (_, i) => saveRig(db, id, 1, { ...defaultRig(), bake: { ...defaultRig().bake, bounces: i } }, '')),
    );
    expect(results.filter((r) => r.status === 'fulfilled')).toHaveLength(1);
  });

  it('refuse an invalid rig', async () => {
    const id = await newProject('Invalid', 17);
    await expect(saveRig(db, id, 1, { ...defaultRig(), cues: [] }, '')).rejects.toThrow(Failure);
    expect((await openProject(db, id)).revision).toBe(1);
  });
});

describe('projects', () => {
  it('are listed, renamed, and deleted with all that nothing else uses', async () => {
    const [kept, gone] = [await newProject('Kept', 19), await newProject('Gone', 19)];
    const blobs = await countOf(db, 'blobs');
    await renameProject(db, kept, 'Kept indeed');
    await deleteProject(db, gone);
    const names = (await listProjects(db)).map((p) => p.name);
    expect(names).toContain('Kept indeed');
    expect(names).not.toContain('Gone');
    // Both lay on the same bytes, so those stay; with the last project they go.
    await eraseProject(db, gone);
    expect(await countOf(db, 'blobs')).toBe(blobs);
    await deleteProject(db, kept);
    expect(await countOf(db, 'blobs')).toBe(blobs);
    await expect(deleteProject(db, kept)).rejects.toMatchObject({ code: 'not-found' });
    await eraseProject(db, kept);
    expect(await countOf(db, 'blobs')).toBe(blobs - 2);
  });

  it('that are deleted can be taken back for a week, and are out of reach until then', async () => {
    const id = await newProject('Taken back', 41);
    await saveRig(db, id, 1, { ...defaultRig(), airId: 'humid' }, '');
    await deleteProject(db, id);
    expect((await listProjects(db)).map((p) => p.id)).not.toContain(id);
    const [card] = (await deletedProjects(db)).filter((p) => p.id === id);
    expect(card).toMatchObject({ name: 'Taken back', cues: 2, deletedAt: expect.stringMatching(/^2/) });
    for (const asked of [
      openProject(db, id),
      saveRig(db, id, 2, defaultRig(), ''),
      receiveLevel(db, 'a.glb', streamOf(bytesOf(10, 1)), id),
    ])
      await expect(asked).rejects.toMatchObject({ code: 'not-found' });
    await takeProjectBack(db, id);
    expect(await openProject(db, id)).toMatchObject({ name: 'Taken back', revision: 2, rig: { airId: 'humid' } });
    // One that is on the shelf is not deleted for good at a blow.
    await expect(eraseProject(db, id)).rejects.toMatchObject({ code: 'not-found' });
    await deleteProject(db, id);
    await purgeProjects(db);
    await takeProjectBack(db, id);
    await deleteProject(db, id);
    await sql`update projects set deleted_at = now() - interval '8 days' where id = ${id}`.execute(db);
    expect(await purgeProjects(db)).toBe(1);
    await expect(takeProjectBack(db, id)).rejects.toMatchObject({ code: 'not-found' });
  });

  it('refuse an empty upload and one into a project that is not there', async () => {
    const before = await countOf(db, 'intakes');
    await expect(receiveLevel(db, 'empty.glb', streamOf(new Uint8Array()), null)).rejects.toThrow('empty');
    await expect(receiveLevel(db, 'a.glb', streamOf(bytesOf(10, 1)), '00000000-0000-4000-8000-000000000000')).rejects.toMatchObject({
      code: 'not-found',
    });
    expect(await countOf(db, 'intakes')).toBe(before);
  });
});
