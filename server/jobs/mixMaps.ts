import type { BakeView, StoredMap } from '../../core/api';
import { COMPACT, gainsWithout, stemParts, type Gains } from '../../core/bake';
import { readBlob } from '../data';
import type { JobContext, JobControl } from './jobContext';
import { readStemFiles, readTableFile } from './storedFiles';

/** The mixed light of all maps of a bake. Halves are read piece by piece: those of a large level are larger than memory should be. */
export async function mixMaps(context: JobContext, { maps, plan }: Pick<BakeView, 'maps' | 'plan'>, gains: Gains, control: JobControl) {
  const isHeard = (layer: number) => [0, 1, 2].some((c) => gains.colors[layer * 3 + c] !== 0 || gains.fourths[layer * 3 + c] !== 0);
  const layersOf = (part: { layer: number; layers: number }) => Array.from({ length: part.layers }, (_, k) => part.layer + k);
  const parts = stemParts(plan).filter((p) => layersOf(p).some(isHeard));
  const mixed = [];
  for (const map of maps) {
    const tables = await readTableFile(context.db, maps, map);
    const held = stemParts(plan).filter((p) => map.parts[p.key]);
    const mix = await mixHalves(context, map, parts, gains, control);
    const others = gainsWithout(gains, held.flatMap(layersOf));
    const keys = Object.keys(map.parts).filter((key) => key.startsWith(COMPACT));
    const files = await readStemFiles(context.db, map, keys);
    const whole: Float32Array | null = tables
      ? await context.aside.run('mixParts', { files, tables, plan, gains: others, into: mix }, control)
      : mix;
    mixed.push({ cover: files.cover, mix: whole ?? new Float32Array(0) });
  }
  return mixed;
}

/** The mix of the parts that are halves; null where there are none. */
async function mixHalves(
  { db, aside }: JobContext,
  { parts: hashes }: StoredMap,
  parts: { key: string; layer: number }[],
  gains: Gains,
  control: JobControl,
): Promise<Float32Array | null> {
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
  return mix;
}
