import { STEP_SHARES, tracedParts, type PlannedTile } from '../../core/bake';
import { sql, type Selectable } from 'kysely';
import type { BakeNow, BakeParts, BakesNow, BakesView, BakeView, StoredBand, StoredMap } from '../../core/api';
import type { LevelSummary } from '../../core/level';
import { Failure } from '../../core/units';
import type { BakeTable, Db, Tx } from '../data';
import { AT_WORK } from './bakeStates';
import { livingWorkers } from './workers';

/** How the bakes of a project stand: the one at work, the newest that is done of its present level, and the last where that failed. */
export async function bakesNow(db: Db, projectId: string): Promise<BakesNow> {
  const [project, rows] = await Promise.all([
    db
      .selectFrom('projects')
      .select(['level_id', 'keep_baking', livingWorkers.as('workers')])
      .where('id', '=', projectId)
      .executeTakeFirst(),
    db
      .selectFrom('bakes')
      .select(['id', 'level_id', 'state', 'step', 'error', 'worked_s', 'started_at', 'finished_at', 'created_at', 'early', 'by_itself'])
      .select(['opens_of', 'open'])
      .where('project_id', '=', projectId)
      .orderBy('created_at', 'desc')
      .execute(),
  ]);
  if (!project?.level_id) throw new Failure('not-found', 'There is no such project.', 'Go back to the shelf.');
  const atWork = rows.find((r) => AT_WORK.includes(r.state));
  const done = rows
    .filter((r) => r.level_id === project.level_id && r.state === 'done' && r.opens_of === null)
    .sort((a, b) => b.finished_at!.getTime() - a.finished_at!.getTime())[0];
  const last = rows[0]?.state === 'failed' ? rows[0] : undefined;
  const now = (row: (typeof rows)[number] | undefined) => (row ? bakeNow(db, row) : null);
  const over = rows.filter((r) => done && r.opens_of === done.id && r.state === 'done');
  const [a, d, f, opened] = await Promise.all([now(atWork), now(done), now(last), Promise.all(over.map((r) => bakeNow(db, r)))]);
  return { atWork: a, done: d, failed: f, opened, workers: Number(project.workers), keepsBaking: project.keep_baking };
}

type BakeRow = Pick<
  Selectable<BakeTable>,
  'id' | 'level_id' | 'state' | 'step' | 'error' | 'worked_s' | 'started_at' | 'early' | 'by_itself' | 'open'
>;

async function bakeNow(db: Db, bake: BakeRow): Promise<BakeNow> {
  const { id, level_id: levelId, state, step, error, early, by_itself: byItself, open } = bake;
  const about = { id, levelId, state, step, error, early, byItself, open };
  if (state === 'done') return { ...about, kept: 0, share: 1, secondsLeft: null, hasLook: true, bandCount: { done: 0, all: 0 } };
  const [steps, look] = await Promise.all([
    db
      .selectFrom('bake_jobs')
      .select((eb) => [
        'step',
        eb.fn.countAll<string>().as('all'),
        eb.fn.count<string>(sql`case when done then 1 end`).as('done'),
        eb.fn.sum<number>('share').as('begun'),
      ])
      .where('bake_id', '=', id)
      .groupBy('step')
      .execute(),
    db.selectFrom('stems').select('map').where('bake_id', '=', id).where('coarse', '=', true).limit(1).executeTakeFirst(),
  ]);
  const share = steps.reduce(
    (sum, s) => sum + (STEP_SHARES[s.step] * (Number(s.done) + Number(s.begun ?? 0))) / Math.max(1, Number(s.all)),
    0,
  );
  const elapsed = bake.worked_s + (bake.started_at && state !== 'paused' ? (Date.now() - bake.started_at.getTime()) / 1000 : 0);
  return {
    ...about,
    kept: steps.reduce((sum, s) => sum + Number(s.done), 0),
    share,
    secondsLeft: (state === 'running' || state === 'finishing') && share > 0.02 ? (elapsed * (1 - share)) / share : null,
    hasLook: look !== undefined,
    bandCount: countOf(steps.find((s) => s.step === 'denoise')),
  };
}

const countOf = (step: { done: string; all: string } | undefined) => ({ done: Number(step?.done ?? 0), all: Number(step?.all ?? 0) });

/** What a bake holds, and whether that changes no more. Throws a `not-found` {@link Failure}. */
export async function bakeParts(db: Db, id: string): Promise<{ parts: BakeParts; final: boolean }> {
  const bake = await db
    .selectFrom('bakes')
    .innerJoin('levels', 'levels.id', 'bakes.level_id')
    .select(['bakes.state', 'bakes.plan', 'bakes.trace', 'bakes.layout', 'bakes.noise', 'levels.prepared_hash', 'levels.summary'])
    .where('bakes.id', '=', id)
    .executeTakeFirst();
  if (!bake) throw new Failure('not-found', 'There is no such bake.', 'Reload the page.');
  const final = bake.state === 'done';
  const { plan, trace, layout, noise, prepared_hash: levelHash, summary } = bake;
  const maps = await storedMaps(db, id, !final);
  const bands = final || trace.only ? [] : await storedBands(db, id, summary);
  const parts = { levelHash, plan, traced: tracedParts(trace), only: trace.only ?? null, layout, noise, maps, coarse: !final, bands };
  return { parts, final };
}

/** The bands of a bake at work that are denoised. */
async function storedBands(db: Db, bakeId: string, { lightmaps }: LevelSummary): Promise<StoredBand[]> {
  const rows = await db
    .selectFrom('bake_jobs')
    .select(['job', 'result_hash'])
    .where('bake_id', '=', bakeId)
    .where('step', '=', 'denoise')
    .where('result_hash', 'is not', null)
    .orderBy('position')
    .execute();
  return rows.map(({ job, result_hash }) => {
    const { map, top, bottom, texels } = job as PlannedTile;
    const { width, height } = lightmaps.maps[map]!;
    return { map, width, height, top, bottom, texels, hash: result_hash! };
  });
}

/** {@link bakesNow} with what each of them holds, all as it stood at one moment: a bake may be gone the next. */
export async function bakesOf(db: Db, projectId: string): Promise<BakesView> {
  return db
    .transaction()
    .setIsolationLevel('repeatable read')
    .setAccessMode('read only')
    .execute(async (tx) => {
      const now = await bakesNow(tx, projectId);
      const whole = async (bake: BakeNow): Promise<BakeView> => ({ ...bake, ...(await bakeParts(tx, bake.id)).parts });
      const maybe = async (bake: BakeNow | null) => bake && whole(bake);
      const [atWork, done, failed] = [await maybe(now.atWork), await maybe(now.done), await maybe(now.failed)];
      return { ...now, atWork, done, failed, opened: await Promise.all(now.opened.map(whole)) };
    });
}

/** Where the stems of a bake lie, map by map. */
export async function storedMaps(db: Db | Tx, bakeId: string, coarse = false): Promise<StoredMap[]> {
  const rows = await db
    .selectFrom('stems')
    .select(['map', 'part', 'width', 'height', 'hash'])
    .where('bake_id', '=', bakeId)
    .where('coarse', '=', coarse)
    .orderBy('map')
    .orderBy('part')
    .orderBy('first_layer')
    .execute();
  const maps: StoredMap[] = [];
  for (const { map, part, width, height, hash } of rows) {
    const own = (maps[map] ??= { width, height, cover: '', parts: {} });
    if (part === 'cover') own.cover = hash;
    else (own.parts[part] ??= []).push(hash);
  }
  return maps;
}
