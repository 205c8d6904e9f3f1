import {
  bandRanges,
  emptyHalves,
  readCover,
  readLayersInto,
  stemParts,
  tracedLayers,
  unpackBand,
  unpackDirect,
  unpackTile,
  type BakeResults,
  type FinishJob,
  type HalfStems,
  type PlannedTile,
} from '../../core/bake';
import type { Surfaces } from '../../core/level';
import { gunzipSync } from 'node:zlib';
import { readRanges } from '../data';
import { storedMaps } from '../stores';
import type { BakeAtWork } from './bakeAtWork';
import type { JobContext } from './jobContext';
import { readStemFiles } from './storedFiles';
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
  };
}

/** The layers of a job as the bake has them that this one builds on. */
async function layersBefore({ db }: JobContext, { base_id, plan }: BakeAtWork, { map, pieces }: FinishJob): Promise<HalfStems> {
  const base = (await storedMaps(db, base_id!))[map]!;
  const { cover, parts } = await readStemFiles(db, base, [...new Set(pieces.map((p) => p.key))]);
  const texels = readCover(gunzipSync(cover));
  const out = emptyHalves(
    texels,
    pieces.reduce((sum, p) => sum + p.layers, 0),
  );
  const size = texels.at.length * 4;
  let at = 0;
  for (const { key, first, layers } of pieces) {
    const whole = emptyHalves(texels, stemParts(plan).find((p) => p.key === key)!.layers);
    let read = 0;
    for (const piece of parts[key] ?? []) read += readLayersInto(whole, read, gunzipSync(piece));
    out.scales.set(whole.scales.subarray(first, first + layers), at);
    out.halves.set(whole.halves.subarray(first * size, (first + layers) * size), at * size);
    at += layers;
  }
  return out;
}
