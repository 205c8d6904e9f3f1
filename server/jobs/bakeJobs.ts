import { isDeepStrictEqual } from 'node:util';
import type PgBoss from 'pg-boss';
import { sql } from 'kysely';
import { type BakePlan, type Tile, packDirect, packTile, stemParts, tracedParts, unpackDirect, unpackTile } from '../../core/bake';
import type { BakeState } from '../../core/api';
import { freeBlobs, readBlob, storeBytes, type Db, type Tx } from '../data';
import { completeBake, endBake, freeFirstLook, insertLevel, moveBake, storedMaps, tilesOf } from '../stores';
import type { PackedMap } from '../workers';
import { send, sendAll, type Jobs } from '../queue/queue';
import type { Shop } from './jobContext';
import { readStems } from './storedStems';

/** A statement takes 65535 values at most. */
const ROWS_AT_ONCE = 5000;

/** Brings the level of a bake to the layout it asks for; answers the hash of the level that it lies on. */
async function layOutForBake({ db, pool }: Shop, bakeId: string): Promise<string> {
  const bake = await db
    .selectFrom('bakes')
    .innerJoin('levels', 'levels.id', 'bakes.level_id')
    .select(['bakes.project_id', 'bakes.layout as wanted', 'levels.layout', 'levels.name', 'levels.source_hash', 'levels.prepared_hash'])
    .where('bakes.id', '=', bakeId)
    .executeTakeFirstOrThrow();
  if (isDeepStrictEqual(bake.layout, bake.wanted)) return bake.prepared_hash;
  const { glb, summary } = await pool.run('prepare', { bytes: await readBlob(db, bake.source_hash), options: bake.wanted });
  return storeBytes(db, glb, async (tx, preparedHash) => {
    const level = { name: bake.name, sourceHash: bake.source_hash, preparedHash, layout: bake.wanted, summary };
    const { id } = await insertLevel(tx, bake.project_id, level);
    await tx.updateTable('bakes').set({ level_id: id }).where('id', '=', bakeId).execute();
    return preparedHash;
  });
}

export async function planBakeJobs(shop: Shop, { bakeId }: Jobs['bake-plan']): Promise<void> {
  const { db, boss, pool, levels } = shop;
  const bake = await bakeAtWork(db, bakeId, ['planning']);
  if (!bake) return;
  const { key, surfaces } = await levels.traced(await layOutForBake(shop, bakeId), bake.project_id, bake.trace.models);
  // The first look needs no tiles, and begins while they are cut.
  const { only, partly } = bake.trace;
  if (only && !only.some((name) => surfaces.objects.includes(name)))
    return endBake(db, bakeId, 'failed', 'None of the objects to bake is in the level. Choose others.');
  if (!partly && !only) await send(boss, 'bake-coarse', { bakeId });
  const tiles = await pool.trace('tiles', surfaces, { key, paths: bake.trace.paths });
  if (tiles.length === 0)
    return endBake(db, bakeId, 'failed', 'The level has no texels to bake. Raise the texel density, or bring in a level with surfaces.');
  await db.transaction().execute(async (tx) => {
    if (!(await moveBake(tx, bakeId, 'planning', { state: 'running', started_at: new Date() }))) return;
    const rows = tiles.map((tile, position) => ({
      bake_id: bakeId,
      position,
      tile: JSON.stringify(tile),
      direct_hash: null,
      result_hash: null,
    }));
    for (let i = 0; i < rows.length; i += ROWS_AT_ONCE) {
      await tx
        .insertInto('bake_jobs')
        .values(rows.slice(i, i + ROWS_AT_ONCE))
        .execute();
    }
    await sendTiles(tx, boss, bakeId);
  });
}

/**
 * Sends those jobs of a bake's step at hand that have no result yet. Where that goes with a change of the bake, both are one
 * transaction: a worker that dies there leaves either all of it or nothing.
 */
export async function sendTiles(db: Db | Tx, boss: PgBoss, bakeId: string): Promise<void> {
  const bake = await db.selectFrom('bakes').select('step').where('id', '=', bakeId).executeTakeFirst();
  if (!bake) return;
  const open = await db
    .selectFrom('bake_jobs')
    .select('position')
    .where('bake_id', '=', bakeId)
    .where(bake.step === 'direct' ? 'direct_hash' : 'result_hash', 'is', null)
    .orderBy('position')
    .execute();
  await sendAll(
    boss,
    bake.step === 'direct' ? 'bake-direct' : 'bake-tile',
    open.map(({ position }) => ({ bakeId, position })),
    db.isTransaction ? (db as Tx) : undefined,
  );
}

