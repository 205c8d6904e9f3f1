import { isDeepStrictEqual } from 'node:util';
import { layoutOf, planBake } from '../../core/bake';
import { withRoles } from '../../core/level';
import { tracedRules } from '../../core/roles';
import { Failure } from '../../core/units';
import { readBlob } from '../data';
import type { Jobs } from '../queue';
import { endLook, latestRig } from '../stores';
import type { JobContext, JobControl } from './jobContext';

/** Foresees a bake of a project's newest rig, and looks its level over. */
export async function look({ db, pool, aside, levels }: JobContext, { projectId }: Jobs['look'], { signal }: JobControl): Promise<void> {
  const project = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select(['levels.source_hash', 'levels.prepared_hash', 'levels.layout', 'levels.summary'])
    .where('projects.id', '=', projectId)
    .executeTakeFirst();
  if (!project) return;
  const { rig } = await latestRig(db, projectId);
  const layout = layoutOf(rig);
  try {
    let { summary } = project;
    let { key, surfaces } = await levels.traced(project.prepared_hash, projectId, planBake(rig));
    if (!isDeepStrictEqual(project.layout, layout)) {
      const args = { bytes: await readBlob(db, project.source_hash), options: layout };
      const prepared = await aside.run('prepare', args, { signal });
      summary = prepared.summary;
      key = `look ${projectId} ${JSON.stringify([layout, tracedRules(rig.roles)])}`;
      surfaces = withRoles(await aside.run('flatten', { glb: prepared.glb }, { signal }), tracedRules(rig.roles));
    }
    const found = await aside.trace('look', surfaces, { key, rig, summary, threads: pool.size }, { signal });
    await endLook(db, projectId, { found });
  } catch (error) {
    if (!(error instanceof Failure)) throw error;
    await endLook(db, projectId, { error: error.sentence });
  }
}
