import { checkRig, readRig, type Rig } from '../../core/rig';
import { AS_GLTF, Failure } from '../../core/units';
import type { ProjectCard, ProjectView } from '../../core/api';
import { freeBlobs, lockBlobs, storeBytes, type Db, type Tx } from '../data';

const missing = () => new Failure('not-found', 'There is no such project.', 'It may have been deleted; go back to the shelf.');

/** All projects, the one changed last first. */
export async function listProjects(db: Db): Promise<ProjectCard[]> {
  const rows = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .innerJoin(
      (eb) =>
        eb
          .selectFrom('rig_revisions')
          .select('project_id')
          .distinctOn('project_id')
          .select('rig')
          .orderBy('project_id')
          .orderBy('revision', 'desc')
          .as('latest'),
      (join) => join.onRef('latest.project_id', '=', 'projects.id'),
    )
    .select(['projects.id', 'projects.name', 'projects.changed_at', 'projects.picture_hash', 'levels.summary', 'latest.rig'])
    .orderBy('projects.changed_at', 'desc')
    .execute();
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    changedAt: r.changed_at.toISOString(),
    pictureHash: r.picture_hash,
    triangles: r.summary.triangles,
    cues: r.rig.cues.length,
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
      'levels.layout',
      'levels.summary',
    ])
    .where('projects.id', '=', id)
    .executeTakeFirst();
  if (!row) throw missing();
  const { revision, rig } = await latestRig(db, id);
  return {
    id,
    name: row.name,
    revision,
    rig,
    level: {
      id: row.level_id,
      name: row.level_name,
      hash: row.prepared_hash,
      placing: row.layout.placing ?? AS_GLTF,
      summary: row.summary,
    },
  };
}

/** The newest revision of a project's rig. Throws a `not-found` {@link Failure}. */
export async function latestRig(db: Db | Tx, projectId: string): Promise<{ revision: number; rig: Rig }> {
  const row = await db
    .selectFrom('rig_revisions')
    .select(['revision', 'rig'])
    .where('project_id', '=', projectId)
    .orderBy('revision', 'desc')
    .limit(1)
    .executeTakeFirst();
  if (!row) throw missing();
  return { revision: row.revision, rig: readRig(row.rig) };
}

/** A stored revision of a project's rig. Throws a `not-found` {@link Failure}. */
export async function rigRevision(db: Db, projectId: string, revision: number): Promise<{ revision: number; rig: Rig }> {
  const row = await db
    .selectFrom('rig_revisions')
    .select('rig')
    .where('project_id', '=', projectId)
    .where('revision', '=', revision)
    .executeTakeFirst();
  if (!row) throw new Failure('not-found', `The project has no revision ${revision} of its rig.`, 'Take the newest one.');
  return { revision, rig: readRig(row.rig) };
}

/**
 * Saves a rig as the revision after `base`. When another revision has come in between, nothing is written and a
 * `conflict` {@link Failure} says so; earlier revisions stay whatever happens.
 */
export async function saveRig(db: Db, projectId: string, base: number, document: unknown, note: string): Promise<{ revision: number }> {
  const rig = checkRig(document);
  return db.transaction().execute(async (tx) => {
    const project = await tx.selectFrom('projects').select('id').where('id', '=', projectId).forUpdate().executeTakeFirst();
    if (!project) throw missing();
    const { revision } = await latestRig(tx, projectId);
    if (revision !== base) {
      throw new Failure(
        'conflict',
        `The rig was changed elsewhere: it stands at revision ${revision}, and this change began at ${base}.`,
        'Take that one, or save yours over it; both are kept.',
      );
    }
    await tx
      .insertInto('rig_revisions')
      .values({ project_id: projectId, revision: base + 1, rig: JSON.stringify(rig), note: note.slice(0, 200) })
      .execute();
    await tx.updateTable('projects').set({ changed_at: new Date() }).where('id', '=', projectId).execute();
    return { revision: base + 1 };
  });
}

export async function renameProject(db: Db, id: string, name: string): Promise<void> {
  const { numUpdatedRows } = await db.updateTable('projects').set({ name, changed_at: new Date() }).where('id', '=', id).executeTakeFirst();
  if (numUpdatedRows === 0n) throw missing();
}

/** Deletes a project with all that is its own, and frees what nothing else uses. */
export async function deleteProject(db: Db, id: string): Promise<void> {
  await db.transaction().execute(async (tx) => {
    // Nothing may be stored for the project between the look at what it holds and its end.
    await lockBlobs(tx);
    const held = await blobsOfProject(tx, id);
    const { numDeletedRows } = await tx.deleteFrom('projects').where('id', '=', id).executeTakeFirst();
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
