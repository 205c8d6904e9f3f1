import { isDeepStrictEqual } from 'node:util';
import { gzipSync } from 'node:zlib';
import type { Selectable } from 'kysely';
import { layoutOf, writeCover } from '../../core/bake';
import type { LayoutOptions, MapSize } from '../../core/level';
import { defaultRig, pinAirs, readRig, resolveCue, type Rig, type Vantage } from '../../core/rig';
import { AS_GLTF, Failure } from '../../core/units';
import { freeBlobs, readBlob, storeBytes, type Db, type IntakeTable } from '../data';
import { send, type Jobs } from '../queue';
import {
  MAX_MODEL_TRIANGLES,
  addLevel,
  failIntake,
  keepBake,
  latestRig,
  noteIntakeShare,
  requestBake,
  shownSource,
  type EmptyCover,
} from '../stores';
import type { TaskOptions } from '../workers';
import type { JobContext, JobControl } from './jobContext';
import { withinTime } from './withinTime';

/** The rig that says how a level is laid out: its project's, or the one that a new project starts with. */
async function rigFor(db: Db, into: string | null, rigText: string | null): Promise<Rig> {
  if (into) return (await latestRig(db, into)).rig;
  const rig = rigText ? readRig(JSON.parse(rigText)) : defaultRig();
  pinAirs(rig);
  return rig;
}

/** Name of the setting that holds the rig a given intake's project starts with (the demo's). */
export const rigSetting = (intakeId: string) => `rig of intake ${intakeId}`;

/** Where the pictures of a new project are taken from: where a person would stand in its level. */
async function openingVantage(aside: JobContext['aside'], glb: Uint8Array, rig: Rig, signal: AbortSignal): Promise<Vantage | null> {
  const sun = resolveCue(rig, rig.cues[0]!).suns.find((s) => s.kind === 'sun');
  return aside.run('openingView', { glb, sun: sun?.direction ?? null }, { signal });
}

/** The level that a project shows, where it is laid out just as the rig says. */
async function versionBefore(db: Db, projectId: string, layout: LayoutOptions): Promise<{ id: string; prepared_hash: string } | null> {
  const level = await db
    .selectFrom('projects')
    .innerJoin('levels', 'levels.id', 'projects.level_id')
    .select(['levels.id', 'levels.prepared_hash', 'levels.layout'])
    .where('projects.id', '=', projectId)
    .executeTakeFirst();
  return level && isDeepStrictEqual(level.layout, layout) ? level : null;
}

/** Files that say of lightmaps that nothing of them is baked yet. */
async function emptyCovers(db: Db, maps: readonly MapSize[]): Promise<EmptyCover[]> {
  const covers: EmptyCover[] = [];
  for (const { width, height } of maps) {
    const cover = gzipSync(writeCover({ width, height, at: new Uint32Array(0) }));
    covers.push({ width, height, hash: await storeBytes(db, cover, async (_, hash) => hash) });
  }
  return covers;
}

/** Compares another finished version of a project's level with it, and keeps the level with it until it is taken. */
async function compare(
  { db, aside }: Pick<JobContext, 'db' | 'aside'>,
  { id, name, source_hash, into_project_id }: Selectable<IntakeTable>,
  signal: AbortSignal,
): Promise<void> {
  const { sourceHash } = await shownSource(db, into_project_id!);
  const { rig } = await latestRig(db, into_project_id!);
  const args = {
    level: await readBlob(db, sourceHash),
    other: await readBlob(db, source_hash),
    name,
    placing: rig.placing ?? AS_GLTF,
  };
  const progress = (share: number) => void noteIntakeShare(db, id, share).catch(() => undefined);
  const add = (followed: TaskOptions) => aside.run('addFinish', args, followed);
  const { glb, found } = await withinTime('level', args.level.length + args.other.length, signal, add, progress);
  await storeBytes(db, glb, async (tx, hash) => {
    const { numUpdatedRows } = await tx
      .updateTable('intakes')
      .set({ state: 'compared', source_hash: hash, found: JSON.stringify(found), compared_with: sourceHash, share: 1 })
      .where('id', '=', id)
      .where('state', '=', 'reading')
      .executeTakeFirst();
    if (numUpdatedRows === 0n) throw new Failure('cancelled', 'The intake was cancelled.');
    await freeBlobs(tx, [source_hash]);
  });
}

