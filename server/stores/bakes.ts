import { createHash, randomUUID } from 'node:crypto';
import { bakeChange, keepUp, layoutOf, planBake, type BakeNoise, type ToTrace, type BakePlan, type BakeStep } from '../../core/bake';
import type { LayoutOptions } from '../../core/level';
import { sql, type Insertable, type UpdateObject } from 'kysely';
import type { Rig, Vantage } from '../../core/rig';
import { Failure, orderedJson } from '../../core/units';
import type { BakeExtent, BakeState } from '../../core/api';
import { changeBlobs, freeBlobs, needRoom, type BakeTable, type Database, type Db, type Tx } from '../data';
import { AT_WORK, WORKED_S } from './bakeStates';
import { freeOldBakes } from './keptBakes';
import { freeUnusedLevels, showLevel } from './levels';
import { send, sendMissing } from '../queue';
import { latestRig } from './revisions';

/** Raised where a change of the transport makes new bakes differ from equal ones stored before. */
const TRANSPORT_VERSION = 11;

const keyOf = (sourceHash: string, layout: LayoutOptions, plan: BakePlan) =>
  createHash('sha256')
    .update(orderedJson([TRANSPORT_VERSION, sourceHash, layout, plan]))
    .digest('hex');

/**
 * Asks for a bake of the project's newest rig. Where an equal one is done, that one is brought to the front instead; where only a part of
 * the newest one is stale, only that is traced. Throws a `conflict` {@link Failure} while another bake of the project is at work, and a `no-room`
 * one where the disk is nearly full.
 *
 * @param whole traces everything, whatever is still fresh
 * @param byItself traces what is out of date at rough, as {@link keepUp} has it; where that is nothing, nothing is asked for
 * @param only names of objects that alone are traced, all stems of them; the rest keeps its light, and stays as stale as it is
 * @returns the bake, and whether it still has to be done
 */
export async function requestBake(
  db: Db,
  projectId: string,
  { whole = false, only = null, byItself = false }: BakeExtent & { byItself?: boolean } = {},
): Promise<{ id: string; fresh: boolean }> {
  await needRoom(db, 'A bake');
  const { revision, rig } = await latestRig(db, projectId);
  const level = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select(['levels.id', 'levels.source_hash'])
    .where('projects.id', '=', projectId)
    .executeTakeFirstOrThrow();
  const layout = layoutOf(rig);
  const done = (await newestDone(db, projectId, level.id)) ?? null;
  const toTrace = byItself ? keepUp(done, rig) : only ? objectsToTrace(done, rig, only) : partsToTrace(done, rig, whole);
  if (!toTrace) return { id: done!.id, fresh: false };
  const { plan, trace } = toTrace;
  const base = trace.partly || trace.only ? done!.id : null;
  const id = randomUUID();
  const key = byItself ? `by itself ${id}` : keyOf(level.source_hash, layout, trace.only ? trace : plan);
  const equal = await db
    .selectFrom('bakes')
    .select(['id', 'level_id'])
    .where('project_id', '=', projectId)
    .where('key', '=', key)
    .where('state', '=', 'done')
    .executeTakeFirst();
  if (equal && !whole && !only) {
    await db.updateTable('bakes').set({ finished_at: new Date() }).where('id', '=', equal.id).execute();
    await showLevel(db, projectId, equal.level_id);
    return { id: equal.id, fresh: false };
  }
  const asked = { id, project_id: projectId, level_id: level.id, rig_revision: revision, key, base_id: base, by_itself: byItself };
  await beginBake(db, { ...asked, layout: JSON.stringify(layout), plan: JSON.stringify(plan), trace: JSON.stringify(trace) });
  return { id, fresh: true };
}

