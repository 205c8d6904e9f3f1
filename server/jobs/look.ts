import { isDeepStrictEqual } from 'node:util';
import type { Foreseen } from '../../core/api';
import { layoutOf, mixGains, planBake } from '../../core/bake';
import { withRoles, type LevelSummary } from '../../core/level';
import { resolveCue, type Rig } from '../../core/rig';
import { tracedRules } from '../../core/roles';
import { Failure } from '../../core/units';
import { readBlob } from '../data';
import type { Jobs } from '../queue';
import { bakesOf, endLook, latestRig } from '../stores';
import type { JobContext, JobControl } from './jobContext';
import { mixMaps } from './mixMaps';

/** Foresees a bake of a project's newest rig, and looks its level over. */
export async function look(context: JobContext, { projectId, box }: Jobs['look'], control: JobControl): Promise<void> {
  const { db, pool, aside, levels } = context;
  const { signal } = control;
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
    const found = await aside.trace('look', surfaces, { key, rig, summary, threads: pool.size, box }, { signal });
    const steps = await finenessSteps(context, projectId, project, rig, control);
    await endLook(db, projectId, { found: { ...found, lines: [...found.lines, ...steps] } });
  } catch (error) {
    if (!(error instanceof Failure)) throw error;
    await endLook(db, projectId, { error: error.sentence });
  }
}

/** Steps in the light between the forms of objects, as far as the level that is shown is baked, in the first cue. */
async function finenessSteps(
  context: JobContext,
  projectId: string,
  { prepared_hash, summary }: { prepared_hash: string; summary: LevelSummary },
  rig: Rig,
  control: JobControl,
): Promise<Foreseen['lines']> {
  if (!summary.finenesses?.forms) return [];
  const { done } = await bakesOf(context.db, projectId);
  if (!done) return [];
  const cue = rig.cues[0]!;
  const baked = await mixMaps(context, done, mixGains(resolveCue(rig, cue), done.plan), control);
  const glb = await readBlob(context.db, prepared_hash);
  return context.aside.run('finenessSteps', { glb, baked, cue: cue.name }, control);
}
