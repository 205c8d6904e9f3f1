import { isDeepStrictEqual } from 'node:util';
import {
  BAKE_STEPS,
  bakeLevel,
  TABLES_KEY,
  compactParts,
  supersededBy,
  bakeNoise,
  finishedEarly,
  jobsOfMaps,
  mapsOfObjects,
  tablesFile,
  tracedParts,
  stemParts,
  type BakeExecutor,
  type BakeNoise,
  type JobStep,
} from '../../core/bake';
import { Failure } from '../../core/units';
import { sql } from 'kysely';
import { readBlob, storeBytes, type Db } from '../data';
import { send, sendInTurns, type Jobs } from '../queue';
import { completeBake, copyStems, insertLevel, requestOpenings, stateOfStep, storedMaps } from '../stores';
import { bakeAtWork, levelOf, type BakeAtWork } from './bakeAtWork';
import type { JobContext, JobControl } from './jobContext';
import { openJobs, sendReadyBands, storedJobs } from './storedJobs';

const LAST_STEP = BAKE_STEPS.at(-1);

/** A statement takes 65535 values at most. */
const ROWS_AT_ONCE = 5000;

/**
 * Brings a bake on: runs the sequence of its steps by an executor for which a step is done when all its jobs are, and which else sends those
 * that are open. It is called when a bake is asked for, and again at the end of each step.
 */
export async function bakeAdvance(context: JobContext, { bakeId }: Jobs['bake-advance'], control: JobControl): Promise<void> {
  const { db, files, lights } = context;
  const done = await bakeLevel(queueExecutor(context, bakeId, control));
  if (!done) return;
  const bake = await bakeAtWork(db, bakeId, ['finishing']);
  if (!bake) return;
  if (bake.trace.partly) await keepParts(db, bake);
  if (bake.open) await keepMaps(db, bake);
  const [noise, early] = await Promise.all([noiseOf(db, bake), earlyShare(db, bakeId)]);
  const earlyPlan = early > 0 ? finishedEarly(bake.plan, bake.trace, early) : null;
  await completeBake(db, { id: bakeId, projectId: bake.project_id, levelId: bake.level_id, noise, earlyPlan });
  files.clear();
  lights.forget(bakeId);
  if (!bake.by_itself) await followOpenings(db, bake.project_id);
}

/** Goes on with what openings affect, unless another bake was asked for meanwhile or the disk is nearly full. */
async function followOpenings(db: Db, projectId: string): Promise<void> {
  try {
    await requestOpenings(db, projectId);
  } catch (error) {
    if (!(error instanceof Failure)) throw error;
  }
}

/** What a bake knows of its noise. */
async function noiseOf(db: Db, { id, trace }: BakeAtWork): Promise<BakeNoise> {
  const rows = await db.selectFrom('bake_jobs').select('noise').where('bake_id', '=', id).where('step', '=', 'gather').execute();
  return bakeNoise(
    trace,
    rows.flatMap((r) => r.noise ?? []),
  );
}

/** Share of a bake's texels whose paths were cut short, as it was to be finished early. */
async function earlyShare(db: Db, bakeId: string): Promise<number> {
  const texels = sql<number>`coalesce((job->>'texels')::int, 0)`;
  const { all, early } = await db
    .selectFrom('bake_jobs')
    .select([
      sql<string>`coalesce(sum(${texels}), 0)`.as('all'),
      sql<string>`coalesce(sum(case when job ? 'early' then ${texels} end), 0)`.as('early'),
    ])
    .where('bake_id', '=', bakeId)
    .where('step', '=', 'gather')
    .executeTakeFirstOrThrow();
  return Number(early) / Math.max(1, Number(all));
}

function queueExecutor(context: JobContext, bakeId: string, control: JobControl): BakeExecutor {
  const { db } = context;
  return {
    async run(step) {
      const bake = await bakeAtWork(db, bakeId, ['planning', 'running', 'finishing']);
      if (!bake) return false;
      if (step === 'plan') return planBakeJobs(context, bake, control);
      return sendOpenJobs(db, bakeId, step);
    },
  };
}

