import { randomUUID } from 'node:crypto';
import type { Selectable } from 'kysely';
import { MAX_SKY_BYTES } from '../../core/image';
import { Failure } from '../../core/units';
import type { SkyImageChange, SkyImageView } from '../../core/api';
import { changeBlobs, freeBlobs, storeBlob, storeBytesIn, type Db, type SkyImageTable } from '../data';
import { send } from '../queue';
import { isOnShelf } from './projects';
import { rigOfAny } from './revisions';

type Row = Selectable<SkyImageTable>;

const missing = () => new Failure('not-found', 'There is no such sky image on the shelf.', 'It may have been deleted; choose another.');
const emptyFile = (name: string) => new Failure('bad-input', `${name} is empty: it has no bytes.`, 'Fetch or export it again.');
const nameOf = (file: string) =>
  (file.split(/[\\/]/).pop() ?? '')
    .replace(/\.[a-z0-9]+$/i, '')
    .replace(/[_-]+/g, ' ')
    .trim()
    .slice(0, 80) || 'Sky';

const viewOf = (r: Row): SkyImageView => ({
  id: r.id,
  name: r.name,
  fileName: r.file_name,
  tags: r.tags,
  house: r.project_id === null,
  shipped: r.shipped,
  state: r.state,
  error: r.error,
  remedies: r.remedies,
  options: r.options,
  original: r.original,
  report: r.report,
  sun: r.taken_sun,
  wholeHash: r.whole_hash,
  restHash: r.rest_hash,
  beforeHash: r.before_hash,
  afterHash: r.after_hash,
});

/** Stores the bytes of a sky image as they stream in; reading it is the worker's. Throws `too-large` and `bad-input` Failures. */
export async function receiveSkyImage(
  db: Db,
  projectId: string | null,
  fileName: string,
  source: AsyncIterable<Uint8Array>,
  { shipped = false, tags = [], name = nameOf(fileName) }: { shipped?: boolean; tags?: string[]; name?: string } = {},
): Promise<{ id: string }> {
  const id = randomUUID();
  if (projectId && !(await isOnShelf(db, projectId))) {
    throw new Failure('not-found', 'There is no such project to bring the sky into.', 'Go back to the shelf.');
  }
  return storeBlob(
    db,
    source,
    async (tx, hash, size) => {
      if (size === 0) throw emptyFile(fileName);
      await tx
        .insertInto('sky_images')
        .values({
          id,
          project_id: projectId,
          name,
          file_name: fileName.slice(-200),
          tags,
          shipped,
          state: 'waiting',
          error: null,
          source_hash: hash,
          remedies: JSON.stringify([]),
          options: JSON.stringify({}),
        })
        .execute();
      await send(tx, 'sky-image', [{ imageId: id }]);
      return { id };
    },
    MAX_SKY_BYTES,
  );
}

/** The images a project can use: its own and the house's, the newest first. */
export async function skyImagesOf(db: Db, projectId: string): Promise<SkyImageView[]> {
  const rows = await db
    .selectFrom('sky_images')
    .selectAll()
    .where((eb) => eb.or([eb('project_id', '=', projectId), eb('project_id', 'is', null)]))
    .orderBy('created_at', 'desc')
    .execute();
  return rows.map(viewOf);
}

export async function readSkyImageRow(db: Db, id: string): Promise<SkyImageView & { sourceHash: string }> {
  const row = await db.selectFrom('sky_images').selectAll().where('id', '=', id).executeTakeFirst();
  if (!row) throw missing();
  return { ...viewOf(row), sourceHash: row.source_hash };
}

/**
 * Changes an image of the shelf; other remedies have a worker read it again. Throws `not-found`, and `conflict` for
 * one that comes with Basil.
 */
export async function changeSkyImage(db: Db, projectId: string, id: string, change: SkyImageChange): Promise<void> {
  const row = await ownImage(db, projectId, id);
  if (row.project_id === null && change.house === false) {
    const others = (await usersOf(db, row)).filter((u) => u.projectId !== projectId);
    if (others.length > 0) throw inUse(row, others);
  }
  const { name } = change;
  const again = change.remedies !== undefined || change.options !== undefined;
  const values = {
    ...(name ? { name } : {}),
    ...(change.tags ? { tags: change.tags.filter((t) => t !== '') } : {}),
    ...(change.house === undefined ? {} : { project_id: change.house ? null : projectId }),
    ...(change.remedies ? { remedies: JSON.stringify(change.remedies) } : {}),
    ...(change.options ? { options: JSON.stringify(change.options) } : {}),
    ...(again ? { state: 'waiting' as const, error: null } : {}),
  };
  if (Object.keys(values).length === 0) return;
  await db.transaction().execute(async (tx) => {
    await tx.updateTable('sky_images').set(values).where('id', '=', id).execute();
    if (again) await send(tx, 'sky-image', [{ imageId: id }]);
  });
}

