import { statfs } from 'node:fs/promises';
import { sql } from 'kysely';
import { Failure } from '../../core/units';
import type { Db, Tx } from './database';

/** Bytes that are to stay free on the disk of the database, so that it can go on writing: its journal alone may grow by 2 GB. */
const RESERVE_BYTES = 2e9;

/** What of {@link RESERVE_BYTES} jobs that are begun may still use: they hold below it. */
const HELD_SHARE = 0.5;

/** Bytes that the disk itself must have for jobs to go on, whatever room the database has inside: for its journal. */
const LEAST_FREE_BYTES = 0.1e9;

/** What stored bytes occupy in the database, as a multiple of their own (measured: 136 MB of 130). */
const OVERHEAD = 1.05;
/** How long what the database has inside is taken as known, ms. */
const KNOWN_MS = 20_000;

/** How the disk of the data folder stands, bytes. */
export interface DiskRoom {
  /** What is free on it, and what the database has free inside its own files: those do not shrink when something is deleted. */
  free: number;
  /** What is to stay free. */
  reserve: number;
  /** Whether jobs wait for room. */
  holds: boolean;
}

/** What is to stay free: BASIL_RESERVE_MB where the operator says so. */
function reserveBytes(): number {
  const megabytes = Number(process.env.BASIL_RESERVE_MB);
  return process.env.BASIL_RESERVE_MB && megabytes >= 0 ? megabytes * 1e6 : RESERVE_BYTES;
}

let inside: { at: number; bytes: Promise<number> } | null = null;

/** What is free inside the files of the database that hold stored bytes. */
async function freeInside(db: Db | Tx): Promise<number> {
  const { rows } = await sql<{ size: string; live: string }>`
    select pg_total_relation_size('blob_chunks') as size, (select coalesce(sum(size), 0) from blobs) as live`.execute(db);
  return Math.max(0, Number(rows[0]!.size) - Number(rows[0]!.live) * OVERHEAD);
}

/** The room on the disk of the data folder that BASIL_DATA names; null where it is on another machine, and not known. */
export async function diskRoom(db: Db | Tx): Promise<DiskRoom | null> {
  const folder = process.env.BASIL_DATA;
  if (!folder) return null;
  const disk = await statfs(folder).catch(() => null);
  if (disk === null) return null;
  if (inside === null || Date.now() - inside.at > KNOWN_MS) {
    inside = { at: Date.now(), bytes: freeInside(db) };
    inside.bytes.catch(() => (inside = null));
  }
  const onDisk = disk.bavail * disk.bsize;
  const [free, reserve] = [onDisk + (await inside.bytes), reserveBytes()];
  return { free, reserve, holds: free < reserve * HELD_SHARE || onDisk < Math.min(reserve, LEAST_FREE_BYTES) };
}

const inWords = (bytes: number) => (bytes < 1e9 ? `${Math.floor(bytes / 1e6)} MB` : `${(bytes / 1e9).toFixed(1)} GB`);

/**
 * Makes sure that there is room for what is about to be stored.
 *
 * @param what that, to begin a sentence with: "The file", "A bake"
 * @param bytes how large it is, where that is known
 * @throws a `no-room` {@link Failure} that says how much is free and how much there has to be
 */
export async function needRoom(db: Db | Tx, what: string, bytes = 0): Promise<void> {
  const room = await diskRoom(db);
  if (room === null || room.free - bytes >= room.reserve) return;
  throw new Failure(
    'no-room',
    `${what} has no room: ${inWords(room.free)} are free on the disk of Basil's data, and ${inWords(bytes + room.reserve)} have to be.`,
    'Make room on that disk, or tidy or delete projects, and try again.',
  );
}
