import { tablesFile } from '../../core/bake';
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

/** The stored file of the tables of a bake's compact stems, gzipped: of one of its maps, or that all have in common; null where it has none. */
export async function readTableFile(db: Db, maps: readonly StoredMap[], map?: StoredMap): Promise<Uint8Array | null> {
  const hash = tablesFile(maps, map ?? { parts: {} });
  return hash ? readBlob(db, hash) : null;
}