/** A copy of an image for a project, to be changed: of one that comes with Basil, or of the house's. */
export async function copySkyImage(db: Db, projectId: string, id: string): Promise<{ id: string }> {
  const row = await db.selectFrom('sky_images').selectAll().where('id', '=', id).executeTakeFirst();
  if (!row) throw missing();
  if (!(await isOnShelf(db, projectId)))
    throw new Failure('not-found', 'There is no such project to copy the sky to.', 'Go back to the shelf.');
  const copy = randomUUID();
  await db.transaction().execute(async (tx) => {
    await tx
      .insertInto('sky_images')
      .values({
        file_name: row.file_name,
        tags: row.tags,
        state: row.state,
        error: row.error,
        source_hash: row.source_hash,
        whole_hash: row.whole_hash,
        rest_hash: row.rest_hash,
        before_hash: row.before_hash,
        after_hash: row.after_hash,
        id: copy,
        project_id: projectId,
        name: `${row.name}, ours`.slice(0, 80),
        shipped: false,
        remedies: JSON.stringify(row.remedies),
        options: JSON.stringify(row.options),
        original: row.original && JSON.stringify(row.original),
        report: row.report && JSON.stringify(row.report),
        taken_sun: row.taken_sun && JSON.stringify(row.taken_sun),
      })
      .execute();
    // One that is still to be read is read for its copy as well.
    if (row.state === 'waiting' || row.state === 'reading') await send(tx, 'sky-image', [{ imageId: copy }]);
  });
  return { id: copy };
}

/** Cues that hold an image, each with its project, by the latest rig of every project that sees it. */
async function usersOf(db: Db, { id, project_id }: Row): Promise<{ projectId: string; name: string }[]> {
  const projects = await db
    .selectFrom('projects')
    .select(['id', 'name'])
    .$if(project_id !== null, (q) => q.where('id', '=', project_id))
    .execute();
  const held = await Promise.all(
    projects.map(async (project) => {
      const rig = await rigOfAny(db, project.id);
      const cues = rig.cues.filter((c) => c.holds.image?.imageId === id);
      return cues.map((cue) => ({ projectId: project.id, name: `${cue.name} of ${project.name}` }));
    }),
  );
  return held.flat();
}

const inUse = (row: Row, users: { name: string }[]) =>
  new Failure('conflict', `${row.name} is used by ${users.map((u) => u.name).join(', ')}.`, 'Give those cues another sky first.');

/** An image that may be changed by a project. Throws `not-found`, and `conflict` for one that comes with Basil. */
async function ownImage(db: Db, projectId: string, id: string): Promise<Row> {
  const row = await db.selectFrom('sky_images').selectAll().where('id', '=', id).executeTakeFirst();
  if (!row || (row.project_id !== null && row.project_id !== projectId)) throw missing();
  if (row.shipped) throw new Failure('conflict', `${row.name} comes with Basil and stays as it is.`, 'Make a copy of it, and change that.');
  return row;
}

/** Deletes an image. Throws a `conflict` Failure that names the cues that use it, in whatever project. */
export async function deleteSkyImage(db: Db, projectId: string, id: string): Promise<void> {
  const row = await ownImage(db, projectId, id);
  const users = await usersOf(db, row);
  if (users.length > 0) throw inUse(row, users);
  await changeBlobs(db, async (tx) => {
    await tx.deleteFrom('sky_images').where('id', '=', id).execute();
    await freeBlobs(tx, [row.source_hash, row.whole_hash, row.rest_hash, row.before_hash, row.after_hash]);
  });
}

/**
 * Puts another file in the place of an image's: its remedies and what the cues set by themselves stay. Throws `not-found`, `bad-input`,
 * `too-large` and `conflict` Failures.
 */
export async function replaceSkyFile(
  db: Db,
  projectId: string,
  id: string,
  fileName: string,
  source: AsyncIterable<Uint8Array>,
): Promise<void> {
  const { source_hash: old } = await ownImage(db, projectId, id);
  await storeBlob(
    db,
    source,
    async (tx, hash, size) => {
      if (size === 0) throw emptyFile(fileName);
      await tx
        .updateTable('sky_images')
        .set({ source_hash: hash, file_name: fileName.slice(-200), state: 'waiting', error: null })
        .where('id', '=', id)
        .execute();
      await freeBlobs(tx, [old]);
      await send(tx, 'sky-image', [{ imageId: id }]);
    },
    MAX_SKY_BYTES,
  );
}

/** What the worker made of an image. */
export interface MadeSkyImage extends Pick<Row, 'original' | 'report' | 'taken_sun'> {
  whole: Uint8Array | null;
  rest: Uint8Array | null;
  before: Uint8Array;
  after: Uint8Array;
}

type MadeColumn = 'whole_hash' | 'rest_hash' | 'before_hash' | 'after_hash';

/** Stores what was made of an image in the place of what was made before. Nothing stays where the image was deleted meanwhile. */
export async function fillSkyImage(db: Db, id: string, made: MadeSkyImage): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const columns: [MadeColumn, Uint8Array | null][] = [
      ['whole_hash', made.whole],
      ['rest_hash', made.rest],
      ['before_hash', made.before],
      ['after_hash', made.after],
    ];
    const hashes: Partial<Record<MadeColumn, string | null>> = {};
    for (const [column, bytes] of columns) hashes[column] = bytes && (await storeBytesIn(tx, bytes));
    const old = await tx
      .selectFrom('sky_images')
      .select(columns.map(([column]) => column))
      .where('id', '=', id)
      .executeTakeFirst();
    await tx
      .updateTable('sky_images')
      .set({
        ...hashes,
        original: JSON.stringify(made.original),
        report: JSON.stringify(made.report),
        taken_sun: made.taken_sun && JSON.stringify(made.taken_sun),
        error: null,
      })
      .where('id', '=', id)
      .execute();
    await tx.updateTable('sky_images').set({ state: 'ready' }).where('id', '=', id).where('state', '=', 'reading').execute();
    await freeBlobs(tx, [...Object.values(old ?? {}), ...Object.values(hashes)]);
  });
}

/** Ends the reading of an image with an error for people; one that could be used before stays so. */
export async function failSkyImage(db: Db, id: string, error: string): Promise<void> {
  await db.updateTable('sky_images').set({ state: 'failed', error }).where('id', '=', id).execute();
}
