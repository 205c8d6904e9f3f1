import { randomUUID } from 'node:crypto';
import type { Selectable } from 'kysely';
import { Failure, samePlacing } from '../../core/units';
import type { IntakeView } from '../../core/api';
import { changeBlobs, freeBlobs, needRoom, storeBlob, type Db, type IntakeTable, type Tx } from '../data';
import { send } from '../queue';
import { showLevel } from './levels';
import { isOnShelf } from './projects';
import { latestRig } from './revisions';
import { workersOf } from './workers';

/** Largest level that is taken in, bytes. */
export const MAX_LEVEL_BYTES = 300_000_000;

/** Largest file of a fixture's model, bytes. */
const MAX_MODEL_BYTES = 40_000_000;

/** A file's name without its path and ending, fit to name a level. */
const levelName = (file: string) =>
  (file.split(/[\\/]/).pop() ?? '')
    .replace(/\.(glb|gltf|zip)$/i, '')
    .trim()
    .slice(0, 80) || 'Level';

/** Stores the bytes of a level, or of a fixture's model, as they stream in, and has a worker read them. Throws `too-large` and `bad-input` Failures. */
export async function receiveLevel(
  db: Db,
  fileName: string,
  source: AsyncIterable<Uint8Array>,
  into: string | null,
  becomes: 'level' | 'model' | 'finish' = 'level',
  also?: (tx: Tx, id: string) => Promise<void>,
): Promise<{ id: string }> {
  const id = randomUUID();
  if (into && !(await isOnShelf(db, into))) {
    throw new Failure('not-found', 'There is no such project to bring the level into.', 'Go back to the shelf.');
  }
  return storeBlob(
    db,
    source,
    async (tx, hash, size) => {
      if (size === 0) throw new Failure('bad-input', `${fileName} is empty: it has no bytes.`, 'Export the level again.');
      await tx
        .insertInto('intakes')
        .values({
          id,
          name: levelName(fileName),
          state: 'waiting',
          into_project_id: into,
          source_hash: hash,
          error: null,
          project_id: null,
          becomes,
          found: null,
          compared_with: null,
        })
        .execute();
      await also?.(tx, id);
      await send(tx, 'intake', [{ intakeId: id }]);
      return { id };
    },
    becomes === 'model' ? MAX_MODEL_BYTES : MAX_LEVEL_BYTES,
  );
}

const viewOf = (
  { id, name, state, share, error, project_id, into_project_id, found }: Selectable<IntakeTable>,
  workers: number,
): IntakeView => ({
  id,
  name,
  state,
  share,
  error,
  projectId: project_id,
  into: into_project_id,
  found,
  workers,
});

/**
 * Brings the level of a project to the unit and axis that its rig says: shows one that was read so before, or has the file read again.
 * Throws a `not-found` {@link Failure}.
 *
 * @returns the intake that reads it; null where the level lies as the rig says now
 */
export async function readAgain(db: Db, projectId: string): Promise<{ intakeId: string | null }> {
  const { rig } = await latestRig(db, projectId);
  await needRoom(db, 'The level, read again,');
  return changeBlobs(db, async (tx) => {
    const project = await tx.selectFrom('projects').select('level_id').where('id', '=', projectId).forUpdate().executeTakeFirstOrThrow();
    const levels = await tx
      .selectFrom('levels')
      .select(['id', 'name', 'source_hash', 'layout'])
      .where('project_id', '=', projectId)
      .orderBy('created_at', 'desc')
      .execute();
    const shown = levels.find((l) => l.id === project.level_id)!;
    if (samePlacing(shown.layout.placing, rig.placing)) return { intakeId: null };
    const before = levels.find((l) => l.source_hash === shown.source_hash && samePlacing(l.layout.placing, rig.placing));
    if (before) {
      await showLevel(tx, projectId, before.id);
      return { intakeId: null };
    }
    const reading = await tx
      .selectFrom('intakes')
      .select('id')
      .where('into_project_id', '=', projectId)
      .where('becomes', '=', 'level')
      .where('state', 'in', ['waiting', 'reading'])
      .executeTakeFirst();
    if (reading) return { intakeId: reading.id };
    const id = randomUUID();
    const { name, source_hash } = shown;
    const row = {
      id,
      name,
      state: 'waiting',
      into_project_id: projectId,
      source_hash,
      error: null,
      project_id: null,
      becomes: 'level',
      found: null,
      compared_with: null,
    } as const;
    await tx.insertInto('intakes').values(row).execute();
    await send(tx, 'intake', [{ intakeId: id }]);
    return { intakeId: id };
  });
}

