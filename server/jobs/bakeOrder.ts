import { isDeepStrictEqual } from 'node:util';
import { sql } from 'kysely';
import { seenFirst } from '../../core/bake';
import { dealAgain, type Jobs } from '../queue';
import { bakeAtWork, levelOf } from './bakeAtWork';
import type { JobContext, JobControl } from './jobContext';
import { openJobs, storedJobs } from './storedJobs';

/** Has those tiles of a bake's level that are seen most from where it is looked at gathered first; what is at hand already is let be. */
export async function bakeOrder(context: JobContext, { bakeId }: Jobs['bake-order'], { signal }: JobControl): Promise<void> {
  const { db, pool } = context;
  // The level may be laid out anew until its jobs are there.
  const { jobs } = await storedJobs(db, bakeId);
  const bake = await bakeAtWork(db, bakeId, ['planning', 'running', 'paused']);
  // One that is not planned yet asks again when it is.
  if (!bake?.eye || jobs.gather.length === 0) return;
  const { key, surfaces } = await levelOf(context, bake);
  const shares = await pool.trace('seenTiles', surfaces, { key, vantage: bake.eye, tiles: jobs.gather }, { signal });
  const line = seenFirst(jobs, shares);
  await db.transaction().execute(async (tx) => {
    const still = await tx.selectFrom('bakes').select(['state', 'step', 'eye']).where('id', '=', bakeId).forUpdate().executeTakeFirst();
    // Where it is looked at from elsewhere by now, another job is on its way.
    if (!still || !isDeepStrictEqual(still.eye, bake.eye)) return;
    const places = JSON.stringify(line.map((position, place) => ({ position, place })));
    await sql`
      update bake_jobs set place_in_line = l.place
      from jsonb_to_recordset(${places}::jsonb) as l(position int, place int)
      where bake_jobs.bake_id = ${bakeId} and bake_jobs.step = 'gather' and bake_jobs.position = l.position`.execute(tx);
    if (still.state === 'running' && still.step === 'gather') await dealAgain(tx, bakeId, 'gather', await openJobs(tx, bakeId, 'gather'));
  });
}
