import { sql } from 'kysely';
import { sweepBlobs, type Db } from '../data';
import { freeSpare, purgeProjects, thinRevisions } from '../stores';

/** Number of the lock that one worker of all keeps house under. */
const LOCK = 7125002;

/**
 * Lets go of what is past its time: deleted projects, old revisions, levels and bakes that nothing shows, and what processes that died have left. One
 * worker of all does it; the others pass.
 */
export async function keepHouse(db: Db): Promise<void> {
  await db.connection().execute(async (own) => {
    const { rows } = await sql<{ mine: boolean }>`select pg_try_advisory_lock(${LOCK}) as mine`.execute(own);
    if (!rows[0]!.mine) return;
    try {
      await purgeProjects(db);
      await freeSpare(db);
      for (const { id } of await db.selectFrom('projects').select('id').execute()) await thinRevisions(db, id);
      await sweepBlobs(db);
    } finally {
      await sql`select pg_advisory_unlock(${LOCK})`.execute(own);
    }
  });
}
