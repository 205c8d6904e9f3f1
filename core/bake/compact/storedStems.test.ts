import {
  FIRST_SUN_LAYER,
  LAYER,
  SKY_LAYERS,
  bandReader,
  compactMaps,
  emptyHalves,
  finishedRanges,
  fromHalves,
  gainsWithout,
  joinPlanes,
  layerCount,
  layersOf,
  mixAt,
  mixGains,
  packFinished,
  planBake,
  storedHalves,
  storedReader,
  toHalves,
  unpackFinished,
  type Gains,
  type HalfStems,
  type MapStems,
  type StoredStems,
} from '..';
import { defaultRig, resolveCue } from '../../rig';

const rig = defaultRig();
const plan = planBake(rig);
const count = layerCount(plan);
const [width, height] = [6, 5];
const texels = width * height;

/** Stems all of whose layers are so bright as their texel, and the later the layer the redder. */
const stems: MapStems = {
  width,
  height,
  at: Uint32Array.from({ length: texels }, (_, i) => i),
  layers: Float32Array.from({ length: texels * count * LAYER }, (_, k) => {
    const [layer, i, c] = [Math.floor(k / texels / LAYER), Math.floor(k / LAYER) % texels, k % LAYER];
    return ((1 + i) * (1 + (c === 0 ? layer / count : 0))) / 100;
  }),
};
const halves = toHalves(stems);
const { tables, maps } = compactMaps([halves], plan, [mixGains(resolveCue(rig, rig.cues[0]!), plan)]);
const gains = mixGains(resolveCue(rig, rig.cues[1]!), plan, { live: true });
const compact: StoredStems = { ...maps[0]!, halves: { layers: [], stems: emptyHalves(stems, 0) }, tables };

const at = (reader: ReturnType<typeof storedReader>, x: number, y: number, by: Gains = gains) =>
  mixAt(reader, by, (x + 0.5) / reader.width, (y + 0.5) / reader.height);
const places = [
  [0, 0],
  [3, 2],
  [5, 4],
] as const;

describe('stored stems', () => {
  const whole = storedReader(storedHalves(halves), plan);

  it('are read to the same light whether they are compact or halves', () => {
    const read = storedReader(compact, plan);
    for (const [x, y] of places) at(whole, x, y).forEach((v, c) => expect(at(read, x, y)[c]! / v).toBeCloseTo(1, 2));
  });

  it('have those layers of the halves that both have', () => {
    // A sun that was traced anew, twice as bright, and the rest of before.
    const layer = FIRST_SUN_LAYER + 2;
    const anew = layersOf(storedHalves(halves), plan, [layer]);
    anew.scales[0]! *= 2;
    const both = storedReader({ ...compact, halves: { layers: [layer], stems: anew } }, plan);
    const sun: Gains = { colors: new Float32Array(count * 3), fourths: new Float32Array(count * 3) };
    sun.colors.fill(5, layer * 3, layer * 3 + 3);
    for (const [x, y] of places) {
      at(whole, x, y, sun).forEach((v, c) => expect(at(both, x, y, sun)[c]! / v).toBeCloseTo(2, 3));
      const others = gainsWithout(gains, [layer]);
      at(whole, x, y, others).forEach((v, c) => expect(at(both, x, y, others)[c]! / v).toBeCloseTo(1, 2));
    }
  });

  it('lend a band over them the layers that it has not', () => {
    const top = 2;
    const sky = Array.from({ length: SKY_LAYERS }, (_, layer) => layer);
    const rows: HalfStems = { ...emptyHalves({ width, height: 2, at: Uint32Array.from([0, 1, 2, 3, 8, 9]) }, SKY_LAYERS) };
    const reader = bandReader({ layers: sky, stems: rows }, top, compact, plan);
    const others = gainsWithout(gains, sky);
    // The band's own layers are dark, so that the rest is left.
    for (const [x, y] of [
      [0, 0],
      [3, 1],
    ] as const)
      at(whole, x, y + top, others).forEach((v, c) => expect(at(reader, x, y)[c]! / v).toBeCloseTo(1, 2));
  });

  it('give layers as halves', () => {
    const wanted = [3, FIRST_SUN_LAYER, FIRST_SUN_LAYER + 1];
    const found = fromHalves(layersOf(compact, plan, wanted));
    wanted.forEach((layer, k) => {
      for (let i = 0; i < texels; i++)
        for (let c = 0; c < 3; c++) {
          const was = stems.layers[(layer * texels + i) * LAYER + c]!;
          expect(Math.abs(found.layers[(k * texels + i) * LAYER + c]! / was - 1)).toBeLessThan(0.03);
        }
    });
  });
});

describe('finished layers as bytes', () => {
  it('are read for some texels alone', () => {
    const packed = packFinished(halves);
    const [first, end] = [7, 19];
    const read = unpackFinished(finishedRanges(texels, count, first, end).map(([from, to]) => packed.subarray(from, to)));
    expect(read.scales).toEqual(halves.scales);
    for (let layer = 0; layer < count; layer += 9) {
      const own = (end - first) * LAYER;
      const from = (layer * texels + first) * LAYER;
      expect(read.halves.subarray(layer * own, (layer + 1) * own)).toEqual(halves.halves.subarray(from, from + own));
    }
  });
});

describe('planes of a part', () => {
  const part = { bytes: 3 };
  const whole = Uint8Array.from({ length: 3 * 10 }, (_, i) => i);
  const piece = (first: number, end: number) => ({
    texels: end - first,
    planes: Uint8Array.from(
      { length: 3 * (end - first) },
      (_, i) => whole[Math.floor(i / (end - first)) * 10 + first + (i % (end - first))]!,
    ),
  });

  it('are those of the whole map again when their pieces are joined, and refused where one is missing', () => {
    expect(joinPlanes(part, 10, [piece(0, 4), piece(4, 9), piece(9, 10)])).toEqual(whole);
    expect(joinPlanes(part, 10, [piece(0, 10)])).toEqual(whole);
    expect(() => joinPlanes(part, 10, [piece(0, 4), piece(9, 10)])).toThrow('Stored stems are damaged.');
  });
});
