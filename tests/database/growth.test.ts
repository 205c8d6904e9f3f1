import { randomUUID } from 'node:crypto';
import { sql } from 'kysely';
import type { LevelSummary } from '../../core/level';
import { defaultRig, type Rig } from '../../core/rig';
import { openBlob, storeBytes, streamOf, type Db } from '../../server/data';
import {
  addLevel,
  freeSpare,
  latestRig,
  occupied,
  receiveSkyImage,
  rigRevision,
  saveRig,
  thinRevisions,
  tidyProject,
} from '../../server/stores';
import { countOf, freshDatabase } from '../lib/database';

let db: Db;
let drop: () => Promise<void>;
beforeAll(async () => ({ db, drop } = await freshDatabase()));
afterAll(() => drop());

let seed = 0;
/** Bytes of which there are no others. */
const stored = (length: number) => {
  const bytes = new Uint8Array(length).fill(++seed);
  return storeBytes(db, bytes, async (_, hash) => hash);
};

/** A level of some bytes: of its own project, or in place of another's. */
async function level(into: string | null, bytes = 1000) {
  const [sourceHash, preparedHash] = [await stored(bytes), await stored(bytes)];
  const layout = { texelsPerM: 4, maxMapSize: 256 };
  const summary = { triangles: 7 } as LevelSummary;
  const added = await db.transaction().execute((tx) => addLevel(tx, { name: 'Quay', sourceHash, preparedHash, layout, summary }, into));
  return { ...added, sourceHash, preparedHash };
}

/** A bake of a level that is done, with a stem of some bytes. */
async function doneBake(projectId: string, levelId: string, bytes: number, hoursAgo = 0) {
  const [id, hash] = [randomUUID(), await stored(bytes)];
  await sql`insert into bakes (id, project_id, level_id, rig_revision, key, layout, plan, trace, state, finished_at)
    values (${id}, ${projectId}, ${levelId}, 1, ${id}, '{}', '{}', '{}', 'done', now() - make_interval(hours => ${hoursAgo}))`.execute(db);
  await db
    .insertInto('stems')
    .values({ bake_id: id, coarse: false, map: 0, part: 'sky', first_layer: 0, width: 1, height: 1, hash })
    .execute();
  return { id, hash };
}

const isThere = (hash: string) =>
  openBlob(db, hash).then(
    () => true,
    () => false,
  );

/** A rig of many lamps, of which the first stands at some height. */
const rigAt = (y: number): Rig => {
  const rig = defaultRig();
  const lamp = {
    id: 'lamp',
    name: 'Lamp',
    at: [0, y, 0] as [number, number, number],
    aim: { azimuthDeg: 0, elevationDeg: -90, rollDeg: 0 },
    shape: { kind: 'point' as const, radiusM: 0 },
    output: { by: 'lumens' as const, lumens: 1000 },
    color: { by: 'kelvin' as const, kelvin: 3000 },
    reachM: null,
    circuitId: null,
    kept: 'all' as const,
    motion: null,
  };
  const others = Array.from({ length: 60 }, (_, i) => ({
    ...lamp,
    id: `l-${i}`,
    name: `Lamp ${i}`,
    at: [i, 3, 0] as [number, number, number],
  }));
  return { ...rig, lamps: [lamp, ...others] };
};

/** A project with revisions 1 to `count`, revision n with its lamp at height n, one each ten minutes until now. */
async function revised(count: number) {
  const { projectId } = await level(null);
  for (let n = 1; n < count; n++) await saveRig(db, projectId, n, rigAt(n + 1), `at ${n + 1}`);
  await sql`update rig_revisions set created_at = now() - make_interval(mins => 10 * (${count} - revision)) where project_id = ${projectId}`.execute(
    db,
  );
  return projectId;
}

const heightAt = async (projectId: string, n: number) => (await rigRevision(db, projectId, n)).rig.lamps[0]!.at[1];
const revisionsOf = async (projectId: string) =>
  (await db.selectFrom('rig_revisions').select('revision').where('project_id', '=', projectId).orderBy('revision').execute()).map(
    (r) => r.revision,
  );

