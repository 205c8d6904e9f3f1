import type { Foreseen, LookView } from '../../core/api';
import type { GroundBox } from '../../core/units';
import type { Db } from '../data';
import { send } from '../queue';

/** What was last found about a project's bake before it is made. */
export async function lookOf(db: Db, projectId: string): Promise<LookView> {
  const row = await db.selectFrom('looks').select(['looking', 'found', 'error']).where('project_id', '=', projectId).executeTakeFirst();
  return row ?? { looking: false, found: null, error: null };
}

/**
 * Has a worker look; what was found before stays until it is done.
 *
 * @param box where people walk; null for all walkable floor
 */
export async function beginLook(db: Db, projectId: string, box: GroundBox | null = null): Promise<void> {
  await db.transaction().execute(async (tx) => {
    await tx
      .insertInto('looks')
      .values({ project_id: projectId, looking: true, found: null, error: null })
      .onConflict((c) => c.column('project_id').doUpdateSet({ looking: true, error: null }))
      .execute();
    await send(tx, 'look', [{ projectId, box }]);
  });
}

/** A look ended: by what was found, or by why nothing could be. */
export async function endLook(db: Db, projectId: string, outcome: { found: Foreseen } | { error: string }): Promise<void> {
  await db
    .updateTable('looks')
    .set(
      'found' in outcome ? { looking: false, found: JSON.stringify(outcome.found), error: null } : { looking: false, error: outcome.error },
    )
    .where('project_id', '=', projectId)
    .execute();
}