/** Reads a level, the model of a fixture, or another finished version of a level, that has come in. */
export async function intake({ db, aside }: JobContext, { intakeId }: Jobs['intake'], { signal }: JobControl): Promise<void> {
  const row = await db
    .updateTable('intakes')
    .set({ state: 'reading' })
    .where('id', '=', intakeId)
    .where('state', 'in', ['waiting', 'reading'])
    .returningAll()
    .executeTakeFirst();
  if (!row) return;
  try {
    if (row.becomes === 'finish') return await compare({ db, aside }, row, signal);
    const own = await db.selectFrom('settings').select('value').where('name', '=', rigSetting(intakeId)).executeTakeFirst();
    const rig = await rigFor(db, row.into_project_id, own?.value ?? null);
    // A new project takes the density that is proposed; one that is there keeps what was set in it.
    const isNew = row.into_project_id === null && own === undefined;
    const before = row.becomes === 'level' && row.into_project_id ? await versionBefore(db, row.into_project_id, layoutOf(rig)) : null;
    const options = { ...layoutOf(rig), propose: isNew, before: before && (await readBlob(db, before.prepared_hash)) };
    const args = { bytes: await readBlob(db, row.source_hash), options };
    const progress = (share: number) => void noteIntakeShare(db, intakeId, share).catch(() => undefined);
    const prepare = (followed: TaskOptions) => aside.run('prepare', args, followed);
    const { glb, summary, layout, beside } = await withinTime('level', args.bytes.length, signal, prepare, progress);
    if (row.becomes === 'model' && summary.triangles > MAX_MODEL_TRIANGLES) {
      throw new Failure(
        'bad-input',
        `${row.name} has ${summary.triangles} triangles, and the model of a fixture may have ${MAX_MODEL_TRIANGLES}.`,
        'Export a simpler one: copies of it are many.',
      );
    }
    const covers = beside ? await emptyCovers(db, summary.lightmaps.maps.slice(beside.firstMap)) : [];
    const opening = row.becomes === 'level' ? await openingVantage(aside, glb, rig, signal) : null;
    const projectId = await storeBytes(db, glb, async (tx, preparedHash) => {
      const still = await tx
        .selectFrom('intakes')
        .select('id')
        .where('id', '=', intakeId)
        .where('state', '=', 'reading')
        .forUpdate()
        .executeTakeFirst();
      if (!still) throw new Failure('cancelled', 'The intake was cancelled.');
      if (row.becomes === 'model') {
        await tx
          .insertInto('models')
          .values({ id: intakeId, project_id: row.into_project_id!, name: row.name, hash: preparedHash, triangles: summary.triangles })
          .execute();
      }
      const level = { name: row.name, sourceHash: row.source_hash, preparedHash, layout, summary: { ...summary, opening } };
      const added =
        row.becomes === 'model'
          ? { projectId: row.into_project_id!, levelId: null }
          : await addLevel(tx, level, row.into_project_id, {
              ...rig,
              bake: { ...rig.bake, texelsPerM: layout.texelsPerM, densities: layout.densities ?? {} },
            });
      if (before && beside && added.levelId)
        await keepBake(tx, added.projectId, { before: before.id, now: added.levelId, ...beside, covers });
      await tx
        .updateTable('intakes')
        .set({ state: 'done', project_id: added.projectId, source_hash: '' })
        .where('id', '=', intakeId)
        .execute();
      // A level has its source of its own; that of a model is done with.
      await freeBlobs(tx, [row.source_hash]);
      await tx.deleteFrom('settings').where('name', '=', rigSetting(intakeId)).execute();
      if (row.becomes === 'level') await send(tx, 'picture', [{ projectId: added.projectId }]);
      return added.projectId;
    });
    if (own) await requestBake(db, projectId);
  } catch (error) {
    if (error instanceof Failure && error.code === 'cancelled') return freeBlobs(db, [row.source_hash]);
    if (error instanceof Failure) return failIntake(db, intakeId, error.sentence);
    throw error;
  }
}
