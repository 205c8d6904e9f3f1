import { sortFaces } from '../../core/sky';
import { packFiles } from '../intake/packFiles';

/** What names of files share from their beginning, without what parts it from their ends. */
export function sharedName(names: readonly string[]): string {
  const [first = ''] = names;
  let length = first.length;
  for (const name of names) while (!name.startsWith(first.slice(0, length))) length--;
  return first.slice(0, length).replace(/[^\p{L}\p{N}]+$/u, '');
}

/** Six files of a sky's faces as one archive, to be sent and kept as one. Throws a `bad-input` Failure where they are not six faces. */
export async function packFaces(files: readonly File[]): Promise<File> {
  sortFaces(files);
  return packFiles(
    files.map((file) => ({ path: file.name, file })),
    sharedName(files.map((f) => f.name)) || 'Six faces',
  );
}
