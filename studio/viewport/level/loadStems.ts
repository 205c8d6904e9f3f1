import {
  emptyHalves,
  layerCount,
  readBand,
  readCover,
  readLayersInto,
  shownBand,
  stemParts,
  type BakedParts,
  type HalfStems,
} from '../../../core/bake';
import type { StoredBand, StoredMap } from '../../../core/api';
import { fileUrl } from '../../api/client';
import { download } from './download';

/** Where a bake's stems lie and what it was traced for. */
export interface StemSource {
  maps: StoredMap[];
  plan: BakedParts;
}

/** Files that are fetched at a time. */
const AT_ONCE = 6;

/** Fetches the stems of all maps of a bake. Rejected when a file cannot be fetched, or is damaged. */
export async function loadStems({ maps, plan }: StemSource, signal: AbortSignal, progress: (share: number) => void): Promise<HalfStems[]> {
  const parts = stemParts(plan);
  const files = maps.reduce((sum, m) => sum + 1 + Object.values(m.parts).flat().length, 0);
  let done = 0;
  const fetched = async (hash: string) => {
    const bytes = new Uint8Array(await download(fileUrl(hash, 'stems'), signal, () => undefined, { gzip: true }));
    progress(++done / files);
    return bytes;
  };
  return Promise.all(
    maps.map(async ({ cover, parts: hashes }) => {
      const stems = emptyHalves(readCover(await fetched(cover)), layerCount(plan));
      const waiting = parts.filter((p) => hashes[p.key]);
      const next = async (): Promise<void> => {
        for (let part = waiting.shift(); part; part = waiting.shift()) {
          let { layer } = part;
          for (const hash of hashes[part.key]!) layer += readLayersInto(stems, layer, await fetched(hash));
        }
      };
      await Promise.all(Array.from({ length: AT_ONCE }, next));
      return stems;
    }),
  );
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
  under: HalfStems,
  signal: AbortSignal,
): Promise<HalfStems | null> {
  // It is of use for as long as its bake is at work alone.
  const response = await fetch(fileUrl(band.hash, 'stems'), { signal, cache: 'no-store' });
  if (!response.ok) return null;
  const read = readBand(new Uint8Array(await response.arrayBuffer()), band.texels, layers.length);
  return read && shownBand({ rows: band, band: read, layers }, band.width, under);
}
