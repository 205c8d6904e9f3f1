import { sql } from 'kysely';
import type { ShelfEntry } from '../../core/api';
import { packedThing, readRig, type Rig, type ShelfKind } from '../../core/rig';
import { Failure, freeName } from '../../core/units';
import type { Db } from '../data';

/** Most things that the shelf keeps, and the largest of them, bytes of JSON. */
const [MOST, MOST_BYTES] = [1000, 2_000_000];
/** Has keeping go on one at a time: names are chosen by those that are there. */
const LOCK = 0x5e1f;

const gone = () => new Failure('not-found', 'That is not on the shelf any more.', 'Reload the shelf.');

/** What is kept for all projects, by kind and name. */
export async function listShelf(db: Db): Promise<ShelfEntry[]> {
  const rows = await db
    .selectFrom('shelf_things')
    .select(['id', 'kind', 'name', 'created_at'])
    .orderBy('kind')
    .orderBy(sql`lower(name)`)
    .limit(MOST)
    .execute();
  return rows.map(({ id, kind, name, created_at }) => ({ id, kind, name, at: created_at.toISOString() }));
}

/**
 * Keeps a packed thing, under a name that no other of its kind has. Throws a `bad-input` {@link Failure} for what is no rig with one thing of that kind,
 * `too-large`, and `conflict` where the shelf is full.
 */
export async function keepOnShelf(db: Db, kind: ShelfKind, document: unknown): Promise<{ id: string; name: string }> {
  const rig = readRig(document);
  const thing = packedThing(rig, kind);
  const text = JSON.stringify(rig);
  if (text.length > MOST_BYTES)
    throw new Failure(
      'too-large',
      `It takes ${(text.length / 1e6).toFixed(1)} MB; the shelf keeps up to ${MOST_BYTES / 1e6}.`,
      'Keep less at once.',
    );
  return db.transaction().execute(async (tx) => {
    await sql`select pg_advisory_xact_lock(${LOCK})`.execute(tx);
    const all = await tx.selectFrom('shelf_things').select(['id', 'kind', 'name']).execute();
    if (all.length >= MOST) throw new Failure('conflict', `The shelf is full: it keeps ${MOST} things.`, 'Remove some of them first.');
    const { name } = freeName(
      all.filter((t) => t.kind === kind),
      thing.name,
    );
    const { id } = await tx.insertInto('shelf_things').values({ kind, name, rig: text }).returning('id').executeTakeFirstOrThrow();
    return { id, name };
  });
}

/** A thing of the shelf as it is packed, upgraded. Throws a `not-found` {@link Failure}. */
export async function shelfThing(db: Db, id: string): Promise<{ kind: ShelfKind; name: string; rig: Rig }> {
  const row = await db.selectFrom('shelf_things').select(['kind', 'name', 'rig']).where('id', '=', id).executeTakeFirst();
  if (!row) throw gone();
  return { kind: row.kind, name: row.name, rig: readRig(row.rig) };
}

/** Gives a thing of the shelf another name. Throws a `not-found` {@link Failure}, and `conflict` where another of its kind has that name. */
export async function renameOnShelf(db: Db, id: string, name: string): Promise<void> {
  const { numUpdatedRows } = await db
    .updateTable('shelf_things')
    .set({ name })
    .where('id', '=', id)
    .executeTakeFirst()
    .catch((error: unknown) => {
      if ((error as { code?: string }).code !== '23505') throw error;
      throw new Failure('conflict', `There is another "${name}" on the shelf.`, 'Choose another name.');
    });
  if (numUpdatedRows === 0n) throw gone();
}

/** Takes a thing off the shelf; copies in projects stay. Throws a `not-found` {@link Failure}. */
export async function removeFromShelf(db: Db, id: string): Promise<void> {
  const { numDeletedRows } = await db.deleteFrom('shelf_things').where('id', '=', id).executeTakeFirst();
  if (numDeletedRows === 0n) throw gone();
}
