import { emptyHalves, layerCount, readCover, readLayersInto, stemParts, type BakedParts, type HalfStems } from '../../../core/bake';
import type { StoredMap } from '../../../core/api';
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
