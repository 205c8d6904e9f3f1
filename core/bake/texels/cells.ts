import type { Surfaces } from '../../level';
import { blocksOf } from './blocks';
import type { Texels, Tile } from './coverTexels';

/**
 * Groups the texels of a tile, as places in it, into blocks of `side` x `side` of one chart. Texels that are left out part a block: those on both
 * sides of a wall that stands on a floor are two groups.
 *
 * @param isIn whether a texel takes part
 */
export function cellsOf(surfaces: Surfaces, tile: Tile, texels: Texels, side: number, isIn: (i: number) => boolean): number[][] {
  const { width } = surfaces.maps[tile.map]!;
  const block = blocksOf(surfaces, tile, texels, side, side);
  const first = tile.top * width;
  const slots = new Int32Array(width * (tile.bottom - tile.top)).fill(-1);
  texels.at.forEach((texel, i) => {
    if (isIn(i)) slots[texel - first] = i;
  });
  const cells: number[][] = [];
  for (let from = 0; from < slots.length; from++) {
    const seed = slots[from]!;
    if (seed < 0) continue;
    const own = block(seed);
    const cell = [seed];
    slots[from] = -1;
    for (const i of cell) {
      const slot = texels.at[i]! - first;
      const x = slot % width;
      for (const [next, isInside] of [
        [slot - 1, x > 0],
        [slot + 1, x < width - 1],
        [slot - width, slot >= width],
        [slot + width, slot + width < slots.length],
      ] as const) {
        const other = isInside ? slots[next]! : -1;
        if (other < 0 || block(other) !== own) continue;
        slots[next] = -1;
        cell.push(other);
      }
    }
    cells.push(cell);
  }
  return cells;
}
