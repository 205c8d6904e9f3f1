import { Failure } from '../../core/units';
import { readBlob } from '../data';
import type { Jobs } from '../queue';
import { failSkyImage, fillSkyImage } from '../stores';
import type { JobContext, JobControl } from './jobContext';
import { withinTime } from './withinTime';

/** Makes a sky image of the shelf ready for use. */
export async function skyImage({ db, aside }: JobContext, { imageId }: Jobs['sky-image'], { signal }: JobControl): Promise<void> {
  const row = await db
    .updateTable('sky_images')
    .set({ state: 'reading' })
    .where('id', '=', imageId)
    .where('state', 'in', ['waiting', 'reading'])
    .returningAll()
    .executeTakeFirst();
  if (!row) return;
  try {
    const bytes = await readBlob(db, row.source_hash);
    const args = { bytes, name: row.file_name, remedies: row.remedies, options: row.options };
    const { sun, ...made } = await withinTime('image', bytes.length, signal, (options) => aside.run('prepareSky', args, options));
    await fillSkyImage(db, imageId, { ...made, taken_sun: sun });
  } catch (error) {
    if (!(error instanceof Failure)) throw error;
    await failSkyImage(db, imageId, error.sentence);
  }
}
