import type { StoredMap } from '../../core/api';
import { readBlob, type Db } from '../data';
import type { PackedMap } from '../workers';

/** The stems of a lightmap as they are stored, all parts of them or those that are asked for. */
export async function readStems(
  db: Db,
  { width, height, cover, parts }: StoredMap,
  keys: readonly string[] = Object.keys(parts),
): Promise<PackedMap> {
  const there = keys.filter((key) => parts[key] !== undefined);
  const read = await Promise.all(there.map(async (key) => [key, await readBlob(db, parts[key]!)] as const));
  return { width, height, cover: await readBlob(db, cover), parts: Object.fromEntries(read) };
}