/** Says how far the reading of a level has come. */
export async function noteIntakeShare(db: Db, id: string, share: number): Promise<void> {
  await db.updateTable('intakes').set({ share }).where('id', '=', id).where('state', '=', 'reading').execute();
}

/** Intakes at work, and those that ended in an error nobody has put away yet. */
export async function listIntakes(db: Db): Promise<IntakeView[]> {
  const rows = await db.selectFrom('intakes').selectAll().where('state', '!=', 'done').orderBy('created_at').execute();
  const { workers } = await workersOf(db);
  return rows.map((row) => viewOf(row, workers));
}

/** Throws a `not-found` {@link Failure}. */
export async function readIntake(db: Db, id: string): Promise<IntakeView> {
  const row = await db.selectFrom('intakes').selectAll().where('id', '=', id).executeTakeFirst();
  if (!row) throw new Failure('not-found', 'There is no such intake.', 'It was cancelled or put away.');
  return viewOf(row, (await workersOf(db)).workers);
}

/** The file of the level that a project shows, as it came in. Throws a `not-found` {@link Failure}. */
export async function shownSource(db: Db, projectId: string): Promise<{ name: string; sourceHash: string }> {
  const row = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select(['levels.name', 'levels.source_hash'])
    .where('projects.id', '=', projectId)
    .executeTakeFirst();
  if (!row) throw new Failure('not-found', 'There is no such project any more.', 'Go back to the shelf.');
  return { name: row.name, sourceHash: row.source_hash };
}

/**
 * Takes another finished version that has been compared: the project's level, with it as a variant, is read as a replaced one is. Throws a `conflict`
 * {@link Failure} where it is not compared, or the level has been replaced since.
 */
export async function takeFinish(db: Db, id: string): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const row = await tx.selectFrom('intakes').selectAll().where('id', '=', id).forUpdate().executeTakeFirst();
    if (row?.state !== 'compared')
      throw new Failure('conflict', 'There is nothing compared to be taken.', 'Bring the other version in again.');
    const { name, sourceHash } = await shownSource(tx, row.into_project_id!);
    if (sourceHash !== row.compared_with)
      throw new Failure('conflict', 'The level has been replaced since the two were compared.', 'Bring the other version in again.');
    await tx.updateTable('intakes').set({ state: 'waiting', becomes: 'level', name, share: 0 }).where('id', '=', id).execute();
    await send(tx, 'intake', [{ intakeId: id }]);
  });
}

/** Cancels an intake, or puts a failed one away; its bytes go with it. */
export async function dropIntake(db: Db, id: string): Promise<void> {
  await changeBlobs(db, async (tx) => {
    const row = await tx.deleteFrom('intakes').where('id', '=', id).returning('source_hash').executeTakeFirst();
    await freeBlobs(tx, [row?.source_hash ?? null]);
  });
}

/** Ends an intake with an error for people, and frees what it had brought: a failed intake holds on to its message only. */
export async function failIntake(db: Db, id: string, error: string): Promise<void> {
  await changeBlobs(db, async (tx) => {
    const row = await tx.selectFrom('intakes').select('source_hash').where('id', '=', id).forUpdate().executeTakeFirst();
    if (!row) return;
    await tx.updateTable('intakes').set({ state: 'failed', error, source_hash: '' }).where('id', '=', id).execute();
    await freeBlobs(tx, [row.source_hash]);
  });
}