/** Begins a bake. Throws a `conflict` {@link Failure} while another one of its project is at work. */
export async function beginBake(
  db: Db,
  row: Omit<Insertable<BakeTable>, 'state' | 'error' | 'started_at' | 'finished_at' | 'noise'>,
): Promise<void> {
  const inserted = await changeBlobs(db, async (tx) => {
    const { numInsertedOrUpdatedRows } = await tx
      .insertInto('bakes')
      .values({ ...row, state: 'planning', error: null, started_at: null, finished_at: null, noise: null })
      .onConflict((c) => c.doNothing())
      .executeTakeFirst();
    if (numInsertedOrUpdatedRows === 0n) return false;
    await freeFailed(tx, row.project_id);
    await send(tx, 'bake-advance', [{ bakeId: row.id }]);
    return true;
  });
  if (!inserted) throw new Failure('conflict', 'A bake of this project is at work already.', 'Wait for it, or cancel it.');
}

/** A bake that is done, as another one builds on it. */
type Done = Awaited<ReturnType<typeof newestDone>> | null;

/** The newest bake of a level that is done, with all its openings closed. */
export const newestDone = (db: Db | Tx, projectId: string, levelId: string) =>
  db
    .selectFrom('bakes')
    .selectAll()
    .where('project_id', '=', projectId)
    .where('level_id', '=', levelId)
    .where('state', '=', 'done')
    .where('opens_of', 'is', null)
    .orderBy('finished_at', 'desc')
    .limit(1)
    .executeTakeFirst();

/**
 * Gives a new version of a level the light of the one before, as a bake of its own: what did not change keeps it, the rest has none yet.
 *
 * @param before the level whose newest bake is taken over, and `now` the new one
 * @param changed names of the objects that have no light yet
 * @param covers hash of an empty cover for each map that the new version has more, the first of them number `firstMap`
 */
export async function keepBake(
  tx: Tx,
  projectId: string,
  { before, now, changed, firstMap, covers }: { before: string; now: string; changed: string[]; firstMap: number; covers: EmptyCover[] },
): Promise<void> {
  const done = await newestDone(tx, projectId, before);
  if (!done) return;
  const id = randomUUID();
  const all = [...new Set([...(done.plan.changed ?? []), ...changed])];
  await tx
    .insertInto('bakes')
    .values({
      id,
      project_id: projectId,
      level_id: now,
      rig_revision: done.rig_revision,
      key: `kept ${id}`,
      layout: JSON.stringify(done.layout),
      plan: JSON.stringify({ ...done.plan, ...(all.length > 0 ? { changed: all } : {}) }),
      trace: JSON.stringify(done.trace),
      base_id: null,
      state: 'done',
      error: null,
      started_at: null,
      finished_at: new Date(),
      noise: done.noise && JSON.stringify(done.noise),
    })
    .execute();
  await copyStems(tx, done.id, id);
  const rows = covers.map((cover, k) => ({ ...cover, bake_id: id, coarse: false, map: firstMap + k, part: 'cover', first_layer: 0 }));
  if (rows.length > 0) await tx.insertInto('stems').values(rows).execute();
}

/** A file that says of a lightmap that nothing of it is baked yet. */
export interface EmptyCover {
  hash: string;
  width: number;
  height: number;
}

/** Takes over stems of another bake that a bake has not of its own: those of some parts or maps, or all. */
export async function copyStems(
  db: Db | Tx,
  from: string,
  to: string,
  { parts = null, maps = null }: { parts?: string[] | null; maps?: number[] | null } = {},
): Promise<void> {
  if (maps?.length === 0) return;
  await db
    .insertInto('stems')
    .columns(['bake_id', 'coarse', 'map', 'part', 'first_layer', 'width', 'height', 'hash'])
    .expression((eb) =>
      eb
        .selectFrom('stems')
        .select([sql<string>`${to}::uuid`.as('bake_id'), 'coarse', 'map', 'part', 'first_layer', 'width', 'height', 'hash'])
        .where('bake_id', '=', from)
        .where('coarse', '=', false)
        .$if(parts !== null, (q) => q.where('part', 'in', parts!))
        .$if(maps !== null, (q) => q.where('map', 'in', maps!)),
    )
    .onConflict((c) => c.doNothing())
    .execute();
}