describe('revisions of a rig', () => {
  it('are kept as what differs, with a whole one now and then, and each is read as it was', async () => {
    const projectId = await revised(80);
    for (const n of [2, 3, 31, 32, 33, 63, 64, 65, 79, 80]) expect(await heightAt(projectId, n)).toBe(n);
    expect((await latestRig(db, projectId)).revision).toBe(80);
    const whole = await db
      .selectFrom('rig_revisions')
      .select('revision')
      .where('project_id', '=', projectId)
      .where('rig', 'is not', null)
      .orderBy('revision')
      .execute();
    expect(whole.map((r) => r.revision)).toEqual([32, 64, 80]);
    const { rows } = await sql<{ bytes: number }>`select sum(length(coalesce(rig, patches)::text))::int as bytes
      from rig_revisions where project_id = ${projectId}`.execute(db);
    expect(rows[0]!.bytes).toBeLessThan(0.1 * 80 * JSON.stringify(rigAt(1)).length);
  });

  it('are thinned by age: all of a day, one an hour for a month, one a day after; named ones stay', async () => {
    // Ten minutes between each: 400 of them are almost three days.
    const projectId = await revised(400);
    await db
      .updateTable('rig_revisions')
      .set({ name: 'For the review' })
      .where('project_id', '=', projectId)
      .where('revision', '=', 100)
      .execute();
    const day = 24 * 6;
    expect(await thinRevisions(db, projectId)).toBeGreaterThan(200);
    const left = await revisionsOf(projectId);
    expect(left.filter((n) => n > 400 - day + 1)).toHaveLength(day - 1);
    expect(left.filter((n) => n <= 400 - day).length).toBeLessThanOrEqual((400 - day) / 6 + 3);
    expect(left).toContain(100);
    expect(left).toContain(400);
    for (const n of left) if (n > 1) expect(await heightAt(projectId, n)).toBe(n);
    // A second time there is nothing to thin.
    expect(await thinRevisions(db, projectId)).toBe(0);
    // Two months on, one a day is left, and the named and the newest one.
    await thinRevisions(db, projectId, new Date(Date.now() + 60 * 86_400_000));
    const later = await revisionsOf(projectId);
    expect(later.length).toBeLessThanOrEqual(6);
    for (const n of [100, 400]) expect(await heightAt(projectId, n)).toBe(n);
    expect((await saveRig(db, projectId, 400, rigAt(401), '')).revision).toBe(401);
    expect(await heightAt(projectId, 400)).toBe(400);
  });
});

describe('what a project occupies', () => {
  it('is said by its parts, each file once, and what could go', async () => {
    const first = await level(null, 5000);
    const { projectId } = first;
    const old = await doneBake(projectId, first.levelId, 3000);
    const second = await level(projectId, 7000);
    await doneBake(projectId, second.levelId, 2000, 1);
    const shown = await doneBake(projectId, second.levelId, 4000);
    await receiveSkyImage(db, projectId, 'sky.hdr', streamOf(new Uint8Array(900).fill(200)));
    const of = async () => (await occupied(db)).find((o) => o.projectId === projectId);
    expect(await of()).toMatchObject({ level: 24_000, bakes: 9000, images: 900, spare: 10_000 + 3000 + 2000 });
    expect((await of())!.history).toBeGreaterThan(500);

    await tidyProject(db, projectId);
    expect(await of()).toMatchObject({ level: 14_000, bakes: 4000, images: 900, spare: 0 });
    expect(await Promise.all([first.sourceHash, first.preparedHash, old.hash].map(isThere))).toEqual([false, false, false]);
    expect(await Promise.all([second.sourceHash, second.preparedHash, shown.hash].map(isThere))).toEqual([true, true, true]);
  });

  it('loses by itself, after a day, the file of a level that was replaced', async () => {
    const first = await level(null);
    const { projectId } = first;
    const old = await doneBake(projectId, first.levelId, 3000, 30);
    const second = await level(projectId);
    await freeSpare(db);
    expect(await isThere(old.hash)).toBe(false);
    // Its bake is gone; the level itself is kept for a day, for who thinks better of it.
    expect(await isThere(first.sourceHash)).toBe(true);
    await sql`update levels set created_at = now() - interval '25 hours' where id in (${first.levelId}, ${second.levelId})`.execute(db);
    const levels = await countOf(db, 'levels');
    await freeSpare(db);
    expect(await countOf(db, 'levels')).toBe(levels - 1);
    expect(await Promise.all([first.sourceHash, second.sourceHash].map(isThere))).toEqual([false, true]);
  });
});
