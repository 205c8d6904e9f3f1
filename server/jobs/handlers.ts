import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import { defaultRig, modelsOf, readRig, resolveCue, type Rig } from '../../core/rig';
import { Failure } from '../../core/units';
import { freeBlobs, readBlob, storeBytes, type Db } from '../data';
import {
  MAX_MODEL_TRIANGLES,
  addLevel,
  bakesOf,
  endBake,
  endLook,
  failIntake,
  failSkyImage,
  fillSkyImage,
  latestRig,
  layoutOf,
  noteIntakeShare,
  requestBake,
  setPicture,
} from '../stores';
import { bakeCoarse, bakeDirect, bakeTile, finishBake, planBakeJobs, sendTiles } from './bakeJobs';
import { send, type Jobs, type QueueName } from '../queue/queue';
import type { Shop } from './jobContext';
import { readStems } from './storedStems';

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
    const projectId = await storeBytes(db, glb, async (tx, preparedHash) => {
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
    maps: await Promise.all(done.maps.map((map) => readStems(db, map))),
  };
  const png = await pool.trace('picture', surfaces, {
    key,
    lighting: resolveCue(rig, rig.cues[0]!),
    vantage: rig.vantage,
    stems,
  });
  await setPicture(db, projectId, png);
}

/** Foresees a bake of a project's newest rig, and looks its level over. */
async function lookAhead({ db, pool, levels }: Shop, { projectId }: Jobs['look']): Promise<void> {
  const project = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select(['levels.source_hash', 'levels.prepared_hash', 'levels.layout', 'levels.summary'])
    .where('projects.id', '=', projectId)
    .executeTakeFirst();
  if (!project) return;
  const { rig } = await latestRig(db, projectId);
  const layout = layoutOf(rig.bake);
  const models = modelsOf(rig);
  try {
    let { summary } = project;
    let { key, surfaces } = await levels.traced(project.prepared_hash, projectId, models);
    if (!isDeepStrictEqual(project.layout, layout)) {
      const prepared = await pool.run('prepare', { bytes: await readBlob(db, project.source_hash), options: layout });
      summary = prepared.summary;
      key = `look ${projectId} ${JSON.stringify(layout)}`;
      ({ surfaces } = await pool.run('flatten', { glb: prepared.glb, paths: 1 }));
    }
    const found = await pool.trace('look', surfaces, { key, rig, summary, threads: pool.size });
    await endLook(db, projectId, { found });
  } catch (error) {
    await endLook(db, projectId, {
      error: error instanceof Failure ? error.sentence : `The level could not be looked over: ${(error as Error).message}.`,
    });
    if (!(error instanceof Failure)) throw error;
  }
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
  'bake-coarse': bakeCoarse,
  'bake-step': ({ db, boss }, { bakeId }) => sendTiles(db, boss, bakeId),
  'bake-direct': bakeDirect,
  'bake-tile': bakeTile,
  'bake-finish': finishBake,
  look: lookAhead,
  picture: takePicture,
  'sky-image': prepareSkyImage,
};

/** What is told to people when a job was given up: its worker died under it again and again. */
export async function giveUp<Q extends QueueName>(db: Db, queue: Q, data: Jobs[Q], reason: string): Promise<void> {
  if (queue === 'look') await endLook(db, (data as Jobs['look']).projectId, { error: reason });
  if ('bakeId' in data) await endBake(db, data.bakeId, 'failed', reason);
  if ('imageId' in data) await failSkyImage(db, data.imageId, reason);
  if ('intakeId' in data) await failIntake(db, data.intakeId, reason);
}

/** A new worker's name. */
export const newWorkerId = () => randomUUID();
