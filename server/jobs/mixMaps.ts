import type { BakeView, StoredMap } from '../../core/api';
import { stemParts, type Gains } from '../../core/bake';
import { readBlob } from '../data';
import type { JobContext, JobControl } from './jobContext';

/** The mixed light of all maps of a bake, read piece by piece: the stems of a large level are larger than memory should be. */
export async function mixMaps(context: JobContext, { maps, plan }: BakeView, gains: Gains, control: JobControl) {
  const isHeard = (layer: number) => [0, 1, 2].some((c) => gains.colors[layer * 3 + c] !== 0 || gains.fourths[layer * 3 + c] !== 0);
  const parts = stemParts(plan).filter((p) => Array.from({ length: p.layers }, (_, k) => p.layer + k).some(isHeard));
  const mixed = [];
  for (const map of maps)
    mixed.push({ cover: await readBlob(context.db, map.cover), mix: await mixMap(context, map, parts, gains, control) });
  return mixed;
}

async function mixMap(
  { db, aside }: JobContext,
  { parts: hashes }: StoredMap,
  parts: { key: string; layer: number }[],
  gains: Gains,
  control: JobControl,
): Promise<Float32Array> {
  let mix: Float32Array | null = null;
  for (const { key, layer } of parts) {
    let first = layer;
    for (const hash of hashes[key] ?? []) {
      const added: { mix: Float32Array; layers: number } = await aside.run(
        'mixPiece',
        { bytes: await readBlob(db, hash), first, gains, into: mix },
        control,
      );
      mix = added.mix;
      first += added.layers;
    }
  }
  return mix ?? new Float32Array(0);
}
