import { sql } from 'kysely';
import { Failure } from '../../core/units';
import type { Db } from '../data';
import { cancelBake, requestBake } from './bakes';
import { AT_WORK } from './bakeStates';

/** Seconds without an edit after which what is out of date is traced. */
const PAUSE_S = 4;

/** Has what is out of date of a project traced by itself after each pause in editing, or no more; a bake that is at work so ends then. */
export async function setKeepBaking(db: Db, projectId: string, on: boolean): Promise<void> {
  const { numUpdatedRows } = await db
    .updateTable('projects')
    .set({ keep_baking: on, kept_up: null })
    .where('id', '=', projectId)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) throw new Failure('not-found', 'There is no such project.', 'Go back to the shelf.');
  if (!on) await endByItself(db, projectId);
}

/** Ends the bake of a project that is at work by itself: the rig has been edited, or another bake is asked for. */
export async function endByItself(db: Db, projectId: string): Promise<void> {
  const bakes = await db
    .selectFrom('bakes')
    .select('id')
    .where('project_id', '=', projectId)
    .where('by_itself', '=', true)
    .where('state', 'in', AT_WORK)
    .execute();
  for (const { id } of bakes) await cancelBake(db, id);
}

/**
 * Asks for the bakes of all projects that keep baking, whose editing pauses, and that have none at work.
 *
 * @param refused told where one is not begun: the disk is nearly full, or another was asked for meanwhile. The next edit has it looked at again
 */
export async function keepUpAll(db: Db, refused: (projectId: string, failure: Failure) => void): Promise<void> {
  const { rows } = await sql<{ id: string; revision: number }>`
    select p.id, r.revision from projects p,
        lateral (select revision, created_at from rig_revisions where project_id = p.id order by revision desc limit 1) r
      where p.keep_baking and p.deleted_at is null and p.level_id is not null
        and r.created_at < now() - make_interval(secs => ${PAUSE_S}) and p.kept_up is distinct from r.revision
        and not exists (select from bakes b where b.project_id = p.id and b.state in (${sql.join(AT_WORK)}))`.execute(db);
  for (const { id, revision } of rows) {
    // One worker of several asks.
    const { numUpdatedRows } = await db
      .updateTable('projects')
      .set({ kept_up: revision })
      .where('id', '=', id)
      .where(sql<boolean>`kept_up is distinct from ${revision}`)
      .executeTakeFirst();
    if (numUpdatedRows === 0n) continue;
    try {
      await requestBake(db, id, { byItself: true });
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      refused(id, error);
    }
  }
}
