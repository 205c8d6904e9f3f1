import { sql } from 'kysely';
import { LRUCache } from 'lru-cache';
import { checkRig, readRig, type Rig } from '../../core/rig';
import { Failure, applyDiff, treeDiff } from '../../core/units';
import type { Db, Tx } from '../data';

/** The channel of the database on which a new revision is told, as JSON: `{ projectId, revision }`. */
export const RIG_CHANGED = 'basil_rig_changed';

/** Every so many revisions one is kept whole, so that none is far from a whole one. */
const WHOLE_EVERY = 32;
/** Longest patches that are worth it, as a share of the whole. */
const PATCH_SHARE = 0.5;

/** How revisions are thinned by their age, days: all of the last one, then one an hour, and one a day after that. */
const ALL_DAYS = 1;
const HOURLY_DAYS = 30;
const DAY_MS = 86_400_000;
const HOUR_MS = 3_600_000;

export interface Revision {
  revision: number;
  rig: Rig;
}

const noRevision = (what: string) => new Failure('not-found', what, 'Take the newest one.');

/** The newest revision of the rig of a project that is on the shelf. Throws a `not-found` {@link Failure}. */
export async function latestRig(db: Db | Tx, projectId: string): Promise<Revision> {
  const { revision, rig } = await newest(db, projectId, false);
  return { revision, rig: readRig(rig) };
}

/** The same of any project, deleted ones that can be taken back among them. */
export const rigOfAny = async (db: Db, projectId: string): Promise<Rig> => readRig((await newest(db, projectId, true)).rig);

/** The newest revision as it was stored: by whatever version of Basil. */
async function newest(db: Db | Tx, projectId: string, deletedToo: boolean): Promise<{ revision: number; rig: unknown }> {
  const row = await db
    .selectFrom('rig_revisions')
    .innerJoin('projects', 'projects.id', 'rig_revisions.project_id')
    .select(['revision', 'rig'])
    .where('project_id', '=', projectId)
    .$if(!deletedToo, (q) => q.where('deleted_at', 'is', null))
    .orderBy('revision', 'desc')
    .limit(1)
    .executeTakeFirst();
  if (!row) throw new Failure('not-found', 'There is no such project.', 'It may have been deleted; go back to the shelf.');
  return row;
}

/** Rigs that were asked for last, by project and revision: a revision never changes, and checking one takes longer than all else of an answer. */
const known = new LRUCache<string, Rig>({ max: 64 });

/** {@link rigRevision}'s rig, from memory where it was asked for lately. It is shared: nobody may change it. */
export async function rigAt(db: Db, projectId: string, revision: number): Promise<Rig> {
  const key = `${projectId} ${revision}`;
  const held = known.get(key);
  if (held) return held;
  const { rig } = await rigRevision(db, projectId, revision);
  known.set(key, rig);
  return rig;
}

/** A stored revision of a project's rig. Throws a `not-found` {@link Failure}: there is none of that number, or it has been thinned out. */
export async function rigRevision(db: Db | Tx, projectId: string, revision: number): Promise<Revision> {
  const nextWhole = sql<number>`(select min(revision) from rig_revisions
    where project_id = ${projectId} and revision >= ${revision} and rig is not null)`;
  const rows = await db
    .selectFrom('rig_revisions')
    .select(['revision', 'rig', 'patches'])
    .where('project_id', '=', projectId)
    .where('revision', '>=', revision)
    .where('revision', '<=', nextWhole)
    .orderBy('revision', 'desc')
    .execute();
  if (rows.at(-1)?.revision !== revision) throw noRevision(`The project has no revision ${revision} of its rig any more.`);
  const rig = rows.reduce<unknown>((next, row) => row.rig ?? applyDiff(next, row.patches!), null);
  return { revision, rig: readRig(rig) };
}

/** Stores the first revision of a new project. */
export async function firstRevision(tx: Tx, projectId: string, rig: Rig): Promise<void> {
  await insertWhole(tx, projectId, 1, rig, 'New project');
}

const insertWhole = (tx: Tx, projectId: string, revision: number, rig: Rig, note: string) =>
  tx
    .insertInto('rig_revisions')
    .values({ project_id: projectId, revision, rig: JSON.stringify(rig), patches: null, note: note.slice(0, 200), name: null })
    .execute();

