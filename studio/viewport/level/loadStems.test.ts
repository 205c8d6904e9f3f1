import { gzipSync } from 'node:zlib';
import {
  TABLES_KEY,
  compactMaps,
  fromHalves,
  layerCount,
  planBake,
  stemParts,
  takeLayers,
  toHalves,
  writeCover,
  writeLayers,
  writePlanes,
  writeTables,
  type MapStems,
} from '../../../core/bake';
import { defaultRig } from '../../../core/rig';
import { loadStems } from './loadStems';

const plan = planBake(defaultRig());
const at = Uint32Array.from([1, 4, 5, 11]);
const stems: MapStems = {
  width: 4,
  height: 4,
  at,
  layers: Float32Array.from({ length: at.length * 4 * layerCount(plan) }, (_, i) => Math.sin(i) + 2),
};
const halves = toHalves(stems);
const files = new Map<string, Uint8Array>([['cover', gzipSync(writeCover(stems))]]);
const parts: Record<string, string[]> = {};
for (const { key, layer, layers } of stemParts(plan)) {
  // Large parts are stored in pieces.
  const pieces = layers > 7 ? [7, layers - 7] : [layers];
  parts[key] = pieces.map((_, k) => (k === 0 ? key : `${key}, rest`));
  pieces.forEach((count, k) => files.set(parts[key]![k]!, gzipSync(writeLayers(takeLayers(halves, layer + 7 * k, count)))));
}
const map = { width: 4, height: 4, cover: 'cover', parts };

const before = globalThis.fetch;
beforeEach(() => {
  globalThis.fetch = ((url: string) => {
    const bytes = files.get(decodeURIComponent(/files\/([^?]*)/.exec(url)![1]!));
    return Promise.resolve(bytes ? new Response(bytes as BodyInit) : new Response(null, { status: 404 }));
  }) as typeof fetch;
});
afterAll(() => void (globalThis.fetch = before));

describe('stems that are fetched', () => {
  it('are those that were stored, part by part, and the share tells of all files', async () => {
    const shares: number[] = [];
    const [loaded] = await loadStems({ maps: [map], plan }, new AbortController().signal, (share) => shares.push(share));
    expect(loaded!.at).toEqual(at);
    expect(fromHalves(loaded!.halves.stems).layers).toEqual(fromHalves(halves).layers);
    expect(shares).toHaveLength(files.size);
    expect(shares.at(-1)).toBe(1);
    expect([...shares].sort((a, b) => a - b)).toEqual(shares);
  });

  it('stay dark where a part is not there yet, and are refused where a file is gone or damaged', async () => {
    const { sky, ...others } = parts;
    const [loaded] = await loadStems({ maps: [{ ...map, parts: others }], plan }, new AbortController().signal, () => undefined);
    expect(
      fromHalves(loaded!.halves.stems)
        .layers.subarray(0, 25 * at.length * 4)
        .every((v) => v === 0),
    ).toBe(true);
    const load = (changed: Record<string, string[]>) =>
      loadStems({ maps: [{ ...map, parts: { ...parts, ...changed } }], plan }, new AbortController().signal, () => undefined);
    await expect(load({ sky: ['gone'] })).rejects.toThrow('404');
    await expect(load({ sky: ['cover'] })).rejects.toThrow('damaged');
    expect(sky).toEqual(['sky', 'sky, rest']);
  });

  it('are compact where they were stored so, with those layers as halves that were traced since', async () => {
    const made = compactMaps([halves], plan, []);
    const [part] = stemParts(plan).filter((p) => p.kind === 'sun');
    const compact: Record<string, string[]> = { [TABLES_KEY]: [TABLES_KEY], [part!.key]: [part!.key] };
    files.set(TABLES_KEY, gzipSync(writeTables(made.tables)));
    for (const [key, planes] of Object.entries(made.maps[0]!.parts)) {
      const bytes = planes.length / at.length;
      // In two pieces: the first texel, and the others.
      const pieces = [
        [0, 1],
        [1, at.length],
      ].map(([first, end]) =>
        Uint8Array.from(
          Array.from({ length: bytes }, (_, k) => Array.from(planes.subarray(k * at.length + first!, k * at.length + end!))).flat(),
        ),
      );
      compact[key] = pieces.map((_, k) => `${key} ${k}`);
      pieces.forEach((p, k) => files.set(compact[key]![k]!, gzipSync(writePlanes(p, k === 0 ? 1 : at.length - 1))));
    }
    const [loaded] = await loadStems({ maps: [{ ...map, parts: compact }], plan }, new AbortController().signal, () => undefined);
    expect(loaded!.halves.layers).toEqual([part!.layer]);
    expect(loaded!.parts).toEqual(made.maps[0]!.parts);
    expect(loaded!.tables.map((t) => t.key)).toEqual(made.tables.map((t) => t.key));
  });
});
