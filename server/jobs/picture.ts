import { modelsOf, resolveCue } from '../../core/rig';
import type { Jobs } from '../queue';
import { bakesOf, latestRig, setPicture } from '../stores';
import type { JobContext, JobControl } from './jobContext';
import { readStemFiles } from './storedFiles';

/** Takes the picture of a project for the shelf. */
export async function picture({ db, aside, levels }: JobContext, { projectId }: Jobs['picture'], { signal }: JobControl): Promise<void> {
  const project = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select('prepared_hash')
    .where('projects.id', '=', projectId)
    .executeTakeFirst();
  if (!project) return;
  const { rig } = await latestRig(db, projectId);
  const { done } = await bakesOf(db, projectId);
  const { key, surfaces } = await levels.traced(project.prepared_hash, projectId, modelsOf(rig));
  const stems = done && {
    suns: done.plan.suns,
    circuits: done.plan.circuits,
    maps: await Promise.all(done.maps.map((map) => readStemFiles(db, map))),
  };
  const args = { key, lighting: resolveCue(rig, rig.cues[0]!), vantage: rig.vantage, stems };
  await setPicture(db, projectId, await aside.trace('picture', surfaces, args, { signal }));
}
