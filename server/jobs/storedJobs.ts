import type { BakeJobs, BounceJob, FinishJob, JobStep, PlannedTile } from '../../core/bake';
import type { Db, Tx } from '../data';

/** The jobs of a bake as they are planned, and where what they made lies. */
export interface StoredJobs {
  jobs: BakeJobs;
  /** Hashes, in the order of the jobs; null where there is nothing. */
  hashes: Record<JobStep, (string | null)[]>;
}

/** Reads the jobs of a bake. */
export async function storedJobs(db: Db, bakeId: string): Promise<StoredJobs> {
  const rows = await db
    .selectFrom('bake_jobs')
    .select(['step', 'job', 'result_hash'])
    .where('bake_id', '=', bakeId)
    .orderBy('position')
    .execute();
  const of = (step: JobStep) => rows.filter((r) => r.step === step);
  const tiles = (step: JobStep) => of(step).map((r) => r.job as PlannedTile);
  const hashes = (step: JobStep) => of(step).map((r) => r.result_hash);
  return {
    jobs: {
      direct: tiles('direct'),
      bounce: of('bounce').map((r) => r.job as BounceJob),
      gather: tiles('gather'),
      denoise: tiles('denoise'),
      finish: of('finish').map((r) => r.job as FinishJob),
    },
    hashes: {
      direct: hashes('direct'),
      bounce: hashes('bounce'),
      gather: hashes('gather'),
      denoise: hashes('denoise'),
      finish: hashes('finish'),
    },
  };
}

/** Positions of the jobs of a step that are not done, ascending. */
export async function openJobs(db: Db | Tx, bakeId: string, step: JobStep): Promise<number[]> {
  const rows = await db
    .selectFrom('bake_jobs')
    .select('position')
    .where('bake_id', '=', bakeId)
    .where('step', '=', step)
    .where('done', '=', false)
    .orderBy('position')
    .execute();
  return rows.map((r) => r.position);
}
