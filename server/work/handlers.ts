import { createHash, randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import type PgBoss from 'pg-boss';
import { planTiles, type BakePlan, type TileStems } from '../../core/bake';
import type { Surfaces } from '../../core/level';
import { defaultRig, modelsOf, readRig, resolveCue, type Rig, type StandingModel } from '../../core/rig';
import { Failure } from '../../core/units';
import { freeBlobs, readBlob, storeBlob, streamOf, type Db } from '../data';
import {
  MAX_MODEL_TRIANGLES,
  addLevel,
  bakesOf,
  completeBake,
  endBake,
  failIntake,
  failSkyImage,
  fillSkyImage,
  insertLevel,
  latestRig,
  layoutOf,
  noteIntakeShare,
  readModel,
  requestBake,
  setPicture,
} from '../stores';
import { standModels } from '../standModels';
import type { ThreadPool } from '../threads';
import { send, sendAll, type Jobs, type QueueName } from './queue';
import { packTile, unpackTile } from './tileFormat';

/** What a handler works with. */
export interface Shop {
  db: Db;
  boss: PgBoss;
  pool: ThreadPool;
  /** The level that was baked last, flattened. */
  levels: LevelCache;
}

/** A level to trace, and a key that tells it from others. */
interface Traced {
  key: string;
  surfaces: Surfaces;
}

/** Keeps the flattened form of the level at work, so that its tiles do not each read it again. */
export class LevelCache {
  private readonly held = new Map<string, Promise<Traced>>();

  constructor(
    private readonly db: Db,
    private readonly pool: ThreadPool,
  ) {}

  /** A prepared level with the models of its project's fixtures in it. */
  traced(hash: string, projectId: string, models: StandingModel[]): Promise<Traced> {
    const key =
      models.length === 0
        ? hash
        : createHash('sha256')
            .update(JSON.stringify([hash, projectId, models]))
            .digest('hex');
    let entry = this.held.get(key);
    if (!entry) {
      this.held.clear();
      entry = this.read(hash, projectId, models).then((surfaces) => ({ key, surfaces }));
      // A failure is not kept: the next job tries again.
      entry.catch(() => this.held.delete(key));
      this.held.set(key, entry);
    }
    return entry;
  }

  private async read(hash: string, projectId: string, models: StandingModel[]): Promise<Surfaces> {
    const flat = async (glb: Uint8Array) => (await this.pool.run('flatten', { glb, paths: 1 })).surfaces;
    const level = await flat(await readBlob(this.db, hash));
    const files = new Map<string, Surfaces>();
    for (const { source } of models) {
      if (source.from === 'file' && !files.has(source.modelId))
        files.set(source.modelId, await flat(await readModel(this.db, projectId, source.modelId)));
    }
    return standModels(level, models, files);
  }
}

/** The rig that says how a level is laid out: its project's, or the one that a new project starts with. */
async function rigFor(db: Db, into: string | null, rigText: string | null): Promise<Rig> {
  if (into) return (await latestRig(db, into)).rig;
  return rigText ? readRig(JSON.parse(rigText)) : defaultRig();
}

/** Name of the setting that holds the rig a given intake's project starts with (the demo's). */
export const rigSetting = (intakeId: string) => `rig of intake ${intakeId}`;

async function intake(shop: Shop, { intakeId }: Jobs['intake']): Promise<void> {
  const { db, boss, pool } = shop;
  const row = await db
    .updateTable('intakes')
    .set({ state: 'reading' })
    .where('id', '=', intakeId)
    .where('state', 'in', ['waiting', 'reading'])
    .returningAll()
    .executeTakeFirst();
  if (!row) return;
  try {
    const own = await db.selectFrom('settings').select('value').where('name', '=', rigSetting(intakeId)).executeTakeFirst();
    const rig = await rigFor(db, row.into_project_id, own?.value ?? null);
    const { glb, summary } = await pool.run('prepare', { bytes: await readBlob(db, row.source_hash), options: rig.bake }, (share) => {
      noteIntakeShare(db, intakeId, share).catch(() => undefined);
    });
    if (row.becomes === 'model' && summary.triangles > MAX_MODEL_TRIANGLES) {
      throw new Failure(
        'bad-input',
        `${row.name} has ${summary.triangles} triangles, and the model of a fixture may have ${MAX_MODEL_TRIANGLES}.`,
        'Export a simpler one: copies of it are many.',
      );
    }
    const projectId = await storeBlob(db, streamOf(glb), async (tx, preparedHash) => {
      const still = await tx
        .selectFrom('intakes')
        .select('id')
        .where('id', '=', intakeId)
        .where('state', '=', 'reading')
        .forUpdate()
        .executeTakeFirst();
      if (!still) throw new Failure('cancelled', 'The intake was cancelled.');
      if (row.becomes === 'model') {
        await tx
          .insertInto('models')
          .values({ id: intakeId, project_id: row.into_project_id!, name: row.name, hash: preparedHash, triangles: summary.triangles })
          .execute();
      }
      const level = { name: row.name, sourceHash: row.source_hash, preparedHash, layout: layoutOf(rig.bake), summary };
      const added = row.becomes === 'model' ? { projectId: row.into_project_id! } : await addLevel(tx, level, row.into_project_id, rig);
      await tx
        .updateTable('intakes')
        .set({ state: 'done', project_id: added.projectId, source_hash: row.source_hash })
        .where('id', '=', intakeId)
        .execute();
      await tx.deleteFrom('settings').where('name', '=', rigSetting(intakeId)).execute();
      return added.projectId;
    });
    if (row.becomes === 'level') await send(boss, 'picture', { projectId });
    if (own) await send(boss, 'bake-plan', { bakeId: (await requestBake(db, projectId)).id });
  } catch (error) {
    if (error instanceof Failure && error.code === 'cancelled') return freeBlobs(db, [row.source_hash]);
    if (error instanceof Failure) return failIntake(db, intakeId, error.sentence);
    await failIntake(
      db,
      intakeId,
      `The level could not be read: ${(error as Error).message}. This is a fault of Basil's; the log has more.`,
    );
    throw error;
  }
}

/** A statement takes 65535 values at most. */
const ROWS_AT_ONCE = 5000;

/** Brings the level of a bake to the layout it asks for; answers the hash of the level that it lies on. */
async function layOutForBake({ db, pool }: Shop, bakeId: string): Promise<string> {
  const bake = await db
    .selectFrom('bakes')
    .innerJoin('levels', 'levels.id', 'bakes.level_id')
    .select(['bakes.project_id', 'bakes.layout as wanted', 'levels.layout', 'levels.name', 'levels.source_hash', 'levels.prepared_hash'])
    .where('bakes.id', '=', bakeId)
    .executeTakeFirstOrThrow();
  if (isDeepStrictEqual(bake.layout, bake.wanted)) return bake.prepared_hash;
  const { glb, summary } = await pool.run('prepare', { bytes: await readBlob(db, bake.source_hash), options: bake.wanted });
  return storeBlob(db, streamOf(glb), async (tx, preparedHash) => {
    const level = { name: bake.name, sourceHash: bake.source_hash, preparedHash, layout: bake.wanted, summary };
    const { id } = await insertLevel(tx, bake.project_id, level);
    await tx.updateTable('bakes').set({ level_id: id }).where('id', '=', bakeId).execute();
    return preparedHash;
  });
}

async function planBakeJobs(shop: Shop, { bakeId }: Jobs['bake-plan']): Promise<void> {
  const { db, boss, levels } = shop;
  const bake = await bakeAtWork(db, bakeId, ['planning']);
  if (!bake) return;
  const { surfaces } = await levels.traced(await layOutForBake(shop, bakeId), bake.project_id, bake.plan.models);
  const { tiles } = planTiles(surfaces, bake.plan.paths);
  if (tiles.length === 0)
    return endBake(db, bakeId, 'failed', 'The level has no texels to bake. Raise the texel density, or bring in a level with surfaces.');
  const started = await db.transaction().execute(async (tx) => {
    const { numUpdatedRows } = await tx
      .updateTable('bakes')
      .set({ state: 'running', started_at: new Date() })
      .where('id', '=', bakeId)
      .where('state', '=', 'planning')
      .executeTakeFirst();
    if (numUpdatedRows === 0n) return false;
    const rows = tiles.map((tile, position) => ({ bake_id: bakeId, position, tile: JSON.stringify(tile), result_hash: null }));
    for (let i = 0; i < rows.length; i += ROWS_AT_ONCE) {
      await tx
        .insertInto('bake_jobs')
        .values(rows.slice(i, i + ROWS_AT_ONCE))
        .execute();
    }
    return true;
  });
  if (started) await sendTiles(db, boss, bakeId);
}

/** Sends those jobs of a bake that have no result yet. */
async function sendTiles(db: Db, boss: PgBoss, bakeId: string): Promise<void> {
  const open = await db
    .selectFrom('bake_jobs')
    .select('position')
    .where('bake_id', '=', bakeId)
    .where('result_hash', 'is', null)
    .orderBy('position')
    .execute();
  await sendAll(
    boss,
    'bake-tile',
    open.map(({ position }) => ({ bakeId, position })),
  );
}

async function bakeAtWork(db: Db, bakeId: string, states: ('planning' | 'running' | 'finishing')[]) {
  return db
    .selectFrom('bakes')
    .innerJoin('levels', 'levels.id', 'bakes.level_id')
    .select(['bakes.id', 'bakes.project_id', 'bakes.level_id', 'bakes.plan', 'levels.prepared_hash'])
    .where('bakes.id', '=', bakeId)
    .where('bakes.state', 'in', states)
    .executeTakeFirst();
}

async function bakeTile({ db, boss, pool, levels }: Shop, { bakeId, position }: Jobs['bake-tile']): Promise<void> {
  const bake = await bakeAtWork(db, bakeId, ['running']);
  const job = await db
    .selectFrom('bake_jobs')
    .select(['tile', 'result_hash'])
    .where('bake_id', '=', bakeId)
    .where('position', '=', position)
    .executeTakeFirst();
  if (!bake || !job) return;
  if (!job.result_hash) {
    const { key, surfaces } = await levels.traced(bake.prepared_hash, bake.project_id, bake.plan.models);
    const result = await pool.trace('gather', surfaces, { key, plan: bake.plan, tile: job.tile });
    const hash = await storeBlob(db, streamOf(packTile(result)), async (tx, stored) => {
      await tx
        .updateTable('bake_jobs')
        .set({ result_hash: stored })
        .where('bake_id', '=', bakeId)
        .where('position', '=', position)
        .execute();
      return stored;
    });
    // The bake may have been cancelled meanwhile, and its jobs with it.
    if (!(await bakeAtWork(db, bakeId, ['running']))) return freeBlobs(db, [hash]);
  }
  const open = await db
    .selectFrom('bake_jobs')
    .select('position')
    .where('bake_id', '=', bakeId)
    .where('result_hash', 'is', null)
    .limit(1)
    .executeTakeFirst();
  if (!open) await send(boss, 'bake-finish', { bakeId });
}

async function readTiles(db: Db, bakeId: string, map: number, plan: BakePlan): Promise<TileStems[]> {
  const jobs = await db.selectFrom('bake_jobs').select(['tile', 'result_hash']).where('bake_id', '=', bakeId).orderBy('position').execute();
  const own = jobs.filter((j) => j.tile.map === map);
  return Promise.all(own.map(async ({ tile, result_hash }) => unpackTile(await readBlob(db, result_hash!), tile, plan)));
}

async function finishBake({ db, boss, pool, levels }: Shop, { bakeId }: Jobs['bake-finish']): Promise<void> {
  const bake = await bakeAtWork(db, bakeId, ['running', 'finishing']);
  if (!bake) return;
  await db.updateTable('bakes').set({ state: 'finishing' }).where('id', '=', bakeId).where('state', '=', 'running').execute();
  const { key, surfaces } = await levels.traced(bake.prepared_hash, bake.project_id, bake.plan.models);
  const finish = async (map: number, { width, height }: { width: number; height: number }) => {
    const tiles = await readTiles(db, bakeId, map, bake.plan);
    const packed = await pool.trace('finishPacked', surfaces, { key, plan: bake.plan, map, tiles });
    await storeBlob(db, streamOf(packed), async (tx, hash) => {
      await tx
        .insertInto('stems')
        .values({ bake_id: bakeId, map, width, height, hash })
        .onConflict((c) => c.columns(['bake_id', 'map']).doUpdateSet({ hash }))
        .execute();
    });
  };
  // As many maps at a time as there are threads: each holds all its tiles in memory.
  const waiting = [...surfaces.maps.entries()];
  const next = async (): Promise<void> => {
    for (let one = waiting.shift(); one; one = waiting.shift()) await finish(...one);
  };
  await Promise.all(Array.from({ length: pool.size }, next));
  if (await completeBake(db, { id: bakeId, projectId: bake.project_id, levelId: bake.level_id }))
    await send(boss, 'picture', { projectId: bake.project_id });
}

async function takePicture({ db, pool, levels }: Shop, { projectId }: Jobs['picture']): Promise<void> {
  const project = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select('prepared_hash')
    .where('projects.id', '=', projectId)
    .executeTakeFirst();
  if (!project) return;
  const { rig } = await latestRig(db, projectId);
  const { done } = await bakesOf(db, projectId);
  const { key, surfaces } = await levels.traced(project.prepared_hash, projectId, modelsOf(rig));
  const stems = done && {
    suns: done.plan.suns,
    circuits: done.plan.circuits,
    maps: await Promise.all(done.maps.map((m) => readBlob(db, m.hash))),
  };
  const png = await pool.trace('picture', surfaces, {
    key,
    lighting: resolveCue(rig, rig.cues[0]!),
    vantage: rig.vantage,
    stems,
  });
  await setPicture(db, projectId, png);
}

/** Longest that reading a sky image may take, seconds: a damaged one might never end. */
const SKY_PATIENCE_S = 240;

async function prepareSkyImage({ db, pool }: Shop, { imageId }: Jobs['sky-image']): Promise<void> {
  const row = await db
    .updateTable('sky_images')
    .set({ state: 'reading' })
    .where('id', '=', imageId)
    .where('state', 'in', ['waiting', 'reading'])
    .returningAll()
    .executeTakeFirst();
  if (!row) return;
  const late = new Failure(
    'bad-input',
    `${row.file_name} could not be read within ${SKY_PATIENCE_S} s: it is damaged.`,
    'Fetch or export it again.',
  );
  try {
    const bytes = await readBlob(db, row.source_hash);
    const args = { bytes, name: row.file_name, remedies: row.remedies, options: row.options };
    const { sun, ...made } = await pool.runWithin(SKY_PATIENCE_S, late, 'prepareSky', args);
    await fillSkyImage(db, imageId, { ...made, taken_sun: sun });
  } catch (error) {
    if (error instanceof Failure) return failSkyImage(db, imageId, error.sentence);
    await failSkyImage(
      db,
      imageId,
      `The image could not be read: ${(error as Error).message}. This is a fault of Basil's; the log has more.`,
    );
    throw error;
  }
}

/**
 * Sends again what was asked for but may have no job: a process that died between storing a request and queueing it
 * leaves that behind. A job too many finds nothing to do.
 */
export async function resume({ db, boss }: Shop): Promise<void> {
  const intakes = await db.selectFrom('intakes').select('id').where('state', 'in', ['waiting', 'reading']).execute();
  for (const { id } of intakes) await send(boss, 'intake', { intakeId: id });
  const skies = await db.selectFrom('sky_images').select('id').where('state', 'in', ['waiting', 'reading']).execute();
  for (const { id } of skies) await send(boss, 'sky-image', { imageId: id });
  const bakes = await db.selectFrom('bakes').select(['id', 'state']).where('state', 'in', ['planning', 'running', 'finishing']).execute();
  for (const { id, state } of bakes) {
    if (state === 'planning') await send(boss, 'bake-plan', { bakeId: id });
    else if (state === 'finishing') await send(boss, 'bake-finish', { bakeId: id });
    else await sendTiles(db, boss, id);
  }
}

/** What each queue's jobs do. All may be run again after a worker's death without harm. */
export const handlers: { [Q in QueueName]: (shop: Shop, data: Jobs[Q]) => Promise<void> } = {
  intake,
  'bake-plan': planBakeJobs,
  'bake-tile': bakeTile,
  'bake-finish': finishBake,
  picture: takePicture,
  'sky-image': prepareSkyImage,
};

/** What is told to people when a job was given up: its worker died under it again and again. */
export async function giveUp<Q extends QueueName>(db: Db, queue: Q, data: Jobs[Q], reason: string): Promise<void> {
  if ('bakeId' in data) await endBake(db, data.bakeId, 'failed', reason);
  if ('imageId' in data) await failSkyImage(db, data.imageId, reason);
  if ('intakeId' in data) await failIntake(db, data.intakeId, reason);
}

/** A new worker's name. */
export const newWorkerId = () => randomUUID();