/** A bake that is to be worked on, with its level; undefined where it was cancelled, paused or done meanwhile. */
async function bakeAtWork(db: Db, bakeId: string, states: BakeState[]) {
  return db
    .selectFrom('bakes')
    .innerJoin('levels', 'levels.id', 'bakes.level_id')
    .select(['bakes.id', 'bakes.project_id', 'bakes.level_id', 'bakes.plan', 'bakes.trace', 'bakes.base_id', 'levels.prepared_hash'])
    .where('bakes.id', '=', bakeId)
    .where('bakes.state', 'in', states)
    .executeTakeFirst();
}

/** How often the share of a job that is done is noted, milliseconds. */
const NOTE_MS = 1000;

/** Does one tile's part of a step, unless that is done: `work` makes its bytes, which are stored in `column`. */
async function doTile(
  { db, files }: Shop,
  { bakeId, position }: { bakeId: string; position: number },
  column: 'direct_hash' | 'result_hash',
  work: (
    bake: NonNullable<Awaited<ReturnType<typeof bakeAtWork>>>,
    job: { tile: Tile; direct_hash: string | null },
    progress: (share: number) => void,
  ) => Promise<Uint8Array>,
): Promise<boolean> {
  const bake = await bakeAtWork(db, bakeId, ['running']);
  const job = await db
    .selectFrom('bake_jobs')
    .select(['tile', 'direct_hash', 'result_hash'])
    .where('bake_id', '=', bakeId)
    .where('position', '=', position)
    .executeTakeFirst();
  if (!bake || !job) return false;
  if (job[column]) return true;
  let noted = Date.now();
  const note = (share: number) => {
    if (Date.now() - noted < NOTE_MS) return;
    noted = Date.now();
    void db
      .updateTable('bake_jobs')
      .set({ share })
      .where('bake_id', '=', bakeId)
      .where('position', '=', position)
      .where(column, 'is', null)
      .execute()
      .catch(() => undefined);
  };
  const bytes = await work(bake, job, note);
  const hash = await storeBytes(db, bytes, async (tx, stored) => {
    await tx
      .updateTable('bake_jobs')
      .set({ [column]: stored, share: 0 })
      .where('bake_id', '=', bakeId)
      .where('position', '=', position)
      .execute();
    return stored;
  });
  files.keep(hash, bytes);
  // The bake may have been cancelled meanwhile, and its jobs with it.
  if (await bakeAtWork(db, bakeId, ['running', 'paused', 'finishing'])) return true;
  await freeBlobs(db, [hash]);
  return false;
}

/** Whether all tiles of a bake have what a step leaves. */
async function isStepDone(db: Db, bakeId: string, column: 'direct_hash' | 'result_hash'): Promise<boolean> {
  const open = await db
    .selectFrom('bake_jobs')
    .select('position')
    .where('bake_id', '=', bakeId)
    .where(column, 'is', null)
    .limit(1)
    .executeTakeFirst();
  return !open;
}

export async function bakeDirect(shop: Shop, at: Jobs['bake-direct']): Promise<void> {
  const { db, boss, pool, levels } = shop;
  const done = await doTile(shop, at, 'direct_hash', async ({ prepared_hash, project_id, trace: plan }, { tile }, progress) => {
    const { key, surfaces } = await levels.traced(prepared_hash, project_id, plan.models);
    return packDirect(await pool.trace('direct', surfaces, { key, plan, tile }, progress));
  });
  if (!done || !(await isStepDone(db, at.bakeId, 'direct_hash'))) return;
  // Of workers that end the step at once one goes on to the next.
  await db.transaction().execute(async (tx) => {
    const { numUpdatedRows } = await tx
      .updateTable('bakes')
      .set({ step: 'paths' })
      .where('id', '=', at.bakeId)
      .where('step', '=', 'direct')
      .executeTakeFirst();
    if (numUpdatedRows > 0n) await sendTiles(tx, boss, at.bakeId);
  });
}

export async function bakeTile(shop: Shop, at: Jobs['bake-tile']): Promise<void> {
  const { db, boss, pool, levels, lights, files } = shop;
  const done = await doTile(
    shop,
    at,
    'result_hash',
    async ({ prepared_hash, project_id, trace: plan }, { tile, direct_hash }, progress) => {
      const { key, surfaces } = await levels.traced(prepared_hash, project_id, plan.models);
      const light = await lights.of(at.bakeId, surfaces, plan);
      const direct = unpackDirect(await files.read(direct_hash!), tile);
      return packTile(await pool.trace('gather', surfaces, { key, plan, light, direct }, progress));
    },
  );
  if (done && (await isStepDone(db, at.bakeId, 'result_hash'))) await send(boss, 'bake-finish', { bakeId: at.bakeId });
}

