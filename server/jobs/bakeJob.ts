import { sql, type UpdateObject } from 'kysely';
import { OutdatedTiles, byFewestPaths, fitsPlan, inputsOf, planFinish, readyBands, type JobStep, type Tile } from '../../core/bake';
import { changeBlobs, freeBlobs, storeBytes, storeBytesIn, type Database, type Db, type Tx } from '../data';
import { send, type Jobs } from '../queue';
import type { PackedMap } from '../workers';
import { bakeAtWork, levelOf, type BakeAtWork } from './bakeAtWork';
import { bakeResults } from './bakeResults';
import type { JobContext, JobControl } from './jobContext';
import { openJobs, sendReadyBands, storedJobs, type StoredJobs } from './storedJobs';

/** How often the share of a job that is done is noted, milliseconds. */
const NOTE_MS = 1000;

/** Does a job of a bake, unless that is done, and stores what it makes. The last of a step brings the bake on. */
export async function bakeJob(context: JobContext, at: Jobs['bake-job'], { signal }: JobControl): Promise<void> {
  const { db, pool, files, lights } = context;
  const { bakeId, step, position } = at;
  const bake = await bakeAtWork(db, bakeId, ['running', 'finishing']);
  if (!bake) return;
  const stored = await storedJobs(db, bakeId);
  if (!fitsPlan(stored.jobs, bake.trace)) return planAgain(db, bake, stored);
  const job = stored.jobs[step][position];
  if (!job || (await isDone(db, at)) || !canBegin(stored, at)) return;
  // No path is followed any more.
  if (step === 'finish') lights.forget(bakeId);
  const { key, surfaces } = await levelOf(context, bake);
  const results = bakeResults(context, bake, surfaces, stored);
  const inputs = await inputsOf(surfaces, stored.jobs, step, job, results).catch((error: unknown) => {
    if (error instanceof OutdatedTiles) return error;
    throw error;
  });
  if (inputs instanceof OutdatedTiles) return traceAgain(db, bakeId, inputs.tiles);
  const isEarly = bake.early && step === 'gather';
  const isCompact = stored.jobs.compact.length > 0;
  const args = { key, plan: isEarly ? byFewestPaths(bake.trace) : bake.trace, step, job, inputs, isCompact };
  const result = await pool.trace('packedJob', surfaces, args, { progress: noteShare(db, at), signal });
  if (result.kind === 'outdated') return traceAgain(db, bakeId, result.tiles);
  if (result.kind === 'stems') return storePieces(db, at, result.map, 'map' in job ? job.map : stored.jobs.compact[0]!.map);
  const { bytes, texels, noise } = result;
  const hash = await storeBytes(db, bytes, async (tx, result_hash) => {
    const about = JSON.stringify({ texels, ...(isEarly ? { early: true } : {}) });
    const job = sql<string>`job || ${about}::jsonb`;
    await endJob(tx, at, { result_hash, job, noise: noise && JSON.stringify(noise) });
    // What was cancelled meanwhile has no row that holds on to them.
    await freeBlobs(tx, [result_hash]);
    return result_hash;
  });
  if (step !== 'denoise' && step !== 'finish') files.keep(hash, bytes);
}

/** The steps all of whose jobs are done before a job of a step begins. */
const BEFORE: Readonly<Record<JobStep, readonly JobStep[]>> = {
  direct: [],
  bounce: ['direct'],
  gather: ['direct', 'bounce'],
  denoise: ['direct'],
  finish: ['denoise'],
  tables: ['finish'],
  compact: ['finish'],
};

/** Whether what a job starts from is there. What had to be traced again meanwhile is not; then it is sent once more when its step is come to. */
const canBegin = ({ jobs, hashes }: StoredJobs, { step, position }: Jobs['bake-job']): boolean =>
  BEFORE[step].every((before) => !hashes[before].includes(null)) &&
  (step !== 'denoise' || readyBands(jobs, (tile) => hashes.gather[tile] !== null).includes(position));

async function isDone(db: Db, { bakeId, step, position }: Jobs['bake-job']): Promise<boolean> {
  const row = await db
    .selectFrom('bake_jobs')
    .select('done')
    .where('bake_id', '=', bakeId)
    .where('step', '=', step)
    .where('position', '=', position)
    .executeTakeFirst();
  return row?.done !== false;
}

/** Notes the share of a job that is done, now and then. */
function noteShare(db: Db, { bakeId, step, position }: Jobs['bake-job']): (share: number) => void {
  let noted = Date.now();
  return (share) => {
    if (Date.now() - noted < NOTE_MS) return;
    noted = Date.now();
    void db
      .updateTable('bake_jobs')
      .set({ share })
      .where('bake_id', '=', bakeId)
      .where('step', '=', step)
      .where('position', '=', position)
      .where('done', '=', false)
      .execute()
      .catch(() => undefined);
  };
}