/**
 * Saves a rig as the revision after `base`, which is kept as what differs from it. When another revision has come in between, nothing is written and a
 * `conflict` {@link Failure} says so; earlier revisions stay whatever happens.
 */
export async function saveRig(db: Db, projectId: string, base: number, document: unknown, note: string): Promise<{ revision: number }> {
  const rig = checkRig(document);
  return db.transaction().execute(async (tx) => {
    // One after another.
    await tx.selectFrom('projects').select('id').where('id', '=', projectId).forUpdate().executeTakeFirst();
    const before = await newest(tx, projectId, false);
    if (before.revision !== base) {
      throw new Failure(
        'conflict',
        `The rig was changed elsewhere: it stands at revision ${before.revision}, and this change began at ${base}.`,
        'Take that one, or save yours over it; both are kept.',
      );
    }
    await insertWhole(tx, projectId, base + 1, rig, note);
    if (base % WHOLE_EVERY !== 0) await packUnder(tx, projectId, base, before.rig, rig);
    await tx.updateTable('projects').set({ changed_at: new Date() }).where('id', '=', projectId).execute();
    // Told once the transaction is through.
    await sql`select pg_notify(${RIG_CHANGED}, ${JSON.stringify({ projectId, revision: base + 1 })})`.execute(tx);
    return { revision: base + 1 };
  });
}

/** Keeps a revision as what differs from the next one, where that is less than the whole. */
async function packUnder(tx: Tx, projectId: string, revision: number, own: unknown, next: unknown): Promise<void> {
  const patches = JSON.stringify(treeDiff(next, own));
  const isWorth = patches.length < PATCH_SHARE * JSON.stringify(own).length;
  await tx
    .updateTable('rig_revisions')
    .set(isWorth ? { rig: null, patches } : { rig: JSON.stringify(own), patches: null })
    .where('project_id', '=', projectId)
    .where('revision', '=', revision)
    .execute();
}

/** What decides whether a revision stays. */
interface Dated {
  revision: number;
  created_at: Date;
  name: string | null;
}

/** Those of some revisions, ascending, that are to go by their age: of each hour, or day, the last one stays, and so do the newest and those with a name. */
export function thinnedOut(revisions: readonly Dated[], now: Date): number[] {
  const spanOf = ({ created_at }: Dated): string | null => {
    const [at, age] = [created_at.getTime(), (now.getTime() - created_at.getTime()) / DAY_MS];
    if (age < ALL_DAYS) return null;
    return age < HOURLY_DAYS ? `hour ${Math.floor(at / HOUR_MS)}` : `day ${Math.floor(at / DAY_MS)}`;
  };
  return revisions
    .filter((r, i) => {
      const [span, next] = [spanOf(r), revisions[i + 1]];
      return next !== undefined && r.name === null && span !== null && span === spanOf(next);
    })
    .map((r) => r.revision);
}

/** Thins out the revisions of a project by their age; answers how many went. */
export async function thinRevisions(db: Db, projectId: string, now = new Date()): Promise<number> {
  return db.transaction().execute(async (tx) => {
    await tx.selectFrom('projects').select('id').where('id', '=', projectId).forUpdate().execute();
    const of = tx.selectFrom('rig_revisions').where('project_id', '=', projectId);
    const rows = await of.select(['revision', 'created_at', 'name']).orderBy('revision').execute();
    const going = new Set(thinnedOut(rows, now));
    if (going.size === 0) return 0;
    // From the newest on: the rig of a revision, and of the next one that stays.
    let [rig, stays]: unknown[] = [null, null];
    let isNextGoing = false;
    for (const { revision } of rows.reverse()) {
      const row = await of.select(['rig', 'patches']).where('revision', '=', revision).executeTakeFirstOrThrow();
      rig = row.rig ?? applyDiff(rig, row.patches!);
      const goes = going.has(revision);
      if (!goes && isNextGoing && row.patches) await packUnder(tx, projectId, revision, rig, stays);
      if (!goes) stays = rig;
      isNextGoing = goes;
    }
    await tx
      .deleteFrom('rig_revisions')
      .where('project_id', '=', projectId)
      .where('revision', 'in', [...going])
      .execute();
    return going.size;
  });
}
