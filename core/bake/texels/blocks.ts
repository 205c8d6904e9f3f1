import type { Surfaces } from '../../level';
import { chartOfVertex } from './charts';
import type { Texels, Tile } from './coverTexels';

/** Charts that texels may be numbered by. */
const CHARTS = 2 ** 24;

/**
 * A number that texels of a tile, by their places in it, have in common which lie in one chart and one block of `wide` x `high`; the blocks are
 * those of the whole map.
 */
export function blocksOf(surfaces: Surfaces, { map }: Tile, texels: Texels, wide: number, high: number): (i: number) => number {
  const { at, start, triangle } = texels;
  const { width } = surfaces.maps[map]!;
  const charts = chartOfVertex(surfaces);
  const across = Math.ceil(width / wide);
  return (i) => {
    const [x, y] = [at[i]! % width, Math.floor(at[i]! / width)];
    const chart = charts[surfaces.indices[triangle[start[i]!]! * 3]!]!;
    return (Math.floor(y / high) * across + Math.floor(x / wide)) * CHARTS + chart;
  };
}