/** Marks a job as done, and has the bake brought on where it was the last of its step. */
async function endJob(tx: Tx, { bakeId, step, position }: Jobs['bake-job'], made: UpdateObject<Database, 'bake_jobs'>): Promise<boolean> {
  // One after another, so that one of those that end at once finds that it is the last.
  const bake = await tx.selectFrom('bakes').select('id').where('id', '=', bakeId).forUpdate().executeTakeFirst();
  const { numUpdatedRows } = await tx
    .updateTable('bake_jobs')
    .set({ ...made, done: true, share: 0 })
    .where('bake_id', '=', bakeId)
    .where('step', '=', step)
    .where('position', '=', position)
    .executeTakeFirst();
  if (!bake || numUpdatedRows === 0n) return false;
  const open = await openJobs(tx, bakeId, step);
  if (open.length === 0) await send(tx, 'bake-advance', [{ bakeId }]);
  else if (step === 'gather') await sendReadyBands(tx, bakeId);
  return true;
}

/** Stores finished pieces of the stems of a lightmap; what is stored already is replaced. */
async function storePieces(db: Db, at: Jobs['bake-job'], packed: PackedMap, map: number): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const hashes = await storeMap(tx, at.bakeId, map, packed, false);
    // What was cancelled meanwhile lets go of it.
    if (await endJob(tx, at, {})) return;
    await tx.deleteFrom('stems').where('bake_id', '=', at.bakeId).where('hash', 'in', hashes).execute();
    await freeBlobs(tx, hashes);
  });
}

/** Stores the files of some stems of a lightmap; answers their hashes. */
export async function storeMap(tx: Tx, bakeId: string, map: number, packed: PackedMap, coarse: boolean): Promise<string[]> {
  const { width, height, cover, pieces } = packed;
  const hashes: string[] = [];
  for (const { key, first, bytes } of [...(cover ? [{ key: 'cover', first: 0, bytes: cover }] : []), ...pieces]) {
    const hash = await storeBytesIn(tx, bytes);
    await tx
      .insertInto('stems')
      .values({ bake_id: bakeId, coarse, map, part: key, first_layer: first, width, height, hash })
      .onConflict((c) => c.columns(['bake_id', 'coarse', 'map', 'part', 'first_layer']).doUpdateSet({ hash }))
      .execute();
    hashes.push(hash);
  }
  return hashes;
}

/** What is done again where the layers of a bake are others. */
const REDONE: JobStep[] = ['bounce', 'gather', 'denoise', 'tables', 'compact'];

/**
 * Has everything but the direct light done again, in jobs of this version, where an earlier one planned a bake by other layers, and brings the bake
 * back to that.
 */
async function planAgain(db: Db, { id, trace }: BakeAtWork, { jobs }: StoredJobs): Promise<void> {
  await changeBlobs(db, async (tx) => {
    await tx.selectFrom('bakes').select('id').where('id', '=', id).forUpdate().execute();
    const undone = await tx.selectFrom('bake_jobs').select('result_hash').where('bake_id', '=', id).where('step', 'in', REDONE).execute();
    await tx
      .updateTable('bake_jobs')
      .set({ done: false, share: 0, result_hash: null, noise: null })
      .where('bake_id', '=', id)
      .where('step', 'in', REDONE)
      .execute();
    await tx.deleteFrom('bake_jobs').where('bake_id', '=', id).where('step', '=', 'finish').execute();
    await tx
      .insertInto('bake_jobs')
      .values(
        planFinish(trace, jobs.denoise).map((job, position) => ({
          bake_id: id,
          step: 'finish' as const,
          position,
          job: JSON.stringify(job),
          result_hash: null,
          noise: null,
        })),
      )
      .execute();
    const stems = await tx.deleteFrom('stems').where('bake_id', '=', id).where('coarse', '=', false).returning('hash').execute();
    await freeBlobs(tx, [...undone.map((j) => j.result_hash), ...stems.map((s) => s.hash)]);
    await send(tx, 'bake-advance', [{ bakeId: id }]);
  });
}

/**
 * Has tiles traced again that an earlier version traced by other texels than the level's, and the bounced light found again, and brings the bake back
 * to that step.
 */
async function traceAgain(db: Db, bakeId: string, tiles: Tile[]): Promise<void> {
  await changeBlobs(db, async (tx) => {
    await tx.selectFrom('bakes').select('id').where('id', '=', bakeId).forUpdate().execute();
    const jobs = tx.selectFrom('bake_jobs').select(['step', 'position', 'result_hash']).where('bake_id', '=', bakeId);
    // The bounced light names the places of the direct light by their numbers.
    const undone = await jobs.where('step', '=', 'bounce').execute();
    for (const { map, top } of tiles)
      undone.push(
        ...(await jobs
          .where('step', 'in', ['direct', 'gather'])
          .where(sql<boolean>`(job->>'map')::int = ${map} and (job->>'top')::int = ${top}`)
          .execute()),
      );
    for (const { step, position } of undone)
      await tx
        .updateTable('bake_jobs')
        .set({ done: false, result_hash: null, noise: null })
        .where('bake_id', '=', bakeId)
        .where('step', '=', step)
        .where('position', '=', position)
        .execute();
    await freeBlobs(
      tx,
      undone.map((j) => j.result_hash),
    );
    await send(tx, 'bake-advance', [{ bakeId }]);
  });
}
