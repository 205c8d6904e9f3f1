import { randomUUID } from 'node:crypto';
import type { LayoutOptions, LevelSummary } from '../../core/level';
import { checkRig, defaultRig, type Rig } from '../../core/rig';
import { freeBlobs, type Db, type Tx } from '../data';

/** A level as it was read, laid out and stored. */
export interface NewLevel {
  name: string;
  sourceHash: string;
  preparedHash: string;
  layout: LayoutOptions;
  summary: LevelSummary;
}

/** Stores a level of a project, without making it the one that is shown. */
export async function insertLevel(tx: Tx, projectId: string, level: NewLevel): Promise<{ id: string }> {
  const id = randomUUID();
  await tx
    .insertInto('levels')
    .values({
      id,
      project_id: projectId,
      name: level.name,
      source_hash: level.sourceHash,
      prepared_hash: level.preparedHash,
      layout: JSON.stringify(level.layout),
      summary: JSON.stringify(level.summary),
    })
    .execute();
  return { id };
}

/** Adds a level: to a project of its own with a rig to start from, or as the level of an existing project. */
export async function addLevel(
  tx: Tx,
  level: NewLevel,
  into: string | null,
  rig: Rig = defaultRig(),
): Promise<{ projectId: string; levelId: string }> {
  const projectId = into ?? randomUUID();
  if (!into) {
    await tx.insertInto('projects').values({ id: projectId, name: level.name, level_id: null, picture_hash: null }).execute();
    await tx
      .insertInto('rig_revisions')
      .values({ project_id: projectId, revision: 1, rig: JSON.stringify(checkRig(rig)), note: 'New project' })
      .execute();
  }
  const { id } = await insertLevel(tx, projectId, level);
  await showLevel(tx, projectId, id);
  return { projectId, levelId: id };
}

/**
 * Gives a new version of a level the light of the one before, as a bake of its own: what did not change keeps it, the rest has none yet.
 *
 * @param before the level whose newest bake is taken over
 * @param cover hash of an empty cover for each map that the new version has more
 */
export async function keepBake(
  tx: Tx,
  projectId: string,
  {
    before,
    now,
    changed,
    firstMap,
    covers,
  }: { before: string; now: string; changed: string[]; firstMap: number; covers: { hash: string; width: number; height: number }[] },
): Promise<void> {
  const done = await tx
    .selectFrom('bakes')
    .selectAll()
    .where('project_id', '=', projectId)
    .where('level_id', '=', before)
    .where('state', '=', 'done')
    .orderBy('finished_at', 'desc')
    .limit(1)
    .executeTakeFirst();
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
  const columns = ['coarse', 'map', 'part', 'first_layer', 'width', 'height', 'hash'] as const;
  const stems = await tx.selectFrom('stems').select(columns).where('bake_id', '=', done.id).where('coarse', '=', false).execute();
  const added = covers.map(({ hash, width, height }, k) => ({
    coarse: false,
    map: firstMap + k,
    part: 'cover',
    first_layer: 0,
    width,
    height,
    hash,
  }));
  const rows = [...stems, ...added].map((row) => ({ ...row, bake_id: id }));
  if (rows.length > 0) await tx.insertInto('stems').values(rows).execute();
}

/** Makes a stored level the one that a project shows. */
export async function showLevel(db: Db | Tx, projectId: string, levelId: string): Promise<void> {
  await db.updateTable('projects').set({ level_id: levelId, changed_at: new Date() }).where('id', '=', projectId).execute();
}

/** Deletes those levels of a project that are not shown and that no bake of worth lies on. */
export async function freeUnusedLevels(db: Db | Tx, projectId: string): Promise<void> {
  const unused = await db
    .deleteFrom('levels')
    .where('project_id', '=', projectId)
    .where('id', 'not in', (eb) =>
      eb.selectFrom('projects').select('level_id').where('level_id', 'is not', null).$castTo<{ level_id: string }>(),
    )
    .where('id', 'not in', (eb) => eb.selectFrom('bakes').select('level_id').where('state', 'not in', ['cancelled', 'failed']))
    .returning(['source_hash', 'prepared_hash'])
    .execute();
  await freeBlobs(
    db,
    unused.flatMap((l) => [l.source_hash, l.prepared_hash]),
  );
}