function objectsToTrace(done: Done, rig: Rig, only: string[]): ToTrace {
  const change = done && bakeChange(done, rig);
  if (!change?.some)
    throw new Failure(
      'conflict',
      done
        ? 'Cues, circuits, models or the lightmaps are others than in the bake that is done, so a part of it cannot be baked by itself.'
        : 'Nothing is baked yet, so a part cannot be baked by itself.',
      'Bake the whole level first.',
    );
  const still = done!.plan.changed?.filter((name) => !only.includes(name)) ?? [];
  const beside = only.length > NAMED ? `${only.length} objects` : only.join(', ');
  const own = change.reasons.filter((r) => !done!.plan.left?.reasons.includes(r)).map((r) => `outside of ${beside}: ${r}`);
  const left = { reasons: [...(done!.plan.left?.reasons ?? []), ...own], stale: change.stale };
  const some: BakePlan = { ...change.some, changed: undefined };
  const plan = { ...some, ...(left.reasons.length > 0 ? { left } : {}), ...(still.length > 0 ? { changed: still } : {}) };
  return { plan, trace: { ...some, only } };
}

/** Most objects that are named one by one. */
const NAMED = 3;

function partsToTrace(done: Done, rig: Rig, whole: boolean): ToTrace {
  const wanted = planBake(rig);
  if (!done || whole) return { plan: wanted, trace: wanted };
  const { plan, trace } = bakeChange(done, rig);
  return { plan, trace };
}

/** Brings a bake from one state to the next; false where it is in another by now, and then stays there. */
export async function moveBake(db: Db | Tx, id: string, from: BakeState, to: UpdateObject<Database, 'bakes'>): Promise<boolean> {
  const { numUpdatedRows } = await db.updateTable('bakes').set(to).where('id', '=', id).where('state', '=', from).executeTakeFirst();
  return numUpdatedRows > 0n;
}

/** Halts a bake that is tracing; what is gathered so far stays. Anything else stays as it is. */
export async function pauseBake(db: Db, id: string): Promise<void> {
  await moveBake(db, id, 'running', { state: 'paused', worked_s: WORKED_S });
}

/**
 * Has a bake finished early: tiles whose paths are not followed yet get the fewest of them, and the light is whole sooner and noisier. One that is
 * paused goes on; one whose paths are all followed stays as it is.
 */
export async function finishBakeEarly(db: Db, id: string): Promise<void> {
  await db.updateTable('bakes').set({ early: true }).where('id', '=', id).where('state', 'in', ['planning', 'running', 'paused']).execute();
  await continueBake(db, id);
}

/** Tells a bake that is not yet traced where its level is looked at from: what is seen there is to come first. Any other stays as it is. */
export async function lookFrom(db: Db, id: string, eye: Vantage): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { numUpdatedRows } = await tx
      .updateTable('bakes')
      .set({ eye: JSON.stringify(eye) })
      .where('id', '=', id)
      .where('state', 'in', ['planning', 'running', 'paused'])
      .executeTakeFirst();
    if (numUpdatedRows > 0n) await sendMissing(tx, 'bake-order', [{ bakeId: id }], 'waiting');
  });
}

/** Lets a paused bake go on; one that was not paused stays as it is. */
export async function continueBake(db: Db, id: string): Promise<void> {
  await needRoom(db, 'The bake');
  await db.transaction().execute(async (tx) => {
    if (await moveBake(tx, id, 'paused', { state: 'running', started_at: new Date() })) await send(tx, 'bake-advance', [{ bakeId: id }]);
  });
}

/**
 * Lets a bake that failed go on from what is kept of it; any other stays as it is. Throws a `conflict` {@link Failure} while another bake of
 * the project is at work.
 */
export async function retryBake(db: Db, id: string): Promise<void> {
  await needRoom(db, 'The bake');
  await db.transaction().execute(async (tx) => {
    const bake = await tx.selectFrom('bakes').select(['project_id', 'state', 'step']).where('id', '=', id).forUpdate().executeTakeFirst();
    if (bake?.state !== 'failed') return;
    const other = await tx
      .selectFrom('bakes')
      .select('id')
      .where('project_id', '=', bake.project_id)
      .where('state', 'in', AT_WORK)
      .executeTakeFirst();
    if (other) throw new Failure('conflict', 'A bake of this project is at work already.', 'Wait for it, or cancel it.');
    const state = bake.step === 'plan' ? 'planning' : stateOfStep(bake.step);
    await tx.updateTable('bakes').set({ state, error: null, finished_at: null, started_at: new Date() }).where('id', '=', id).execute();
    await send(tx, 'bake-advance', [{ bakeId: id }]);
  });
}

