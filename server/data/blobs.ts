import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import { Failure } from '../../core/units';
import { readChunks, type Db, type Tx } from './database';
import { needRoom } from './diskRoom';

/** Bytes per stored chunk, and chunks that are read at a time. */
const CHUNK = 1 << 20;
const READ_AT_ONCE = 8;

/** Chunks after which a file that streams in says that it still does, and the room on the disk is looked at. */
const WATCH_EVERY = 16;
/** A blob that is being written and has said nothing for this long is of a process that died, minutes. */
const ABANDONED_MIN = 10;

/** Columns that hold on to a blob: as long as one of them names its hash, it stays. */
const HOLDERS = [
  ['levels', 'source_hash'],
  ['levels', 'prepared_hash'],
  ['intakes', 'source_hash'],
  ['projects', 'picture_hash'],
  ['bake_jobs', 'result_hash'],
  ['stems', 'hash'],
  ['sky_images', 'source_hash'],
  ['sky_images', 'whole_hash'],
  ['sky_images', 'rest_hash'],
  ['sky_images', 'before_hash'],
  ['sky_images', 'after_hash'],
  ['models', 'hash'],
] as const;

/** Re-cuts a stream into chunks of {@link CHUNK} bytes. */
async function* chunked(source: AsyncIterable<Uint8Array>): AsyncGenerator<Buffer> {
  let parts: Uint8Array[] = [];
  let length = 0;
  for await (const part of source) {
    let rest = part;
    while (length + rest.length >= CHUNK) {
      yield joined([...parts, rest.subarray(0, CHUNK - length)]);
      rest = rest.subarray(CHUNK - length);
      [parts, length] = [[], 0];
    }
    if (rest.length > 0) {
      parts.push(rest);
      length += rest.length;
    }
  }
  if (length > 0) yield joined(parts);
}

/** Parts as one; a single one as it is, without a copy. */
const joined = (parts: Uint8Array[]): Buffer =>
  parts.length === 1 ? Buffer.from(parts[0]!.buffer, parts[0]!.byteOffset, parts[0]!.byteLength) : Buffer.concat(parts);

/** While one transaction gives a blob its holder, no other may decide that the blob has none. */
export const lockBlobs = (tx: Tx) => sql`select pg_advisory_xact_lock(7125001)`.execute(tx);

/**
 * A change with all the blobs that it lets go of, as one transaction: a process that dies there leaves all of it or nothing. Blobs are locked
 * before any row is, as those who store do it too.
 */
export const changeBlobs = <T>(db: Db, change: (tx: Tx) => Promise<T>): Promise<T> =>
  db.transaction().execute(async (tx) => {
    await lockBlobs(tx);
    return change(tx);
  });

/** Makes one of the columns that hold blobs name a hash. */
type Hold<T> = (tx: Tx, hash: string, size: number) => Promise<T>;

const beginBlob = async (db: Db | Tx) => (await db.insertInto('blobs').values({ hash: null }).returning('id').executeTakeFirstOrThrow()).id;

/** Writes the chunks of a blob, calling `watch` now and then. Throws a `too-large` {@link Failure} as soon as more than `limit` bytes have come. */
async function writeChunks(db: Db | Tx, id: string, source: AsyncIterable<Uint8Array>, limit: number, watch?: () => Promise<void>) {
  const digest = createHash('sha256');
  let size = 0;
  let position = 0;
  for await (const bytes of chunked(source)) {
    size += bytes.length;
    if (size > limit)
      throw new Failure(
        'too-large',
        `The file is larger than ${Math.round(limit / 1e6)} MB.`,
        'Split the level, or leave out what needs no light.',
      );
    digest.update(bytes);
    if (position % WATCH_EVERY === WATCH_EVERY - 1) await watch?.();
    await db.insertInto('blob_chunks').values({ blob_id: id, position: position++, bytes }).execute();
  }
  return { hash: digest.digest('hex'), size };
}

/** Gives a blob its hash and its holder; where the same bytes are stored already, those are held instead. */
async function settleBlob<T>(tx: Tx, id: string, { hash, size }: { hash: string; size: number }, hold: Hold<T>): Promise<T> {
  await lockBlobs(tx);
  const known = await tx.selectFrom('blobs').select('id').where('hash', '=', hash).executeTakeFirst();
  if (known) await tx.deleteFrom('blobs').where('id', '=', id).execute();
  else
    await tx
      .updateTable('blobs')
      .set({ hash, size: String(size) })
      .where('id', '=', id)
      .execute();
  return hold(tx, hash, size);
}

/**
 * Stores bytes under their SHA-256, streaming; equal bytes are stored once. `hold` must, in the same transaction, make one
 * of the columns that hold blobs name the hash. The stream may last for hours, so it is not one transaction: what a process
 * that dies on the way leaves, {@link sweepBlobs} finds.
 *
 * Throws a `too-large` {@link Failure} as soon as more than `limit` bytes have come, and a `no-room` one where the disk is nearly full; it leaves
 * nothing then.
 */
export async function storeBlob<T>(db: Db, source: AsyncIterable<Uint8Array>, hold: Hold<T>, limit = Infinity): Promise<T> {
  const id = await beginBlob(db);
  try {
    const written = await writeChunks(db, id, source, limit, async () => {
      await needRoom(db, 'The rest of the file');
      await db
        .updateTable('blobs')
        .set({ touched_at: sql`now()` })
        .where('id', '=', id)
        .execute();
    });
    return await db.transaction().execute((tx) => settleBlob(tx, id, written, hold));
  } catch (error) {
    // Where the database is what failed, a later sweep finds it.
    await db
      .deleteFrom('blobs')
      .where('id', '=', id)
      .where('hash', 'is', null)
      .execute()
      .catch(() => undefined);
    throw error;
  }
}

