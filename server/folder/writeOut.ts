import { access, constants, mkdir, writeFile } from 'node:fs/promises';
import { Failure } from '../../core/units';

/** What a file system says of a place that nothing can be written to, and what to do about it. */
const PLACES: Readonly<Record<string, readonly [what: string, remedy: string]>> = {
  ENOENT: ['its folder does not exist', 'Make the folder first, or give another path.'],
  ENOTDIR: ['a part of its path is a file', 'Give another path.'],
  EEXIST: ['there is a file of that name', 'Give another path.'],
  EISDIR: ['it is a folder', 'Give the path of a file in it.'],
  EACCES: ['it may not be written to', 'Give a path that you may write to.'],
  EPERM: ['it may not be written to', 'Give a path that you may write to.'],
  EROFS: ['its disk is for reading alone', 'Give a path on another disk.'],
  ENOSPC: ['its disk is full', 'Make room on the disk, or give a path on another one.'],
  ENAMETOOLONG: ['its name is too long', 'Give a shorter one.'],
};

/** Does what writes to a place. Throws a `bad-input` {@link Failure} where that place takes nothing. */
async function at<T>(path: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (cause) {
    const known = PLACES[(cause as NodeJS.ErrnoException).code ?? ''];
    if (!known) throw cause;
    throw new Failure('bad-input', `${path} cannot be written: ${known[0]}.`, known[1], { cause });
  }
}

/** Writes a file that was asked for. Throws a `bad-input` {@link Failure} where it cannot be written. */
export const writeOut = (file: string, data: Uint8Array | string): Promise<void> => at(file, () => writeFile(file, data));

/** Makes a folder that was asked for, with those above it, before anything is worked out for it. Throws as {@link writeOut} does. */
export const outFolder = (folder: string): Promise<void> =>
  at(folder, async () => {
    await mkdir(folder, { recursive: true });
    await access(folder, constants.W_OK);
  });
