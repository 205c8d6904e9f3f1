import type { TileDirect, TileStems } from '..';
import { packColumns } from '../stems/halfColumns';
import { OutdatedTiles } from './outdatedTiles';
import { packBounced, packDirect, packTile, unpackBounced, unpackDirect, unpackTile } from './tileCodec';

const tile = { map: 1, top: 3, bottom: 9 };
const floats = (count: number, seed: number) =>
  Float32Array.from({ length: count }, (_, i) => Math.sin(i * 12.9898 + seed) * 10 ** ((i % 13) - 6));

describe('tiles as bytes', () => {
  it.each([0, 1, 7, 250])('come back as they were, of %d texels', (count) => {
    const direct: TileDirect = {
      tile,
      at: Uint32Array.from({ length: count }, (_, i) => i * 3),
      // An odd number of 16-bit numbers leaves the next array off its place unless it is padded.
      open: Uint16Array.from({ length: count }, (_, i) => 65535 - i),
      suns: floats(count * 5, 1),
      sky: floats(count * 25, 5),
      circuits: floats(count * 6, 2),
      hidden: new Float32Array(0),
      backs: Uint32Array.from({ length: count >> 1 }, (_, i) => i * 2),
      backSuns: floats((count >> 1) * 5, 3),
      backSky: floats((count >> 1) * 25, 6),
      backCircuits: floats((count >> 1) * 6, 4),
      rays: 0,
    };
    expect(unpackDirect(packDirect(direct), tile)).toEqual(direct);
    const stems: TileStems = {
      tile,
      at: direct.at,
      light: packColumns(floats(count * 90, 5), count, 3),
      errors: packColumns(floats(count * 9, 6), count, 1),
      noise: floats(count * 3, 7),
      paths: direct.open,
      rays: 0,
    };
    expect(unpackTile(packTile(stems), tile)).toEqual(stems);
    // What another version wrote is none of its texels.
    expect(unpackTile(packDirect(direct), tile).at).toHaveLength(0);
    expect(unpackTile(new Uint8Array(20), tile).at).toHaveLength(0);
  });

  it('hold the bounced light, and say so where another version wrote it', () => {
    const bounced = { cellOf: Uint32Array.of(0, 2, 1), values: floats(36, 3), kinds: floats(9, 4), rays: 0 };
    expect(unpackBounced(packBounced(bounced))).toEqual(bounced);
    // The same arrays without what tells the version.
    const before = new Uint8Array(12 + 4 * (3 + 36 + 9));
    new Uint32Array(before.buffer, 0, 3).set([3, 36, 9]);
    for (const bytes of [before, new Uint8Array(0)]) expect(() => unpackBounced(bytes)).toThrow(OutdatedTiles);
  });
});
