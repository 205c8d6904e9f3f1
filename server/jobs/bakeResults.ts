import {
  LAYER,
  bandRanges,
  compactParts,
  finishedRanges,
  joinBlocks,
  largestSum,
  layerCount,
  layerIndex,
  mapsOf,
  readTables,
  stemParts,
  sampleStems,
  sampleStep,
  tracedLayers,
  unpackBand,
  unpackDirect,
  unpackFinished,
  unpackTile,
  type BakeResults,
  type CompactJob,
  type CompactPart,
  type CompactTable,
  type FinishJob,
  type HalfStems,
  type LayerBlock,
  type Piece,
  type PlannedTile,
  type StoredStems,
  type TablesInputs,
  type TexelHalves,
} from '../../core/bake';
import type { StoredMap } from '../../core/api';
import type { Surfaces } from '../../core/level';
import { gunzipSync } from 'node:zlib';
import { readRanges } from '../data';
import { latestRig, storedMaps } from '../stores';
import { unpackMap } from '../workers';
import type { BakeAtWork } from './bakeAtWork';
import type { JobContext } from './jobContext';
import { readStemFiles, readTableFile } from './storedFiles';
import type { StoredJobs } from './storedJobs';

/** What the jobs of a bake left in the database. */
export function bakeResults(context: JobContext, bake: BakeAtWork, surfaces: Surfaces, { jobs, hashes }: StoredJobs): BakeResults {
  const { db, files, lights } = context;
  const { trace } = bake;
  const fileOf = (step: 'direct' | 'gather', tile: PlannedTile) => {
    const place = jobs[step].findIndex((t) => t.map === tile.map && t.top === tile.top);
    return files.read(hashes[step][place]!);
  };
  return {
    light: () => lights.of(bake.id, surfaces, trace, { jobs, hashes }),
    known: () => lights.known(bake.id, surfaces, trace, { jobs, hashes }),
    direct: async (tile) => unpackDirect(await fileOf('direct', tile), tile),
    gathered: async (tile) => unpackTile(await fileOf('gather', tile), tile),
    async bands(map, first, count) {
      const all = tracedLayers(trace).length;
      const own = jobs.denoise.map((band, place) => ({ band, hash: hashes.denoise[place]! })).filter((b) => b.band.map === map);
      return Promise.all(
        own.map(async ({ band, hash }) => unpackBand(await readRanges(db, hash, bandRanges(band.texels, all, first, count)))),
      );
    },
    before: async (job) => (trace.only ? layersBefore(context, bake, job) : null),
    sample: () => sampleOf(context, bake, { jobs, hashes }),
    tables: () => tablesOf(context, bake),
    finished: (job) => finishedLayers(context, bake, { jobs, hashes }, job),
    compactBefore: (job) => compactBefore(context, bake, job),
  };
}

/** The layers of a job as the bake has them that this one builds on. */
async function layersBefore({ db, aside }: JobContext, { base_id, plan }: BakeAtWork, { map, pieces }: FinishJob): Promise<HalfStems> {
  const maps = await storedMaps(db, base_id!);
  const files = await readStemFiles(db, maps[map]!);
  const tables = await readTableFile(db, maps);
  const layers = pieces.flatMap((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k));
  return aside.run('readLayersOf', { files, tables, plan, layers });
}

/** The maps and tables of the bake that one of some objects builds on, where it has all layers in them; null else. */
async function compactBase(
  { db }: JobContext,
  { base_id, open, trace }: BakeAtWork,
): Promise<{ maps: StoredMap[]; tables: CompactTable[] } | null> {
  // Tables are made for the light that they were found from: with openings open there is another.
  if (!trace.only || open) return null;
  const maps = await storedMaps(db, base_id!);
  const bytes = await readTableFile(db, maps);
  if (!bytes || stemParts(trace).some((p) => maps.some((m) => m.parts[p.key]))) return null;
  const tables = readTables(gunzipSync(bytes));
  const isThere = (part: CompactPart) =>
    tables.some((t) => t.key === part.key && (part.kind === 'noise' || (t.kind === part.kind && t.layers.join() === part.layers.join())));
  return compactParts(trace).every(isThere) ? { maps, tables } : null;
}

