import type { StoredMap } from '../../core/api';
import { readBlob, type Db } from '../data';
import type { StemFiles } from '../workers';

/** The stored files of the stems of a lightmap: of all its parts, or of those that are asked for. */
export async function readStemFiles(db: Db, { cover, parts }: StoredMap, keys: readonly string[] = Object.keys(parts)): Promise<StemFiles> {
  const there = keys.filter((key) => parts[key] !== undefined);
  const read = await Promise.all(
    there.map(async (key) => [key, await Promise.all(parts[key]!.map((hash) => readBlob(db, hash)))] as const),
  );
  return { cover: await readBlob(db, cover), parts: Object.fromEntries(read) };
}
