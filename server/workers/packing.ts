import { gunzipSync, gzipSync } from 'node:zlib';
import {
  TABLES_KEY,
  emptyHalves,
  joinPlanes,
  mapOutline,
  packBand,
  packBounced,
  packDirect,
  packFinished,
  packTile,
  readCover,
  readLayersInto,
  readPlanes,
  readTables,
  stemParts,
  takeLayers,
  writeCover,
  writeLayers,
  writePlanes,
  writeTables,
  type BakedParts,
  type BounceJob,
  type BouncedLight,
  type CompactJob,
  type CompactStems,
  type CompactTable,
  type DenoisedBand,
  type FinishJob,
  type HalfStems,
  type JobResults,
  type JobStep,
  type NoiseSums,
  type Piece,
  type StoredStems,
  type Tile,
  type TileDirect,
  type TileStems,
} from '../../core/bake';
import type { Surfaces } from '../../core/level';

/** How hard stems are compressed: noise gives way little, whatever the effort. */
const STEM_LEVEL = 1;

/** What a job made, as it is stored: one file for later steps, the files of finished stems, or nothing where tiles have to be traced again. */
export type PackedResult =
  | { kind: 'file'; bytes: Uint8Array; texels: number; noise: NoiseSums | null }
  | { kind: 'stems'; map: PackedMap }
  | { kind: 'outdated'; tiles: Tile[] };

export function packResult(
  { step, job, isCompact }: { step: JobStep; job: unknown; isCompact: boolean },
  result: JobResults[JobStep],
  noise: NoiseSums | null,
): PackedResult {
  if (step === 'finish') {
    const stems = result as HalfStems;
    if (!isCompact) return { kind: 'stems', map: packPieces(stems, (job as FinishJob).pieces) };
    return { kind: 'file', bytes: packFinished(stems), texels: stems.at.length, noise };
  }
  if (step === 'tables') {
    const bytes = pack(writeTables(result as CompactTable[]));
    return { kind: 'stems', map: { width: 0, height: 0, cover: null, pieces: [{ key: TABLES_KEY, first: 0, bytes }] } };
  }
  if (step === 'bounce') return { kind: 'file', bytes: packBounced(result as BouncedLight), texels: (job as BounceJob).texels, noise };
  if (step === 'denoise') {
    const band = result as DenoisedBand;
    return { kind: 'file', bytes: packBand(band), texels: band.valid.length, noise };
  }
  const { at } = result as TileDirect | TileStems;
  const bytes = step === 'direct' ? packDirect(result as TileDirect) : packTile(result as TileStems);
  return { kind: 'file', bytes, texels: at.length, noise };
}

/** Stems of one lightmap as they are stored: compressed, piece by piece. */
export interface PackedMap {
  width: number;
  height: number;
  /** Null where another job stores it. */
  cover: Uint8Array | null;
  pieces: { key: string; first: number; bytes: Uint8Array }[];
}

const pack = (bytes: Uint8Array) => gzipSync(bytes, { level: STEM_LEVEL });

/** Packs the compact parts of some texels of a map; the first of them bring its cover. */
export function packParts(surfaces: Surfaces, { map, first, end }: CompactJob, parts: CompactStems['parts']): PackedMap {
  const { width, height } = surfaces.maps[map]!;
  const cover = first === 0 ? pack(writeCover(mapOutline(surfaces, map))) : null;
  const pieces = Object.entries(parts).map(([key, planes]) => ({ key, first, bytes: pack(writePlanes(planes, end - first)) }));
  return { width, height, cover, pieces };
}

/** Packs stems that hold the layers of these pieces one after another. */
export function packPieces(stems: HalfStems, pieces: readonly Piece[]): PackedMap {
  let at = 0;
  const packed = pieces.map(({ key, first, layers }) => {
    const bytes = pack(writeLayers(takeLayers(stems, at, layers)));
    at += layers;
    return { key, first, bytes };
  });
  return { width: stems.width, height: stems.height, cover: pack(writeCover(stems)), pieces: packed };
}

/** The files of the stems of one lightmap: which texels surface covers, and the pieces of its parts by the keys of {@link stemParts}. */
export interface StemFiles {
  cover: Uint8Array;
  parts: Record<string, Uint8Array[]>;
}

/** The stems of one lightmap out of their files and of that of the tables; parts that are missing stay dark. */
export function unpackMap({ cover, parts }: StemFiles, plan: BakedParts, tables: Uint8Array | null): StoredStems {
  const texels = readCover(gunzipSync(cover));
  const held = stemParts(plan).filter((p) => parts[p.key]);
  const layers = held.flatMap((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k));
  const stems = emptyHalves(texels, layers.length);
  let first = 0;
  for (const { key, layers: count } of held) {
    let at = first;
    for (const piece of parts[key]!) at += readLayersInto(stems, at, gunzipSync(piece));
    first += count;
  }
  const own = tables ? readTables(gunzipSync(tables)) : [];
  const compact = own.flatMap((part): [string, Uint8Array][] => {
    const pieces = parts[part.key];
    if (!pieces) return [];
    return [
      [
        part.key,
        joinPlanes(
          part,
          texels.at.length,
          pieces.map((piece) => readPlanes(gunzipSync(piece), part)),
        ),
      ],
    ];
  });
  return { ...texels, halves: { layers, stems }, tables: own, parts: Object.fromEntries(compact) };
}
