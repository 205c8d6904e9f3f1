import { hasBakedDirect, mixGains, planBake } from '../../core/bake';
import { resolveCue, vantageOfCue } from '../../core/rig';
import { sameJson } from '../../core/units';
import type { Jobs } from '../queue';
import { bakesOf, latestRig, setPicture } from '../stores';
import type { JobContext, JobControl } from './jobContext';
import { mixMaps } from './mixMaps';

/** Takes the picture of a project for the shelf. */
export async function picture(context: JobContext, { projectId }: Jobs['picture'], control: JobControl): Promise<void> {
  const { db, aside, levels } = context;
  const project = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select(['prepared_hash', 'summary'])
    .where('projects.id', '=', projectId)
    .executeTakeFirst();
  if (!project) return;
  const { rig } = await latestRig(db, projectId);
  const { done: closed, opened } = await bakesOf(db, projectId);
  const lighting = resolveCue(rig, rig.cues[0]!);
  const done = opened.find((b) => sameJson(b.open, lighting.open)) ?? closed;
  const baked = done && {
    maps: await mixMaps(context, done, mixGains(lighting, done.plan, { live: true }), control),
    suns: lighting.suns.filter((sun) => !hasBakedDirect(sun, done.plan.suns)),
  };
  const { key, surfaces } = await levels.traced(project.prepared_hash, projectId, planBake(rig));
  const args = { key, lighting, vantage: vantageOfCue(rig, rig.cues[0]!) ?? project.summary.opening ?? null, baked, roles: rig.roles };
  await setPicture(db, projectId, await aside.trace('picture', surfaces, args, control));
}
