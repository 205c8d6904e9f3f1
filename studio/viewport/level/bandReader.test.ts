import { emptyHalves, mixAt, storedHalves, toHalves, type BakedParts, type Gains, type HalfStems } from '../../../core/bake';
import { MapReader } from './bandReader';

/** Stems of one layer that is filled with a number, of `height` rows. */
function filled(value: number, width: number, height: number): HalfStems {
  const at = Uint32Array.from({ length: width * height }, (_, i) => i);
  return toHalves({ width, height, at, layers: new Float32Array(width * height * 4).fill(value) });
}
const gains: Gains = { colors: Float32Array.from([1, 1, 1]), fourths: new Float32Array(3) };
const none: BakedParts = { suns: [], circuits: [] };
const readerOf = (stems: HalfStems) => new MapReader(storedHalves(stems), none);
const read = (reader: MapReader, v: number) => {
  const from = reader.at(v);
  return mixAt(from.stems, gains, 0.5, from.v)[0];
};

describe('a map that bands are shown over', () => {
  it('is read from the bands in their rows and from the whole elsewhere, until they are taken away', () => {
    const reader = readerOf(filled(1, 4, 4));
    const drop = reader.addBand(16, 64, { layers: [0], stems: filled(5, 32, 16) });
    expect([0.1, 0.249, 0.251, 0.499, 0.501, 0.9].map((v) => read(reader, v))).toEqual([1, 1, 5, 5, 1, 1]);
    const other = reader.addBand(32, 64, { layers: [0], stems: filled(7, 32, 32) });
    expect(read(reader, 0.9)).toBe(7);
    drop();
    expect([0.3, 0.9].map((v) => read(reader, v))).toEqual([1, 7]);
    other();
    expect(read(reader, 0.9)).toBe(1);
  });

  it('finds the right row of a band', () => {
    const rows = emptyHalves({ width: 1, height: 4, at: Uint32Array.from([0, 1, 2, 3]) }, 1);
    const stems = toHalves({ ...rows, layers: Float32Array.from({ length: 16 }, (_, i) => Math.floor(i / 4)) });
    const reader = readerOf(filled(9, 1, 1));
    reader.addBand(8, 16, { layers: [0], stems });
    expect([0, 1, 2, 3].map((row) => read(reader, (8 + row + 0.5) / 16))).toEqual([0, 1, 2, 3]);
  });
});
