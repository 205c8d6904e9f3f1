import { randomUUID } from 'node:crypto';
import { opened } from '../../core/bake';
import { openStates } from '../../core/rig';
import { Failure, sameJson } from '../../core/units';
import { needRoom, type Db } from '../data';
import { beginBake, newestDone } from './bakes';
import { latestRig } from './revisions';

/**
 * Asks for the bake of the first set of openings of a project's newest rig that its newest bake lacks. It lies over that bake, and is held to the objects
 * that the openings affect, which are found when it is planned.
 *
 * Throws a `conflict` {@link Failure} where nothing is baked yet or another bake is at work, and a `no-room` one where the disk is nearly full.
 *
 * @returns the bake; one that is done already where none is lacking
 */
export async function requestOpenings(db: Db, projectId: string): Promise<{ id: string; fresh: boolean }> {
  await needRoom(db, 'A bake');
  const { rig } = await latestRig(db, projectId);
  const { level_id } = await db.selectFrom('projects').select('level_id').where('id', '=', projectId).executeTakeFirstOrThrow();
  const done = level_id && (await newestDone(db, projectId, level_id));
  if (!done) throw new Failure('conflict', 'Nothing is baked yet, so nothing can be baked without its openings.', 'Bake the level first.');
  const there = await db.selectFrom('bakes').select(['id', 'open']).where('opens_of', '=', done.id).where('state', '=', 'done').execute();
  const lacking = openStates(rig).find(({ open }) => !there.some((b) => sameJson(b.open, open)));
  if (!lacking) return { id: there.at(-1)?.id ?? done.id, fresh: false };
  const id = randomUUID();
  const plan = JSON.stringify(opened(done.plan, lacking.open));
  const { rig_revision, layout } = done;
  const over = { base_id: done.id, opens_of: done.id, open: JSON.stringify(lacking.open) };
  const row = { id, project_id: projectId, level_id, rig_revision, key: `open ${id}`, layout: JSON.stringify(layout), plan, trace: plan };
  await beginBake(db, { ...row, ...over });
  return { id, fresh: true };
}
