import { statfs } from 'node:fs/promises';
import { Failure } from '../../core/units';

/** Bytes that are to stay free on the disk of the database, so that it can go on writing: its journal alone may grow by 2 GB. */
const RESERVE_BYTES = 2e9;

/** What of {@link RESERVE_BYTES} jobs that are begun may still use: they hold below it. */
const HELD_SHARE = 0.5;

/** How the disk of the data folder stands, bytes. */
export interface DiskRoom {
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

/** The room on the disk of the data folder that BASIL_DATA names; null where it is on another machine, and not known. */
export async function diskRoom(folder = process.env.BASIL_DATA): Promise<DiskRoom | null> {
  if (!folder) return null;
  try {
    const { bavail, bsize } = await statfs(folder);
    const [free, reserve] = [bavail * bsize, reserveBytes()];
    return { free, reserve, holds: free < reserve * HELD_SHARE };
  } catch {
    return null;
  }
}

const inWords = (bytes: number) => (bytes < 1e9 ? `${Math.floor(bytes / 1e6)} MB` : `${(bytes / 1e9).toFixed(1)} GB`);

/**
 * Makes sure that there is room for what is about to be stored.
 *
 * @param what that, to begin a sentence with: "The file", "A bake"
 * @param bytes how large it is, where that is known
 * @throws a `no-room` {@link Failure} that says how much is free and how much there has to be
 */
export async function needRoom(what: string, bytes = 0): Promise<void> {
  const room = await diskRoom();
  if (room === null || room.free - bytes >= room.reserve) return;
  throw new Failure(
    'no-room',
    `${what} has no room: ${inWords(room.free)} are free on the disk of Basil's data, and ${inWords(bytes + room.reserve)} have to be.`,
    'Make room on that disk, or tidy or delete projects, and try again.',
  );
}
