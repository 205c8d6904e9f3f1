import { sql } from 'kysely';
import { AS_GLTF, Failure, type Placing } from '../../core/units';
import { DELETED_KEPT_DAYS, type ProjectCard, type ProjectView } from '../../core/api';
import { freeBlobs, lockBlobs, storeBytes, type Db, type Tx } from '../data';
import { WORKED_S } from './bakeStates';
import { summaryOf } from './levels';
import { rigAt } from './revisions';

const missing = () => new Failure('not-found', 'There is no such project.', 'It may have been deleted; go back to the shelf.');

/** All projects that are not deleted, the one changed last first. */
export const listProjects = (db: Db): Promise<ProjectCard[]> => cards(db, false);

/** Those that are deleted and can be taken back. */
export const deletedProjects = (db: Db): Promise<ProjectCard[]> => cards(db, true);

async function cards(db: Db, deleted: boolean): Promise<ProjectCard[]> {
  const rows = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select([
      'projects.id',
      'projects.name',
      'projects.changed_at',
      'projects.deleted_at',
      'projects.picture_hash',
      sql<number>`(levels.summary->>'triangles')::int`.as('triangles'),
      // Of the newest rig, which is whole, without its being read.
      sql<number>`(select jsonb_array_length(rig->'cues') from rig_revisions
        where project_id = projects.id order by revision desc limit 1)`.as('cues'),
    ])
    .where('projects.deleted_at', deleted ? 'is not' : 'is', null)
    .orderBy('projects.changed_at', 'desc')
    .execute();
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    changedAt: r.changed_at.toISOString(),
    deletedAt: r.deleted_at?.toISOString() ?? null,
    pictureHash: r.picture_hash,
    triangles: r.triangles,
    cues: r.cues,
  }));
}

/** Throws a `not-found` {@link Failure}. */
export async function openProject(db: Db, id: string): Promise<ProjectView> {
  const row = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select([
      'projects.name',
      'levels.id as level_id',
      'levels.name as level_name',
      'levels.prepared_hash',
      sql<Placing | null>`levels.layout->'placing'`.as('placing'),
      sql<number>`(select max(revision) from rig_revisions where project_id = projects.id)`.as('revision'),
    ])
    .where('projects.id', '=', id)
    .where('projects.deleted_at', 'is', null)
    .executeTakeFirst();
  if (!row) throw missing();
  const [rig, summary] = await Promise.all([rigAt(db, id, row.revision), summaryOf(db, row.level_id)]);
  return {
    id,
    name: row.name,
    revision: row.revision,
    rig,
    level: { id: row.level_id, name: row.level_name, hash: row.prepared_hash, placing: row.placing ?? AS_GLTF, summary },
  };
}

/** Whether there is a project of that id, and it is not deleted. */
export const isOnShelf = async (db: Db, id: string): Promise<boolean> =>
  (await db.selectFrom('projects').select('id').where('id', '=', id).where('deleted_at', 'is', null).executeTakeFirst()) !== undefined;

export async function renameProject(db: Db, id: string, name: string): Promise<void> {
  const { numUpdatedRows } = await db.updateTable('projects').set({ name, changed_at: new Date() }).where('id', '=', id).executeTakeFirst();
  if (numUpdatedRows === 0n) throw missing();
}

/** Takes a project off the shelf, and stops what is worked on for it. It can be taken back for {@link DELETED_KEPT_DAYS} days. */
export async function deleteProject(db: Db, id: string): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { numUpdatedRows } = await tx
      .updateTable('projects')
      .set({ deleted_at: new Date() })
      .where('id', '=', id)
      .where('deleted_at', 'is', null)
      .executeTakeFirst();
    if (numUpdatedRows === 0n) throw missing();
    await tx
      .updateTable('bakes')
      .set({ state: 'paused', worked_s: WORKED_S })
      .where('project_id', '=', id)
      .where('state', '=', 'running')
      .execute();
  });
}

/** Puts a deleted project back on the shelf. Throws a `not-found` {@link Failure} where it is gone for good. */
export async function takeProjectBack(db: Db, id: string): Promise<void> {
  const { numUpdatedRows } = await db.updateTable('projects').set({ deleted_at: null }).where('id', '=', id).executeTakeFirst();
  if (numUpdatedRows === 0n) throw missing();
}

/** Deletes for good the projects that were deleted so long ago that they cannot be taken back; answers how many. */
export async function purgeProjects(db: Db): Promise<number> {
  const old = await db
    .selectFrom('projects')
    .select('id')
    .where('deleted_at', '<', sql<Date>`now() - make_interval(days => ${DELETED_KEPT_DAYS})`)
    .execute();
  for (const { id } of old) await eraseProject(db, id);
  return old.length;
}

/** Deletes a project that is off the shelf for good, with all that is its own, and frees what nothing else uses. */
export async function eraseProject(db: Db, id: string): Promise<void> {
  await db.transaction().execute(async (tx) => {
    // Nothing may be stored for the project between the look at what it holds and its end.
    await lockBlobs(tx);
    const held = await blobsOfProject(tx, id);
    const { numDeletedRows } = await tx.deleteFrom('projects').where('id', '=', id).where('deleted_at', 'is not', null).executeTakeFirst();
    if (numDeletedRows === 0n) throw missing();
    await freeBlobs(tx, held);
  });
}

async function blobsOfProject(db: Tx, id: string): Promise<(string | null)[]> {
  const [project, levels, intakes, jobs, stems, models, skies] = await Promise.all([
    db.selectFrom('projects').select('picture_hash').where('id', '=', id).execute(),
    db.selectFrom('levels').select(['source_hash', 'prepared_hash']).where('project_id', '=', id).execute(),
    db
      .selectFrom('intakes')
      .select('source_hash')
      .where((eb) => eb.or([eb('project_id', '=', id), eb('into_project_id', '=', id)]))
      .execute(),
    db
      .selectFrom('bake_jobs')
      .innerJoin('bakes', 'bakes.id', 'bake_jobs.bake_id')
      .select('result_hash')
      .where('project_id', '=', id)
      .execute(),
    db.selectFrom('stems').innerJoin('bakes', 'bakes.id', 'stems.bake_id').select('hash').where('project_id', '=', id).execute(),
    db.selectFrom('models').select('hash').where('project_id', '=', id).execute(),
    db.selectFrom('sky_images').selectAll().where('project_id', '=', id).execute(),
  ]);
  return [
    ...project.map((p) => p.picture_hash),
    ...levels.flatMap((l) => [l.source_hash, l.prepared_hash]),
    ...intakes.map((i) => i.source_hash),
    ...jobs.map((j) => j.result_hash),
    ...stems.map((s) => s.hash),
    ...models.map((m) => m.hash),
    ...skies.flatMap((s) => [s.source_hash, s.whole_hash, s.rest_hash, s.before_hash, s.after_hash]),
  ];
}

/** Makes a PNG the project's picture on the shelf; nothing stays of it where the project was deleted meanwhile. */
export async function setPicture(db: Db, projectId: string, png: Uint8Array): Promise<void> {
  const held = await storeBytes(db, png, async (tx, hash) => {
    const before = await tx.selectFrom('projects').select('picture_hash').where('id', '=', projectId).executeTakeFirst();
    await tx.updateTable('projects').set({ picture_hash: hash }).where('id', '=', projectId).execute();
    return [before?.picture_hash ?? null, hash];
  });
  await freeBlobs(db, held);
}