/** As {@link storeBlob}, of bytes in memory: all of it is one transaction, and a process that dies on the way leaves nothing. */
export const storeBytes = <T>(db: Db, bytes: Uint8Array, hold: Hold<T>): Promise<T> =>
  db.transaction().execute(async (tx) => {
    const id = await beginBlob(tx);
    return settleBlob(tx, id, await writeChunks(tx, id, streamOf(bytes), Infinity), hold);
  });

/** Stores bytes in a transaction that gives their hash a holder; answers the hash. */
export const storeBytesIn = async (tx: Tx, bytes: Uint8Array): Promise<string> => {
  const id = await beginBlob(tx);
  return settleBlob(tx, id, await writeChunks(tx, id, streamOf(bytes), Infinity), (_, hash) => Promise.resolve(hash));
};

/** Bytes in memory as the stream that {@link storeBlob} takes. */
export async function* streamOf(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield bytes;
}

/** Some chunks of a blob, in order. Throws where one is missing or short: bytes that are not there must never pass for zeros. */
async function wholeChunks(db: Db, { id, size }: { id: string; size: string }, first: number, last: number): Promise<Uint8Array[]> {
  const chunks = await readChunks(db, id, first, last);
  for (let position = first; position <= last; position++) {
    const { bytes } = chunks.find((c) => c.position === position) ?? {};
    const wanted = Math.min(CHUNK, Number(size) - position * CHUNK);
    if (bytes?.length !== wanted)
      throw new Error(`A stored file is damaged: ${bytes?.length ?? 0} of the ${wanted} bytes from ${position * CHUNK} on are there`);
  }
  return chunks.sort((a, b) => a.position - b.position).map((c) => c.bytes);
}

/** The bytes of a blob, chunk by chunk. Throws a `not-found` {@link Failure}. */
export async function openBlob(db: Db, hash: string): Promise<{ size: number; chunks: AsyncGenerator<Uint8Array> }> {
  const blob = await db.selectFrom('blobs').select(['id', 'size']).where('hash', '=', hash).executeTakeFirst();
  if (!blob) throw new Failure('not-found', 'There is no such file here.', 'It may have been deleted; reload the page.');
  async function* chunks() {
    const count = Math.ceil(Number(blob!.size) / CHUNK);
    for (let first = 0; first < count; first += READ_AT_ONCE)
      yield* await wholeChunks(db, blob!, first, Math.min(count, first + READ_AT_ONCE) - 1);
  }
  return { size: Number(blob.size), chunks: chunks() };
}

/** All bytes of a blob. Throws a `not-found` {@link Failure}, and an error where they are not those that were stored. */
export async function readBlob(db: Db, hash: string): Promise<Uint8Array> {
  const { size, chunks } = await openBlob(db, hash);
  const out = new Uint8Array(size);
  const digest = createHash('sha256');
  let at = 0;
  for await (const bytes of chunks) {
    digest.update(bytes);
    out.set(bytes, at);
    at += bytes.length;
  }
  if (digest.digest('hex') !== hash) throw new Error(`A stored file of ${size} bytes is damaged: its content has changed`);
  return out;
}

/** Some ranges of the bytes of a blob, each from a first byte to that after the last. Throws a `not-found` {@link Failure}. */
export async function readRanges(db: Db, hash: string, ranges: readonly (readonly [from: number, end: number])[]): Promise<Uint8Array[]> {
  const blob = await db.selectFrom('blobs').select(['id', 'size']).where('hash', '=', hash).executeTakeFirst();
  if (!blob || ranges.some(([, end]) => end > Number(blob.size)))
    throw new Failure('not-found', 'There is no such part of a file here.', 'It may have been deleted; try again.');
  return Promise.all(
    ranges.map(async ([from, end]) => {
      const out = new Uint8Array(end - from);
      if (end === from) return out;
      let first = Math.floor(from / CHUNK) * CHUNK;
      for (const bytes of await wholeChunks(db, blob, first / CHUNK, Math.floor((end - 1) / CHUNK))) {
        out.set(bytes.subarray(Math.max(0, from - first), Math.min(bytes.length, end - first)), Math.max(0, first - from));
        first += CHUNK;
      }
      return out;
    }),
  );
}

/** Of blobs those that nothing holds. */
const isUnheld = sql`hash not in (${sql.join(
  HOLDERS.map(([table, column]) => sql`select ${sql.ref(column)} from ${sql.table(table)} where ${sql.ref(column)} is not null`),
  sql` union `,
)})`;

/** Deletes those of the named blobs that nothing holds any more. */
export async function freeBlobs(db: Db | Tx, hashes: (string | null)[]): Promise<void> {
  const candidates = [...new Set(hashes.filter((h) => h !== null))];
  if (candidates.length === 0) return;
  const free = async (tx: Tx) => {
    await lockBlobs(tx);
    await sql`delete from blobs where hash = any(${candidates}) and ${isUnheld}`.execute(tx);
  };
  await (db.isTransaction ? free(db as Tx) : db.transaction().execute(free));
}

/** Deletes what processes that died have left: files that nobody writes on any more, and what nothing holds. */
export async function sweepBlobs(db: Db): Promise<void> {
  await db.transaction().execute(async (tx) => {
    await lockBlobs(tx);
    await sql`delete from blobs where (hash is null and touched_at < now() - make_interval(mins => ${ABANDONED_MIN})) or ${isUnheld}`.execute(
      tx,
    );
  });
}
