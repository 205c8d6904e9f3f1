import { unzipSync } from 'fflate';
import { Failure } from '../units';

/** A file of its name. */
export interface NamedFile {
  name: string;
  bytes: Uint8Array;
}

/** The files in a zip archive, unpacked up to a number of bytes in all. Throws a `bad-input` Failure. */
export function unzipFiles(bytes: Uint8Array, name: string, mostBytes: number): NamedFile[] {
  let all = 0;
  try {
    const files = unzipSync(bytes, {
      filter: ({ name: path, originalSize }) => {
        // Folders, and what a file manager leaves beside the files.
        if (originalSize === 0 || /(^|\/)(\.|__MACOSX\/)/.test(path)) return false;
        all += originalSize;
        if (all > mostBytes)
          throw new Failure('bad-input', `${name} unpacks to more than ${Math.round(mostBytes / 1e6)} MB.`, 'Bring smaller files.');
        return true;
      },
    });
    return Object.entries(files).map(([path, content]) => ({ name: path, bytes: content }));
  } catch (error) {
    if (error instanceof Failure) throw error;
    throw new Failure('bad-input', `${name} is a damaged zip archive.`, 'Pack its files again.', { cause: error });
  }
}
