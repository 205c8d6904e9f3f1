import { unzipFiles, type NamedFile } from '../image';
import { Failure } from '../units';

/** Most bytes that a packed level comes to when it is unpacked. */
const MOST_BYTES = 1_200_000_000;

const refuse = (message: string, remedy: string): never => {
  throw new Failure('bad-input', message, remedy);
};

/** A level out of an archive: binary glTF, or a .gltf with the files that it refers to, by the names it has for them. */
export interface PackedLevel {
  isBinary: boolean;
  bytes: Uint8Array;
  /** A file that the level refers to, by its name for it; null where it did not come along. */
  resourceOf(uri: string): Uint8Array | null;
}

/** Parts of a path without `.` and `..`; letters are alike large and small, for file systems differ. */
function plainPath(path: string): string {
  const parts: string[] = [];
  for (const part of path.replace(/\\/g, '/').split('/')) {
    if (part === '..') parts.pop();
    else if (part !== '.' && part !== '') parts.push(part.toLowerCase());
  }
  return parts.join('/');
}

const decoded = (uri: string): string => {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
};

/** Finds the level in a zip archive. Throws a `bad-input` Failure where it holds none, or more than one. */
export function unpackLevel(bytes: Uint8Array): PackedLevel {
  const files = unzipFiles(bytes, 'The archive', MOST_BYTES);
  const levels = files.filter(({ name }) => /\.(glb|gltf)$/i.test(name));
  const [level] = levels;
  if (!level) return refuse('The archive holds no .glb and no .gltf.', 'Pack the level with its files, and drop that.');
  if (levels.length > 1)
    refuse(`The archive holds ${levels.length} levels: ${levels.map((l) => l.name).join(', ')}.`, 'Pack one of them alone.');
  return { isBinary: /\.glb$/i.test(level.name), bytes: level.bytes, resourceOf: resourcesBeside(level, files) };
}

function resourcesBeside(level: NamedFile, files: readonly NamedFile[]): (uri: string) => Uint8Array | null {
  const byPath = new Map(files.map(({ name, bytes }) => [plainPath(name), bytes]));
  const byName = new Map(files.map(({ name, bytes }) => [plainPath(name).split('/').pop()!, bytes]));
  const folder = level.name.includes('/') ? level.name.slice(0, level.name.lastIndexOf('/') + 1) : '';
  return (uri) => {
    const path = plainPath(folder + decoded(uri));
    // Files that were dropped one by one have lost their folders.
    return byPath.get(path) ?? byName.get(path.split('/').pop()!) ?? null;
  };
}