/** Sends the jobs of a step that are neither done nor on their way; answers whether there are none left to do. */
async function sendOpenJobs(db: Db, bakeId: string, step: JobStep): Promise<boolean> {
  return db.transaction().execute(async (tx) => {
    const bake = await tx
      .selectFrom('bakes')
      .select(['state', 'step', 'started_at'])
      .where('id', '=', bakeId)
      .forUpdate()
      .executeTakeFirst();
    if (!bake || !['planning', 'running', 'finishing'].includes(bake.state)) return false;
    const open = await openJobs(tx, bakeId, step);
    // A bake whose last step is done stays at it until it is completed.
    if (open.length === 0 && step !== LAST_STEP) return true;
    const started_at = bake.started_at ?? new Date();
    await tx
      .updateTable('bakes')
      .set({ step, state: stateOfStep(step), started_at })
      .where('id', '=', bakeId)
      .execute();
    if (step === 'gather') await sendReadyBands(tx, bakeId);
    await sendInTurns(tx, bakeId, step, open);
    return open.length === 0;
  });
}

/** Cuts a bake into jobs, unless that is done; always answers true, or throws. */
async function planBakeJobs(context: JobContext, bake: BakeAtWork, { signal }: JobControl): Promise<boolean> {
  const { db, aside } = context;
  const planned = await db.selectFrom('bake_jobs').select('step').distinct().where('bake_id', '=', bake.id).execute();
  if (planned.length > 0) {
    // An earlier version knew of no such step.
    if (!planned.some((r) => r.step === 'bounce')) await addBounceJob(db, bake.id);
    return true;
  }
  const laidOut = { ...bake, prepared_hash: await layOutForBake(context, bake, signal) };
  const only = bake.open ? await holdToAffected(context, laidOut, bake.open, signal) : bake.trace.only;
  if (only?.length === 0) {
    // Nothing has another light without them: all maps are those of the bake below.
    return true;
  }
  const { key, surfaces } = await levelOf(context, laidOut);
  const { partly } = bake.trace;
  if (only && !only.some((name) => surfaces.objects.includes(name)))
    throw new Failure('bad-input', 'None of the objects to bake is in the level.', 'Choose others.');
  if ((partly || only) && !bake.base_id) throw new Failure('conflict', 'The bake that this one builds on is gone.', 'Bake again.');
  // The preview needs no jobs, and begins while they are cut.
  if (!partly && !only) await db.transaction().execute((tx) => send(tx, 'bake-preview', [{ bakeId: bake.id }]));
  const all = await aside.trace('planJobs', surfaces, { key, plan: { ...bake.trace, ...(only ? { only } : {}) } }, { signal });
  const jobs = bake.open && only ? jobsOfMaps(all, mapsOfObjects(surfaces, only)) : all;
  if (jobs.direct.length === 0)
    throw new Failure('bad-input', 'The level has no texels to bake.', 'Raise the texel density, or bring in a level with surfaces.');
  const rows = (Object.keys(jobs) as JobStep[]).flatMap((step) =>
    jobs[step].map((job, position) => ({ bake_id: bake.id, step, position, job: JSON.stringify(job), result_hash: null, noise: null })),
  );
  await db.transaction().execute(async (tx) => {
    const still = await tx.selectFrom('bakes').select(['state', 'eye']).where('id', '=', bake.id).forUpdate().executeTakeFirst();
    if (still?.state !== 'planning') return;
    if (still.eye) await send(tx, 'bake-order', [{ bakeId: bake.id }]);
    for (let i = 0; i < rows.length; i += ROWS_AT_ONCE)
      await tx
        .insertInto('bake_jobs')
        .values(rows.slice(i, i + ROWS_AT_ONCE))
        .onConflict((c) => c.doNothing())
        .execute();
  });
  return true;
}

