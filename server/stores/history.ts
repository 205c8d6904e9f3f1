import { sql } from 'kysely';
import type { HistoryEntry } from '../../core/api';
import { Failure } from '../../core/units';
import type { Db } from '../data';

/** Most revisions that are listed at once. */
const MOST = 1000;
/** Largest picture of a revision, bytes. */
export const MAX_PICTURE_BYTES = 200_000;
const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);

const gone = (revision: number) =>
  new Failure('not-found', `The project has no revision ${revision} of its rig any more.`, 'Reload the history.');

/** The revisions of a project's rig that are kept, the newest first. Throws a `not-found` {@link Failure} for a project that is not there. */
export async function listHistory(db: Db, projectId: string): Promise<HistoryEntry[]> {
  const rows = await db
    .selectFrom('rig_revisions')
    .select(['revision', 'note', 'name', 'created_at', sql<boolean>`picture is not null`.as('has_picture')])
    .where('project_id', '=', projectId)
    .orderBy('revision', 'desc')
    .limit(MOST)
    .execute();
  // Every project has one revision at least.
  if (rows.length === 0) throw new Failure('not-found', 'There is no such project.', 'It may have been deleted; go back to the shelf.');
  return rows.map(({ revision, note, name, created_at, has_picture }) => ({
    revision,
    note,
    name,
    at: created_at.toISOString(),
    hasPicture: has_picture,
  }));
}

/** Names a revision, which is kept for good then; null takes the name away. Throws a `not-found` {@link Failure}. */
export async function nameRevision(db: Db, projectId: string, revision: number, name: string | null): Promise<void> {
  const { numUpdatedRows } = await db
    .updateTable('rig_revisions')
    .set({ name })
    .where('project_id', '=', projectId)
    .where('revision', '=', revision)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) throw gone(revision);
}

/** Keeps how a revision looks. Throws a `bad-input` {@link Failure} for what is no PNG, `too-large` for a large one, and `not-found`. */
export async function setRevisionPicture(db: Db, projectId: string, revision: number, picture: Buffer): Promise<void> {
  if (picture.length > MAX_PICTURE_BYTES)
    throw new Failure('too-large', `The picture is larger than ${MAX_PICTURE_BYTES / 1000} kB.`, 'Send a smaller one.');
  if (!picture.subarray(0, PNG.length).equals(PNG)) throw new Failure('bad-input', 'The picture is not a PNG.', 'Send one as image/png.');
  const { numUpdatedRows } = await db
    .updateTable('rig_revisions')
    .set({ picture })
    .where('project_id', '=', projectId)
    .where('revision', '=', revision)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) throw gone(revision);
}

/** How a revision looked, as PNG. Throws a `not-found` {@link Failure} where no picture of it was kept. */
export async function revisionPicture(db: Db, projectId: string, revision: number): Promise<Buffer> {
  const row = await db
    .selectFrom('rig_revisions')
    .select('picture')
    .where('project_id', '=', projectId)
    .where('revision', '=', revision)
    .executeTakeFirst();
  if (!row?.picture) throw new Failure('not-found', `There is no picture of revision ${revision}.`, 'Look at the revision itself.');
  return row.picture;
}
