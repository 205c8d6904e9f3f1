import { randomUUID } from 'node:crypto';
import { sql } from 'kysely';
import { LRUCache } from 'lru-cache';
import type { LayoutOptions, LevelSummary } from '../../core/level';
import { checkRig, defaultRig, type Rig } from '../../core/rig';
import { freeBlobs, type Db, type Tx } from '../data';
import { firstRevision } from './revisions';

/** Summaries of the levels that were asked for last: that of a level never changes. */
const summaries = new LRUCache<string, LevelSummary>({ max: 64 });

/** What a stored level holds. Throws where there is none. */
export async function summaryOf(db: Db, levelId: string): Promise<LevelSummary> {
  const known = summaries.get(levelId);
  if (known) return known;
  const { summary } = await db.selectFrom('levels').select('summary').where('id', '=', levelId).executeTakeFirstOrThrow();
  summaries.set(levelId, summary);
  return summary;
}

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
    await firstRevision(tx, projectId, checkRig(rig));
  }
  const { id } = await insertLevel(tx, projectId, level);
  await showLevel(tx, projectId, id);
  return { projectId, levelId: id };
}

/** Makes a stored level the one that a project shows. */
export async function showLevel(db: Db | Tx, projectId: string, levelId: string): Promise<void> {
  await db.updateTable('projects').set({ level_id: levelId, changed_at: new Date() }).where('id', '=', projectId).execute();
}

/** Deletes those levels of a project that are not shown, that no bake of worth lies on, and that are older than some hours. */
export async function freeUnusedLevels(db: Db | Tx, projectId: string, olderThanHours = 0): Promise<void> {
  const unused = await db
    .deleteFrom('levels')
    .where('project_id', '=', projectId)
    .where('created_at', '<=', sql<Date>`now() - make_interval(hours => ${olderThanHours})`)
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
