import {
  COMPACT,
  emptyHalves,
  joinPlanes,
  readBand,
  readCover,
  readLayersInto,
  readPlanes,
  readTables,
  shownBand,
  stemParts,
  tablesFile,
  type BakedParts,
  type CompactTable,
  type SomeLayers,
  type StoredStems,
} from '../../../core/bake';
import type { StoredBand, StoredMap } from '../../../core/api';
import { sameJson } from '../../../core/units';
import { fileUrl } from '../../api/client';
import { download } from './download';

/** Where a bake's stems lie and what it was traced for. */
export interface StemSource {
  maps: StoredMap[];
  plan: BakedParts;
}

/** Files that are fetched at a time. */
const AT_ONCE = 6;

/**
 * Fetches the stems of all maps of a bake. Rejected when a file cannot be fetched, or is damaged.
 *
 * @param beside a bake of the same layers that is here: of the maps that both have, its own are taken
 */
export async function loadStems(
  { maps, plan }: StemSource,
  signal: AbortSignal,
  progress: (share: number) => void,
  beside: { maps: readonly StoredMap[]; stems: readonly StoredStems[] } | null = null,
): Promise<StoredStems[]> {
  const files = maps.reduce((sum, m) => sum + 1 + Object.values(m.parts).flat().length, 0);
  let done = 0;
  const fetched = async (hash: string) => {
    const bytes = new Uint8Array(await download(fileUrl(hash, 'stems'), signal, () => undefined, { gzip: true }));
    progress(++done / files);
    return bytes;
  };
  const known = new Map<string, Promise<CompactTable[]>>();
  const tablesOf = async (map: StoredMap): Promise<CompactTable[]> => {
    const hash = tablesFile(maps, map);
    if (!hash) return [];
    if (!known.has(hash)) known.set(hash, fetched(hash).then(readTables));
    return known.get(hash)!;
  };
  return Promise.all(
    maps.map(async (map, k) => {
      if (beside && sameJson(beside.maps[k], map)) return beside.stems[k]!;
      const { cover, parts: hashes } = map;
      const tables = await tablesOf(map);
      const texels = readCover(await fetched(cover));
      const halves = emptyLayers(texels, plan, hashes);
      const parts: StoredStems['parts'] = {};
      const waiting = [
        ...halves.parts.map(({ key, place }) => async () => {
          let at = place;
          for (const hash of hashes[key]!) at += readLayersInto(halves.stems, at, await fetched(hash));
        }),
        ...tables.flatMap((part) =>
          hashes[part.key]
            ? [async () => void (parts[part.key] = await wholePart(part, texels.at.length, hashes[part.key]!, fetched))]
            : [],
        ),
      ];
      const next = async (): Promise<void> => {
        for (let load = waiting.shift(); load; load = waiting.shift()) await load();
      };
      await Promise.all(Array.from({ length: AT_ONCE }, next));
      return { ...texels, halves: { layers: halves.layers, stems: halves.stems }, tables, parts };
    }),
  );
}

/** Room for the layers of a bake that are kept as halves, and where each of its parts comes. Without compact parts these are all. */
function emptyLayers(texels: ReturnType<typeof readCover>, plan: BakedParts, hashes: StoredMap['parts']) {
  const isCompact = Object.keys(hashes).some((key) => key.startsWith(COMPACT));
  let place = 0;
  const parts = stemParts(plan)
    .filter((p) => !isCompact || hashes[p.key])
    .map((p) => ({ ...p, place: (place += p.layers) - p.layers }));
  const layers = parts.flatMap((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k));
  return { parts: parts.filter((p) => hashes[p.key]), layers, stems: emptyHalves(texels, layers.length) };
}

/** A compact part of a map, from its pieces. */
async function wholePart(
  part: CompactTable,
  texels: number,
  hashes: string[],
  fetched: (hash: string) => Promise<Uint8Array>,
): Promise<Uint8Array> {
  return joinPlanes(part, texels, await Promise.all(hashes.map(async (hash) => readPlanes(await fetched(hash), part))));
}

/** Bands of a bake at work, and the layers that they hold, ascending. */
export interface BandSource {
  bands: readonly StoredBand[];
  layers: readonly number[];
}

/**
 * Fetches a band; null where it is gone, as its bake is done meanwhile, or was made by an earlier version.
 *
 * @param under its map as it is shown so far
 */
export async function loadBand(
  { band, layers }: { band: StoredBand; layers: readonly number[] },
  under: StoredStems,
  signal: AbortSignal,
): Promise<SomeLayers | null> {
  // It is of use for as long as its bake is at work alone.
  const response = await fetch(fileUrl(band.hash, 'stems'), { signal, cache: 'no-store' });
  if (!response.ok) return null;
  const read = readBand(new Uint8Array(await response.arrayBuffer()), band.texels, layers.length);
  return read && shownBand({ rows: band, band: read, layers }, band.width, under);
}