/** The stems of a map that texels keep their bytes of; null where they have none. */
async function compactBefore(
  context: JobContext,
  bake: BakeAtWork,
  { map }: CompactJob,
): Promise<Pick<StoredStems, 'at' | 'parts'> | null> {
  const base = await compactBase(context, bake);
  const own = base?.maps[map];
  if (!base || !own) return null;
  return unpackMap(await readStemFiles(context.db, own), bake.trace, await readTableFile(context.db, base.maps));
}

/** A sample of all finished layers, from all over the level; or tables that are there already. */
async function sampleOf(context: JobContext, bake: BakeAtWork, { jobs, hashes }: StoredJobs): Promise<TablesInputs> {
  const { db } = context;
  const { project_id, trace } = bake;
  const base = await compactBase(context, bake);
  if (base) return { known: base.tables };
  const maps = mapsOf(jobs.denoise);
  const step = sampleStep(maps.reduce((sum, m) => sum + m.texels, 0));
  const all = layerCount(trace);
  const wanted = new Set(compactParts(trace).flatMap((part) => (part.kind === 'colors' ? part.layers.map(layerIndex(trace)) : [])));
  const largest = Array.from({ length: all }, () => 0);
  const blocks: LayerBlock[] = [];
  for (const { map, texels } of maps) {
    const own = Math.ceil(texels / step);
    const block = { texels: own, layers: new Float32Array(own * all * LAYER) };
    for (const [place, { map: of, pieces }] of jobs.finish.entries()) {
      if (of !== map) continue;
      const layers = layersOfPieces(pieces);
      const ranges = finishedRanges(texels, layers.length, 0, texels);
      const stems = { texels, ...unpackFinished(await readRanges(db, hashes.finish[place]!, ranges)) };
      const sampled = sampleStems(stems, step);
      layers.forEach((layer, k) => {
        block.layers.set(sampled.layers.subarray(k * own * LAYER, (k + 1) * own * LAYER), layer * own * LAYER);
        if (wanted.has(layer)) largest[layer] = Math.max(largest[layer]!, largestSum(stems, k));
      });
    }
    blocks.push(block);
  }
  return { sample: joinBlocks(blocks), largest, rig: (await latestRig(db, project_id)).rig };
}

const layersOfPieces = (pieces: readonly Piece[]): number[] =>
  pieces.flatMap((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k));

/** All finished layers of the texels of a job. */
async function finishedLayers(
  { db }: JobContext,
  { trace }: BakeAtWork,
  { jobs, hashes }: StoredJobs,
  job: CompactJob,
): Promise<TexelHalves> {
  const { map, first, end } = job;
  const whole = mapsOf(jobs.denoise).find((m) => m.map === map)!.texels;
  const texels = end - first;
  const size = texels * LAYER;
  const out = { texels, scales: new Float32Array(layerCount(trace)).fill(1), halves: new Uint16Array(layerCount(trace) * size) };
  for (const [place, { map: of, pieces }] of jobs.finish.entries()) {
    if (of !== map) continue;
    const layers = layersOfPieces(pieces);
    const read = unpackFinished(await readRanges(db, hashes.finish[place]!, finishedRanges(whole, layers.length, first, end)));
    layers.forEach((layer, k) => {
      out.scales[layer] = read.scales[k]!;
      out.halves.set(read.halves.subarray(k * size, (k + 1) * size), layer * size);
    });
  }
  return out;
}

/** The tables of the compact stems of a bake at work. */
async function tablesOf({ db }: JobContext, { id }: BakeAtWork): Promise<CompactTable[]> {
  const bytes = await readTableFile(db, await storedMaps(db, id));
  return bytes ? readTables(gunzipSync(bytes)) : [];
}
