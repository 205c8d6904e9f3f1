import { sql, type Selectable } from 'kysely';
import { qualityOf } from '../../core/bake';
import type { KeptBake, KeptBakes } from '../../core/api';
import { Failure } from '../../core/units';
import { changeBlobs, freeBlobs, type BakeTable, type Db, type Tx } from '../data';
import { AT_WORK } from './bakeStates';
import { freeUnusedLevels } from './levels';

/** Most bakes of a project that are kept beside those that are pinned, so that going back to an earlier rig finds its light there. */
const KEPT = 4;
/** Room that they may take together, bytes: the newest stays however large it is. */
const ROOM = 4e9;
/** Most bakes that are pinned. */
const MOST_PINNED = 12;

type KeptRow = Pick<
  Selectable<BakeTable>,
  'id' | 'level_id' | 'created_at' | 'worked_s' | 'pinned' | 'by_itself' | 'plan' | 'layout' | 'noise'
> & { prepared_hash: string; of_level: boolean; bytes: string };

/** Bakes of a project that are done and kept, the one that was shown last first, with what each takes on the disk. */
async function keptRows(db: Db | Tx, projectId: string): Promise<KeptRow[]> {
  const { rows } = await sql<KeptRow>`
    select b.id, b.level_id, l.prepared_hash, b.created_at,
        l.source_hash = shown.source_hash and (l.layout->'placing') is not distinct from (shown.layout->'placing') as of_level,
        b.worked_s, b.pinned, b.by_itself, b.plan, b.layout, b.noise,
        (select coalesce(sum(blobs.size), 0) from blobs where blobs.hash in
          (select s.hash from stems s join bakes o on o.id = s.bake_id where b.id in (o.id, o.opens_of))) as bytes
      from bakes b join projects p on p.id = b.project_id join levels l on l.id = b.level_id join levels shown on shown.id = p.level_id
      where b.project_id = ${projectId} and b.state = 'done' and b.opens_of is null
      order by b.finished_at desc`.execute(db);
  return rows;
}

const asView = ({
  id,
  level_id,
  prepared_hash,
  of_level,
  created_at,
  worked_s,
  pinned,
  plan,
  layout,
  noise,
  bytes,
}: KeptRow): KeptBake => ({
  id,
  levelId: level_id,
  levelHash: prepared_hash,
  isOfLevel: of_level,
  askedAt: created_at.toISOString(),
  seconds: worked_s > 0 ? worked_s : null,
  bytes: Number(bytes),
  pinned,
  isPartial: plan.left !== undefined,
  quality: qualityOf(plan),
  texelsPerM: layout.texelsPerM,
  noise: noise && { allowed: noise.allowed, over: noise.texels > 0 ? Math.max(0, ...Object.values(noise.over)) / noise.texels : 0 },
});

/** The bakes of a project that are kept, newest first, and how many and how much is kept. */
export async function keptBakes(db: Db, projectId: string): Promise<KeptBakes> {
  const rows = await keptRows(db, projectId);
  return { bakes: rows.map(asView), most: KEPT, room: ROOM };
}

/** Keeps a bake that is done whatever comes after it, or no more. Throws a `not-found` or `conflict` {@link Failure}. */
export async function pinBake(db: Db, id: string, pinned: boolean): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const bake = await tx
      .selectFrom('bakes')
      .select(['project_id', 'state', 'pinned', 'opens_of'])
      .where('id', '=', id)
      .forUpdate()
      .executeTakeFirst();
    if (bake?.state !== 'done' || bake.opens_of) throw new Failure('not-found', 'There is no such bake that is done.', 'Reload the page.');
    if (bake.pinned === pinned) return;
    const { n } = await tx
      .selectFrom('bakes')
      .select((eb) => eb.fn.countAll<string>().as('n'))
      .where('project_id', '=', bake.project_id)
      .where('pinned', '=', true)
      .executeTakeFirstOrThrow();
    if (pinned && Number(n) >= MOST_PINNED)
      throw new Failure(
        'conflict',
        `${MOST_PINNED} bakes of this project are pinned already, the most there can be.`,
        'Unpin one of them.',
      );
    await tx.updateTable('bakes').set({ pinned }).where('id', '=', id).execute();
  });
}

/**
 * Deletes a bake that is done. Throws a `not-found` {@link Failure}, or a `conflict` one while a bake at work takes over a part of it.
 */
export async function deleteBake(db: Db, id: string): Promise<void> {
  await changeBlobs(db, async (tx) => {
    const bake = await tx.selectFrom('bakes').select(['project_id', 'state']).where('id', '=', id).forUpdate().executeTakeFirst();
    if (bake?.state !== 'done') throw new Failure('not-found', 'There is no such bake that is done.', 'Reload the page.');
    const builds = await tx.selectFrom('bakes').select('id').where('base_id', '=', id).where('state', 'in', AT_WORK).executeTakeFirst();
    if (builds)
      throw new Failure(
        'conflict',
        'The bake at work takes over a part of this one.',
        'Wait until it is done, or cancel it, then delete this one.',
      );
    await deleteBakes(tx, [id]);
    await freeUnusedLevels(tx, bake.project_id);
  });
}

/** Deletes those finished bakes of a project that are not pinned and no more kept: all but the newest few, as far as there is room for them. */
export async function freeOldBakes(tx: Tx, projectId: string): Promise<void> {
  const rows = await keptRows(tx, projectId);
  const [newest] = rows;
  let room = ROOM;
  const asked = rows.filter((b) => !b.pinned && !b.by_itself);
  const old = [
    // Of those that follow edits each takes the place of the one before.
    ...rows.filter((b) => !b.pinned && b.by_itself && b !== newest),
    ...asked.filter((b, i) => {
      room -= Number(b.bytes);
      return b !== newest && (i >= KEPT || room < 0);
    }),
  ];
  await deleteBakes(
    tx,
    old.map((b) => b.id),
  );
}

/** Deletes bakes that are done, those with openings open that lie over them, and what nothing else holds of them. */
export async function deleteBakes(db: Tx, mains: string[]): Promise<void> {
  if (mains.length === 0) return;
  const over = await db.selectFrom('bakes').select('id').where('opens_of', 'in', mains).execute();
  const ids = [...mains, ...over.map((o) => o.id)];
  const stems = await db.selectFrom('stems').select('hash').where('bake_id', 'in', ids).execute();
  await db.deleteFrom('bakes').where('id', 'in', ids).execute();
  await freeBlobs(
    db,
    stems.map((s) => s.hash),
  );
}
