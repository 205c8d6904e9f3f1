import { quadSurfaces, room } from '../../../tests/lib/level';
import type { Surfaces } from '../../level';
import { cellsOf } from './cells';
import { chartOfVertex } from './charts';
import { coverTexels, type Texels, type Tile } from './coverTexels';

let surfaces: Surfaces;
let tile: Tile;
let texels: Texels;
beforeAll(async () => {
  surfaces = await quadSurfaces(room(0, 4, { albedo: 0.5 }), { texelsPerM: 5, maxMapSize: 128 });
  tile = { map: 0, top: 0, bottom: surfaces.maps[0]!.height };
  texels = coverTexels(surfaces, tile);
});
const placeOf = (i: number) => [texels.at[i]! % surfaces.maps[0]!.width, Math.floor(texels.at[i]! / surfaces.maps[0]!.width)] as const;

describe('cells of texels', () => {
  it.each([1, 2, 4])('of side %d hold each texel once, of one chart and one block', (side) => {
    const charts = chartOfVertex(surfaces);
    const chart = (i: number) => charts[surfaces.indices[texels.triangle[texels.start[i]!]! * 3]!]!;
    const cells = cellsOf(surfaces, tile, texels, side, () => true);
    expect(cells.flat().sort((a, b) => a - b)).toEqual(Array.from(texels.at.keys()));
    for (const cell of cells) {
      expect(new Set(cell.map(chart)).size).toBe(1);
      expect(
        new Set(
          cell.map((i) =>
            placeOf(i)
              .map((v) => Math.floor(v / side))
              .join(),
          ),
        ).size,
      ).toBe(1);
    }
  });

  it('are parted by texels that take no part, as by a wall on a floor', () => {
    // Every fourth column is left out, in the middle of its blocks.
    const isIn = (i: number) => placeOf(i)[0] % 4 !== 1;
    const cells = cellsOf(surfaces, tile, texels, 4, isIn);
    expect(cells.flat().every(isIn)).toBe(true);
    for (const cell of cells) {
      const sides = new Set(cell.map((i) => placeOf(i)[0] % 4 > 1));
      expect(sides.size).toBe(1);
    }
  });
});
