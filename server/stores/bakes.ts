import { createHash, randomUUID } from 'node:crypto';
import { planBake, type BakedSun, type BakePlan } from '../../core/bake';
import { Failure } from '../../core/units';
import { freeBlobs, type BakeState, type Db } from '../data';
import { latestRig } from './projects';

/** Finished bakes of a project that are kept, so that going back to an earlier rig finds its light there. */
const KEPT_BAKES = 4;

const AT_WORK: BakeState[] = ['planning', 'running', 'finishing'];

/** A bake as the studio follows it. */
export interface BakeView {
  id: string;
  levelId: string;
  state: BakeState;
  error: string | null;
  /** Share of the jobs done, 0..1. */
  share: number;
  /** Seconds left by the pace so far; null while nothing is known. */
  secondsLeft: number | null;
  suns: BakedSun[];
  maps: { hash: string; width: number; height: number }[];
}

/** Raised where a change of the transport makes new bakes differ from equal ones stored before. */
const TRANSPORT_VERSION = 1;

const keyOf = (preparedHash: string, plan: BakePlan) =>
  createHash('sha256')
    .update(JSON.stringify([TRANSPORT_VERSION, preparedHash, plan]))
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
    .select(['levels.id', 'levels.prepared_hash'])
    .where('projects.id', '=', projectId)
    .executeTakeFirstOrThrow();
  const plan = planBake(rig);
  const key = keyOf(level.prepared_hash, plan);
  const equal = await db
    .selectFrom('bakes')
    .select('id')
    .where('project_id', '=', projectId)
    .where('level_id', '=', level.id)
    .where('key', '=', key)
    .where('state', '=', 'done')
    .executeTakeFirst();
  if (equal) {
    await db.updateTable('bakes').set({ finished_at: new Date() }).where('id', '=', equal.id).execute();
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
      plan: JSON.stringify(plan),
      state: 'planning',
      error: null,
      started_at: null,
      finished_at: null,
    })
    .onConflict((c) => c.doNothing())
    .executeTakeFirst();
  if (inserted.numInsertedOrUpdatedRows === 0n)
    throw new Failure('conflict', 'A bake of this project is at work already.', 'Wait for it, or cancel it.');
  return { id, fresh: true };
}

/** The bake at work, if any, and the newest finished one of the project's present level. */
export async function bakesOf(
  db: Db,
  projectId: string,
): Promise<{ atWork: BakeView | null; done: BakeView | null; failed: BakeView | null }> {
  const level = await db.selectFrom('projects').select('level_id').where('id', '=', projectId).executeTakeFirst();
  if (!level?.level_id) throw new Failure('not-found', 'There is no such project.', 'Go back to the shelf.');
  const newest = (states: BakeState[], order: 'finished_at' | 'created_at') =>
    db
      .selectFrom('bakes')
      .select('id')
      .where('project_id', '=', projectId)
      .where('level_id', '=', level.level_id!)
      .where('state', 'in', states)
      .orderBy(order, 'desc')
      .limit(1)
      .executeTakeFirst();
  const [atWork, done, last] = await Promise.all([
    newest(AT_WORK, 'created_at'),
    newest(['done'], 'finished_at'),
    newest([...AT_WORK, 'done', 'failed', 'cancelled'], 'created_at'),
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
    suns: bake.plan.suns,
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
  if (numUpdatedRows > 0n) await freeGathered(db, id);
}

/** Lets go of the jobs of a bake and of what they had gathered. */
export async function freeGathered(db: Db, id: string): Promise<void> {
  const rows = await db.deleteFrom('bake_jobs').where('bake_id', '=', id).returning('result_hash').execute();
  await freeBlobs(
    db,
    rows.map((r) => r.result_hash),
  );
}

/** Deletes all but the newest finished bakes of a project. */
export async function freeOldBakes(db: Db, projectId: string): Promise<void> {
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