/** Holds a bake with openings open to the objects that they affect; answers their names. */
async function holdToAffected(
  { db, aside, levels }: JobContext,
  { id, project_id, base_id, prepared_hash, trace }: BakeAtWork,
  names: string[],
  signal: AbortSignal,
): Promise<string[]> {
  const base = await db.selectFrom('bakes').select('plan').where('id', '=', base_id).executeTakeFirst();
  if (!base) throw new Failure('conflict', 'The bake that this one builds on is gone.', 'Bake again.');
  const { key, surfaces } = await levels.traced(prepared_hash, project_id, base.plan);
  const only = await aside.trace('litThrough', surfaces, { key, plan: base.plan, names }, { signal });
  await db
    .updateTable('bakes')
    .set({ trace: JSON.stringify({ ...trace, only }) })
    .where('id', '=', id)
    .where('state', '=', 'planning')
    .execute();
  return only;
}

/** Adds the job that solves the bounced light to those of a bake. */
async function addBounceJob(db: Db, bakeId: string): Promise<void> {
  const { direct } = (await storedJobs(db, bakeId)).jobs;
  const texels = direct.reduce((sum, t) => sum + t.texels, 0);
  const row = { bake_id: bakeId, step: 'bounce' as const, position: 0, job: JSON.stringify({ texels }), result_hash: null, noise: null };
  await db
    .insertInto('bake_jobs')
    .values(row)
    .onConflict((c) => c.doNothing())
    .execute();
}

/** Brings the level of a bake to the layout it asks for; answers the hash of the level that it lies on. */
async function layOutForBake({ db, aside }: JobContext, { id, project_id, layout }: BakeAtWork, signal: AbortSignal): Promise<string> {
  const level = await db
    .selectFrom('bakes')
    .innerJoin('levels', 'levels.id', 'bakes.level_id')
    .select(['levels.layout', 'levels.name', 'levels.source_hash', 'levels.prepared_hash', 'levels.summary'])
    .where('bakes.id', '=', id)
    .executeTakeFirstOrThrow();
  if (isDeepStrictEqual(level.layout, layout)) return level.prepared_hash;
  const prepared = await aside.run('prepare', { bytes: await readBlob(db, level.source_hash), options: layout }, { signal });
  const { glb } = prepared;
  const summary = { ...prepared.summary, opening: level.summary.opening ?? null };
  return storeBytes(db, glb, async (tx, preparedHash) => {
    const added = await insertLevel(tx, project_id, { name: level.name, sourceHash: level.source_hash, preparedHash, layout, summary });
    await tx.updateTable('bakes').set({ level_id: added.id }).where('id', '=', id).execute();
    return preparedHash;
  });
}

/** Takes over those parts of another bake's stems that a bake did not trace itself. */
async function keepParts(db: Db, { id, base_id, plan, trace }: BakeAtWork): Promise<void> {
  const traced = tracedParts(trace);
  const isKept = (key: string) => !traced.includes(key);
  const compact = compactParts(plan).filter((part) => supersededBy(part).every(isKept));
  const kept = [
    ...stemParts(plan)
      .map((p) => p.key)
      .filter(isKept),
    ...compact.map((p) => p.key),
    TABLES_KEY,
  ];
  await copyStems(db, base_id!, id, { parts: kept });
}

/** Takes over the maps of another bake that a bake with openings open has no jobs of, and says of each map which tables it is read by. */
async function keepMaps(db: Db, { id, base_id }: BakeAtWork): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const [own, under] = [await storedMaps(tx, id), await storedMaps(tx, base_id!)];
    const rows = under.flatMap((map, number) => {
      const made = own[number];
      const hash = made ? tablesFile(own, made) : tablesFile(under, map);
      const { width, height } = map;
      return hash ? [{ bake_id: id, coarse: false, map: number, part: TABLES_KEY, first_layer: 0, width, height, hash }] : [];
    });
    await copyStems(tx, base_id!, id, { maps: [...under.keys()].filter((number) => !own[number]) });
    if (rows.length === 0) return;
    await tx
      .insertInto('stems')
      .values(rows)
      .onConflict((c) => c.doNothing())
      .execute();
  });
}
