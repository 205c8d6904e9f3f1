import type { BakeState } from '../../core/api';
import type { JobStep } from '../../core/bake';
import type { Db } from '../data';
import { sendMissing, type Jobs, type QueueName } from '../queue';
import { endLook, failBake, failIntake, failSkyImage } from '../stores';
import { bakeAdvance } from './bakeAdvance';
import { bakeJob } from './bakeJob';
import { bakeOrder } from './bakeOrder';
import { bakePreview } from './bakePreview';
import { intake } from './intake';
import type { JobContext, JobControl } from './jobContext';
import { look } from './look';
import { picture } from './picture';
import { skyImage } from './skyImage';

/** What each queue's jobs do. All may be run again after a worker's death without harm. */
export const handlers: { [Q in QueueName]: (context: JobContext, data: Jobs[Q], control: JobControl) => Promise<void> } = {
  intake,
  'bake-advance': bakeAdvance,
  'bake-job': bakeJob,
  'bake-preview': bakePreview,
  'bake-order': bakeOrder,
  look,
  picture,
  'sky-image': skyImage,
};

/** States in which a bake's jobs go on: a paused one finishes what is in hand, and one that failed keeps what comes of it. */
const WANTED: BakeState[] = ['planning', 'running', 'paused', 'finishing', 'failed'];

/** Whether what a job works on is still there, and has not been cancelled. */
export async function isWanted<Q extends QueueName>(db: Db, queue: Q, data: Jobs[Q]): Promise<boolean> {
  const found = (row: unknown) => row !== undefined;
  if ('bakeId' in data)
    return found(await db.selectFrom('bakes').select('id').where('id', '=', data.bakeId).where('state', 'in', WANTED).executeTakeFirst());
  if ('intakeId' in data)
    return found(
      await db
        .selectFrom('intakes')
        .select('id')
        .where('id', '=', data.intakeId)
        .where('state', 'in', ['waiting', 'reading'])
        .executeTakeFirst(),
    );
  if ('imageId' in data) return found(await db.selectFrom('sky_images').select('id').where('id', '=', data.imageId).executeTakeFirst());
  return found(await db.selectFrom('projects').select('id').where('id', '=', data.projectId).executeTakeFirst());
}

const NAMES: Record<QueueName, string> = {
  intake: 'Reading the level',
  'bake-advance': 'Planning the bake',
  'bake-job': 'Baking',
  'bake-preview': 'The preview of the bake',
  'bake-order': 'The order of the bake',
  look: 'Looking the level over',
  picture: 'The picture of the project',
  'sky-image': 'Reading the image',
};
const STEP_NAMES: Record<JobStep, string> = {
  direct: 'Direct light',
  bounce: 'Bounced light of the level',
  gather: 'Gathering light',
  denoise: 'Denoising',
  finish: 'Finishing',
  tables: 'Finding what stems have in common',
  compact: 'Packing stems',
};

/** What a job does, to begin a sentence with: a job of a bake by its step, its map and its rows or layers. */
export async function describeJob<Q extends QueueName>(db: Db, queue: Q, data: Jobs[Q]): Promise<string> {
  if (queue !== 'bake-job') return NAMES[queue];
  const { bakeId, step, position } = data as Jobs['bake-job'];
  const row = await db
    .selectFrom('bake_jobs')
    .select('job')
    .where('bake_id', '=', bakeId)
    .where('step', '=', step)
    .where('position', '=', position)
    .executeTakeFirst();
  if (!row || !('map' in row.job)) return STEP_NAMES[step];
  const map = `map ${row.job.map + 1}`;
  if ('pieces' in row.job) {
    const [first, last] = [row.job.pieces[0]!, row.job.pieces.at(-1)!];
    return `${STEP_NAMES[step]} of ${map}, layers ${first.layer + 1} to ${last.layer + last.layers},`;
  }
  if ('first' in row.job) return `${STEP_NAMES[step]} of ${map}, texels ${row.job.first} to ${row.job.end},`;
  return `${STEP_NAMES[step]} of ${map}, rows ${row.job.top} to ${row.job.bottom},`;
}

/**
 * Ends what a job was for, with a word: it failed, or its worker died under it again and again.
 *
 * @param reason what went wrong, as sentences
 */
export async function giveUp<Q extends QueueName>(db: Db, queue: Q, data: Jobs[Q], reason: string): Promise<void> {
  if (queue === 'look') await endLook(db, (data as Jobs['look']).projectId, { error: reason });
  // A bake goes on without its preview, and in any order.
  if ('bakeId' in data && queue !== 'bake-preview' && queue !== 'bake-order') await failBake(db, data.bakeId, reason);
  if ('imageId' in data) await failSkyImage(db, data.imageId, reason);
  if ('intakeId' in data) await failIntake(db, data.intakeId, reason);
}

/** Sends again what was asked for but has no job on its way, where a queue was lost or emptied. */
export async function resume({ db }: JobContext): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const intakes = await tx.selectFrom('intakes').select('id').where('state', 'in', ['waiting', 'reading']).execute();
    const skies = await tx.selectFrom('sky_images').select('id').where('state', 'in', ['waiting', 'reading']).execute();
    const bakes = await tx.selectFrom('bakes').select('id').where('state', 'in', ['planning', 'running', 'finishing']).execute();
    await sendMissing(
      tx,
      'intake',
      intakes.map(({ id }) => ({ intakeId: id })),
    );
    await sendMissing(
      tx,
      'sky-image',
      skies.map(({ id }) => ({ imageId: id })),
    );
    await sendMissing(
      tx,
      'bake-advance',
      bakes.map(({ id }) => ({ bakeId: id })),
    );
  });
}