/** The state of a bake while it is at a step. */
export const stateOfStep = (step: BakeStep): 'planning' | 'running' | 'finishing' =>
  step === 'plan' ? 'planning' : step === 'direct' || step === 'bounce' || step === 'gather' ? 'running' : 'finishing';

/** Stops a bake, or puts one away that failed; what it had gathered is freed. A bake that is done stays done. */
export async function cancelBake(db: Db, id: string): Promise<void> {
  await changeBlobs(db, async (tx) => {
    const ended = await tx
      .updateTable('bakes')
      .set({ state: 'cancelled', error: null, finished_at: new Date() })
      .where('id', '=', id)
      .where('state', 'in', [...AT_WORK, 'failed'])
      .returning('project_id')
      .executeTakeFirst();
    if (!ended) return;
    await freeGathered(tx, id);
    await freeUnusedLevels(tx, ended.project_id);
  });
}

/** Ends a bake that is at work with an error for people. What its jobs made is kept, so that it can be tried again. */
export async function failBake(db: Db, id: string, error: string): Promise<void> {
  await db
    .updateTable('bakes')
    .set({ state: 'failed', error, finished_at: new Date(), worked_s: WORKED_S, started_at: null })
    .where('id', '=', id)
    .where('state', 'in', AT_WORK)
    .execute();
}

/** Lets go of what is kept of the failed bakes of a project: a new one has begun. */
async function freeFailed(tx: Tx, projectId: string): Promise<void> {
  const failed = await tx.selectFrom('bakes').select('id').where('project_id', '=', projectId).where('state', '=', 'failed').execute();
  for (const { id } of failed) await freeGathered(tx, id);
}

/** Lets go of the jobs of a bake, of what they had gathered, and of its first look. */
async function freeGathered(db: Tx, id: string): Promise<void> {
  const rows = await db.deleteFrom('bake_jobs').where('bake_id', '=', id).returning('result_hash').execute();
  const { state } = await db.selectFrom('bakes').select('state').where('id', '=', id).executeTakeFirstOrThrow();
  const half = state === 'done' ? [] : await db.deleteFrom('stems').where('bake_id', '=', id).returning('hash').execute();
  await freeBlobs(db, [...rows.map((r) => r.result_hash), ...half.map((s) => s.hash)]);
  await freeFirstLook(db, id);
}

/** Lets go of the first, coarse look of a bake. */
export async function freeFirstLook(db: Db | Tx, id: string): Promise<void> {
  const looks = await db.deleteFrom('stems').where('bake_id', '=', id).where('coarse', '=', true).returning('hash').execute();
  await freeBlobs(
    db,
    looks.map((l) => l.hash),
  );
}

/**
 * Ends a bake whose maps are all stored: its level is the one shown from now on, and what went before makes room.
 *
 * @param earlyPlan what it holds where it was finished early: it is no longer what was asked for, which may be asked for again
 * @returns false where it was cancelled meanwhile
 */
export async function completeBake(
  db: Db,
  {
    id,
    projectId,
    levelId,
    noise = null,
    earlyPlan = null,
  }: { id: string; projectId: string; levelId: string; noise?: BakeNoise | null; earlyPlan?: BakePlan | null },
): Promise<boolean> {
  const other = earlyPlan ? { plan: JSON.stringify(earlyPlan), key: `early ${id}` } : {};
  return changeBlobs(db, async (tx) => {
    const ended = { finished_at: new Date(), worked_s: WORKED_S, started_at: null, noise: noise && JSON.stringify(noise), ...other };
    if (!(await moveBake(tx, id, 'finishing', { state: 'done', ...ended }))) return false;
    await showLevel(tx, projectId, levelId);
    await freeGathered(tx, id);
    await freeOldBakes(tx, projectId);
    await freeUnusedLevels(tx, projectId);
    await send(tx, 'picture', [{ projectId }]);
    return true;
  });
}
