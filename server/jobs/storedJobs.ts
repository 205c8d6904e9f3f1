import {
  readyBands,
  type BakeJobs,
  type BounceJob,
  type CompactJob,
  type FinishJob,
  type JobStep,
  type PlannedTile,
  type TablesJob,
} from '../../core/bake';
import type { Db, Tx } from '../data';
import { sendInTurns } from '../queue';

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
      tables: of('tables').map((r) => r.job as TablesJob),
      compact: of('compact').map((r) => r.job as CompactJob),
    },
    hashes: {
      direct: hashes('direct'),
      bounce: hashes('bounce'),
      gather: hashes('gather'),
      denoise: hashes('denoise'),
      finish: hashes('finish'),
      tables: hashes('tables'),
      compact: hashes('compact'),
    },
  };
}

/** Positions of the jobs of a step that are not done, in the order that they are to be done in. */
export async function openJobs(db: Db | Tx, bakeId: string, step: JobStep): Promise<number[]> {
  const rows = await db
    .selectFrom('bake_jobs')
    .select('position')
    .where('bake_id', '=', bakeId)
    .where('step', '=', step)
    .where('done', '=', false)
    .orderBy('place_in_line')
    .orderBy('position')
    .execute();
  return rows.map((r) => r.position);
}

/** Sends the jobs that denoise those bands whose tiles are all gathered: the picture may show them while others are traced. */
export async function sendReadyBands(tx: Tx, bakeId: string): Promise<void> {
  const rows = await tx
    .selectFrom('bake_jobs')
    .select(['step', 'job', 'done'])
    .where('bake_id', '=', bakeId)
    .where('step', 'in', ['gather', 'denoise'])
    .orderBy('position')
    .execute();
  const of = (step: JobStep) => rows.filter((r) => r.step === step);
  const [gathered, denoised] = [of('gather'), of('denoise')];
  const tiles = (all: typeof rows) => all.map((r) => r.job as PlannedTile);
  const ready = readyBands({ gather: tiles(gathered), denoise: tiles(denoised) }, (position) => gathered[position]!.done).filter(
    (position) => !denoised[position]!.done,
  );
  if (ready.length > 0) await sendInTurns(tx, bakeId, 'denoise', ready, 1);
}
