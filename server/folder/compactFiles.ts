import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  TABLES_KEY,
  compactMaps,
  joinPlanes,
  mixCompact,
  momentsOf,
  readCover,
  readPlanes,
  readTables,
  spreadOverMap,
  writeCover,
  writePlanes,
  writeTables,
  type BakeManifest,
  type CompactStems,
  type Gains,
  type HalfStems,
} from '../../core/bake';
import type { Rig } from '../../core/rig';
import { Failure } from '../../core/units';
import { writeOut } from './writeOut';

/** The key of the file that says which texels of a map surface covers. */
const COVER_KEY = 'cover';

const FORMULA = 'see docs/bake.md, What is kept; basil mix reads it';

/** Writes the stems of all maps in their compact form, and names the files in the manifest. */
export async function writeCompact(maps: readonly HalfStems[], rig: Rig, folder: string, manifest: BakeManifest): Promise<void> {
  const { plan } = manifest;
  const { tables, maps: compact } = compactMaps(maps, plan, momentsOf(rig, plan));
  const write = async (map: number, key: string, name: string, bytes: Uint8Array) => {
    const file = `stems-${name}.bin`;
    await writeOut(join(folder, file), bytes);
    manifest.files.push({ file, map, holds: `compact stems: ${key}`, unit: 'bytes', compact: key, formula: FORMULA });
  };
  await write(0, TABLES_KEY, 'tables', writeTables(tables));
  for (const [map, stems] of compact.entries()) {
    await write(map, COVER_KEY, `${map}-cover`, writeCover(stems));
    for (const [place, { key }] of tables.entries())
      await write(map, key, `${map}-${place}`, writePlanes(stems.parts[key]!, stems.at.length));
  }
}

/** Whether a manifest names compact stems. */
export const hasCompact = ({ files }: BakeManifest): boolean => files.some((f) => f.compact === TABLES_KEY);

/**
 * The mix of all maps from their compact stems, RGBA.
 *
 * @param refuse makes of what is wrong a failure
 */
export async function mixCompactFiles(
  folder: string,
  { plan, maps, files }: BakeManifest,
  gains: Gains,
  refuse: (what: string) => Failure,
): Promise<Float32Array[]> {
  const bytesOf = async (map: number, key: string): Promise<{ file: string; bytes: Uint8Array }> => {
    const file = files.find((f) => f.map === map && f.compact === key)?.file;
    if (!file) throw refuse(`its manifest.json names no file for "${key}" of map ${map}`);
    const bytes = await readFile(join(folder, file)).catch(() => {
      throw refuse(`${file} is missing`);
    });
    return { file, bytes };
  };
  const parsed = async <T>(map: number, key: string, read: (bytes: Uint8Array) => T): Promise<T> => {
    const { file, bytes } = await bytesOf(map, key);
    try {
      return read(bytes);
    } catch (error) {
      if (error instanceof Failure) throw refuse(`${file} is damaged`);
      throw error;
    }
  };
  const tables = await parsed(0, TABLES_KEY, readTables);
  const mixed: Float32Array[] = [];
  for (const [map, { width, height }] of maps.entries()) {
    const cover = await parsed(map, COVER_KEY, readCover);
    if (cover.width !== width || cover.height !== height) throw refuse(`the texels of map ${map} are not of ${width} x ${height}`);
    const parts: CompactStems['parts'] = {};
    for (const part of tables)
      parts[part.key] = await parsed(map, part.key, (bytes) => joinPlanes(part, cover.at.length, [readPlanes(bytes, part)]));
    mixed.push(spreadOverMap(cover, mixCompact(tables, plan, { ...cover, parts }, gains)));
  }
  return mixed;
}
