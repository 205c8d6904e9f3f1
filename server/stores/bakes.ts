import { createHash, randomUUID } from 'node:crypto';
import { planBake, type BakePlan } from '../../core/bake';
import type { LayoutOptions } from '../../core/level';
import { Failure } from '../../core/units';
import type { BakeState, BakesView, BakeView } from '../../core/wire';
import { freeBlobs, type Db } from '../data';
import { freeUnusedLevels, layoutOf, showLevel } from './levels';
import { latestRig } from './projects';

/** Finished bakes of a project that are kept, so that going back to an earlier rig finds its light there. */
const KEPT_BAKES = 4;

const AT_WORK: BakeState[] = ['planning', 'running', 'finishing'];

/** Raised where a change of the transport makes new bakes differ from equal ones stored before. */
const TRANSPORT_VERSION = 4;

const keyOf = (sourceHash: string, layout: LayoutOptions, plan: BakePlan) =>
  createHash('sha256')
    .update(JSON.stringify([TRANSPORT_VERSION, sourceHash, layout, plan]))
    .digest('hex');

/**
 * Asks for a bake of the project's newest rig. Where an equal one is done, that one is brought to the front instead.
 * Throws a `conflict` {@link Failure} while another bake of the project is at work.
 *
 * @returns the bake, and whether it still has to be done
 */
export async function requestBake(db: Db, projectId: string): Promise<{ id: string; fresh: boolean }> {
  const { revision, rig } = await latestRig(db, projectId);
  const level = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select(['levels.id', 'levels.source_hash'])
    .where('projects.id', '=', projectId)
    .executeTakeFirstOrThrow();
  const plan = planBake(rig);
  const layout = layoutOf(rig.bake);
  const key = keyOf(level.source_hash, layout, plan);
  const equal = await db
    .selectFrom('bakes')
    .select(['id', 'level_id'])
    .where('project_id', '=', projectId)
    .where('key', '=', key)
    .where('state', '=', 'done')
    .executeTakeFirst();
  if (equal) {
    await db.updateTable('bakes').set({ finished_at: new Date() }).where('id', '=', equal.id).execute();
    await showLevel(db, projectId, equal.level_id);
    return { id: equal.id, fresh: false };
  }
  const id = randomUUID();
  const inserted = await db
    .insertInto('bakes')
    .values({
      id,
      project_id: projectId,
      level_id: level.id,
      rig_revision: revision,
      key,
      layout: JSON.stringify(layout),
      plan: JSON.stringify(plan),
      state: 'planning',
      error: null,
      started_at: null,
      finished_at: null,
    })
    .onConflict((c) => c.doNothing())
    .executeTakeFirst();
  if (inserted.numInsertedOrUpdatedRows === 0n) {
    throw new Failure('conflict', 'A bake of this project is at work already.', 'Wait for it, or cancel it.');
  }
  return { id, fresh: true };
}

/** The bake at work, if any, and the newest finished one of the project's present level. */
export async function bakesOf(db: Db, projectId: string): Promise<BakesView> {
  const level = await db.selectFrom('projects').select('level_id').where('id', '=', projectId).executeTakeFirst();
  if (!level?.level_id) throw new Failure('not-found', 'There is no such project.', 'Go back to the shelf.');
  const bakes = db.selectFrom('bakes').select(['id', 'state']).where('project_id', '=', projectId).limit(1);
  const [atWork, done, last] = await Promise.all([
    bakes.where('state', 'in', AT_WORK).executeTakeFirst(),
    bakes.where('level_id', '=', level.level_id).where('state', '=', 'done').orderBy('finished_at', 'desc').executeTakeFirst(),
    bakes.orderBy('created_at', 'desc').executeTakeFirst(),
  ]);
  const view = async (row: { id: string } | undefined) => (row ? viewBake(db, row.id) : null);
  const [a, d, l] = await Promise.all([view(atWork), view(done), view(last)]);
  return { atWork: a, done: d, failed: l?.state === 'failed' ? l : null };
}

async function viewBake(db: Db, id: string): Promise<BakeView> {
  const bake = await db.selectFrom('bakes').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
  const stems = await db.selectFrom('stems').select(['hash', 'width', 'height']).where('bake_id', '=', id).orderBy('map').execute();
  const jobs = await db
    .selectFrom('bake_jobs')
    .select((eb) => [eb.fn.countAll<string>().as('all'), eb.fn.count<string>('result_hash').as('done')])
    .where('bake_id', '=', id)
    .executeTakeFirstOrThrow();
  const share = bake.state === 'done' ? 1 : Number(jobs.all) === 0 ? 0 : Number(jobs.done) / Number(jobs.all);
  const elapsed = bake.started_at ? (Date.now() - bake.started_at.getTime()) / 1000 : 0;
  return {
    id,
    levelId: bake.level_id,
    state: bake.state,
    error: bake.error,
    share,
    secondsLeft: bake.state === 'running' && share > 0 ? (elapsed * (1 - share)) / share : null,
    plan: bake.plan,
    layout: bake.layout,
    maps: stems,
  };
}

/** Stops a bake; what it had gathered is freed. A bake that is done stays done. */
export async function cancelBake(db: Db, id: string): Promise<void> {
  await endBake(db, id, 'cancelled', null);
}

/** Ends a bake that is at work, and frees what its jobs had gathered. */
export async function endBake(db: Db, id: string, state: 'cancelled' | 'failed', error: string | null): Promise<void> {
  const { numUpdatedRows } = await db
    .updateTable('bakes')
    .set({ state, error, finished_at: new Date() })
    .where('id', '=', id)
    .where('state', 'in', AT_WORK)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) return;
  await freeGathered(db, id);
  const { project_id } = await db.selectFrom('bakes').select('project_id').where('id', '=', id).executeTakeFirstOrThrow();
  await freeUnusedLevels(db, project_id);
}

/** Lets go of the jobs of a bake and of what they had gathered. */
async function freeGathered(db: Db, id: string): Promise<void> {
  const rows = await db.deleteFrom('bake_jobs').where('bake_id', '=', id).returning('result_hash').execute();
  await freeBlobs(
    db,
    rows.map((r) => r.result_hash),
  );
}

/**
 * Ends a bake whose maps are all stored: its level is the one shown from now on, and what went before makes room.
 *
 * @returns false where it was cancelled meanwhile
 */
export async function completeBake(
  db: Db,
  { id, projectId, levelId }: { id: string; projectId: string; levelId: string },
): Promise<boolean> {
  const { numUpdatedRows } = await db
    .updateTable('bakes')
    .set({ state: 'done', finished_at: new Date() })
    .where('id', '=', id)
    .where('state', '=', 'finishing')
    .executeTakeFirst();
  if (numUpdatedRows === 0n) return false;
  await showLevel(db, projectId, levelId);
  await freeGathered(db, id);
  await freeOldBakes(db, projectId);
  await freeUnusedLevels(db, projectId);
  return true;
}

/** Deletes all but the newest finished bakes of a project. */
async function freeOldBakes(db: Db, projectId: string): Promise<void> {
  const old = await db
    .selectFrom('bakes')
    .select('id')
    .where('project_id', '=', projectId)
    .where('state', '=', 'done')
    .orderBy('finished_at', 'desc')
    .offset(KEPT_BAKES)
    .execute();
  if (old.length === 0) return;
  const ids = old.map((b) => b.id);
  const stems = await db.selectFrom('stems').select('hash').where('bake_id', 'in', ids).execute();
  await db.deleteFrom('bakes').where('id', 'in', ids).execute();
  await freeBlobs(
    db,
    stems.map((s) => s.hash),
  );
}