export async function bakeCoarse({ db, pool, levels }: Shop, { bakeId }: Jobs['bake-coarse']): Promise<void> {
  const bake = await bakeAtWork(db, bakeId, ['planning', 'running']);
  if (!bake) return;
  const { key, surfaces } = await levels.traced(bake.prepared_hash, bake.project_id, bake.trace.models);
  const maps = await pool.trace('coarse', surfaces, { key, plan: bake.trace });
  if (!(await bakeAtWork(db, bakeId, ['planning', 'running', 'paused']))) return;
  for (const [map, packed] of maps.entries()) await storeMap(db, bakeId, map, packed, Object.keys(packed.parts), true);
  // The bake may have ended meanwhile.
  if (!(await bakeAtWork(db, bakeId, ['planning', 'running', 'paused', 'finishing']))) await freeFirstLook(db, bakeId);
}

/** Stores parts of the stems of one lightmap; what is stored already is replaced. */
async function storeMap(db: Db, bakeId: string, map: number, packed: PackedMap, parts: string[], coarse: boolean): Promise<void> {
  const { width, height, cover } = packed;
  const all: [string, Uint8Array][] = [['cover', cover], ...parts.map((part): [string, Uint8Array] => [part, packed.parts[part]!])];
  const next = async (): Promise<void> => {
    for (let one = all.shift(); one; one = all.shift()) await store(...one);
  };
  const store = async (part: string, bytes: Uint8Array) => {
    await storeBytes(db, bytes, async (tx, hash) => {
      await tx
        .insertInto('stems')
        .values({ bake_id: bakeId, coarse, map, part, width, height, hash })
        .onConflict((c) => c.columns(['bake_id', 'coarse', 'map', 'part']).doUpdateSet({ hash }))
        .execute();
    });
  };
  await Promise.all(Array.from({ length: STORED_AT_ONCE }, next));
}

/** Parts that are stored at a time. */
const STORED_AT_ONCE = 4;

/** Takes over those parts of another bake's stems that a bake did not trace itself. */
async function keepParts(db: Db, bakeId: string, baseId: string, plan: BakePlan, traced: string[]): Promise<void> {
  const kept = stemParts(plan)
    .map((p) => p.key)
    .filter((key) => !traced.includes(key));
  await db
    .insertInto('stems')
    .columns(['bake_id', 'coarse', 'map', 'part', 'width', 'height', 'hash'])
    .expression((eb) =>
      eb
        .selectFrom('stems')
        .select([sql<string>`${bakeId}::uuid`.as('bake_id'), 'coarse', 'map', 'part', 'width', 'height', 'hash'])
        .where('bake_id', '=', baseId)
        .where('coarse', '=', false)
        .where('part', 'in', kept),
    )
    .onConflict((c) => c.doNothing())
    .execute();
}

/** Parts of a bake dealt out to threads, so that each has about as much to filter. */
function sharesOf(plan: BakePlan, traced: readonly string[], threads: number): string[][] {
  const shares = Array.from({ length: threads }, () => ({ keys: [] as string[], work: 0 }));
  const parts = stemParts(plan).filter((p) => traced.includes(p.key));
  for (const { key, layers } of parts.sort((a, b) => b.layers - a.layers)) {
    const least = shares.reduce((a, b) => (b.work < a.work ? b : a));
    least.keys.push(key);
    // The weights of the window are as much work as some layers.
    least.work += layers + 2;
  }
  return shares.map((s) => s.keys).filter((keys) => keys.length > 0);
}

export async function finishBake({ db, boss, pool, levels, files, cores }: Shop, { bakeId }: Jobs['bake-finish']): Promise<void> {
  const bake = await bakeAtWork(db, bakeId, ['running', 'finishing']);
  if (!bake) return;
  await moveBake(db, bakeId, 'running', { state: 'finishing' });
  const { trace } = bake;
  if ((trace.partly || trace.only) && !bake.base_id)
    return endBake(db, bakeId, 'failed', 'The bake that this one builds on is gone. Bake again.');
  const { key, surfaces } = await levels.traced(bake.prepared_hash, bake.project_id, trace.models);
  const rows = await tilesOf(db, bakeId);
  const traced = tracedParts(trace);
  const shares = sharesOf(trace, traced, await cores());
  const base = trace.only ? await storedMaps(db, bake.base_id!) : null;
  for (const map of surfaces.maps.keys()) {
    const own = rows.filter((r) => r.tile.map === map);
    const direct = await Promise.all(own.map(async (r) => unpackDirect(await files.read(r.direct_hash!), r.tile)));
    const tiles = await Promise.all(own.map(async (r) => unpackTile(await files.read(r.result_hash!), r.tile)));
    await Promise.all(
      shares.map(async (keys) => {
        const before = base && (await readStems(db, base[map]!, keys));
        const packed = await pool.trace('finishPacked', surfaces, { key, plan: trace, map, direct, tiles, keys, before });
        await storeMap(db, bakeId, map, packed, keys, false);
      }),
    );
  }
  files.clear();
  if (trace.partly) await keepParts(db, bakeId, bake.base_id!, bake.plan, traced);
  if (await completeBake(db, { id: bakeId, projectId: bake.project_id, levelId: bake.level_id }))
    await send(boss, 'picture', { projectId: bake.project_id });
}
