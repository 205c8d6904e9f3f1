import type { Surfaces } from '../level';
import { chartOfVertex, coverTexels } from '../bake';

/** Free texels that two charts need between them, so that interpolation at the edge of one meets nothing of the other. */
export const CLEAR_TEXELS = 2;

/**
 * Finds charts that lie closer together on a lightmap than {@link CLEAR_TEXELS}: light bleeds from one to the other there.
 *
 * @returns for each object with such texels how many there are, and the triangle of one of them
 */
export function chartGaps(surfaces: Surfaces): Map<number, { texels: number; triangle: number }> {
  const charts = chartOfVertex(surfaces);
  const found = new Map<number, { texels: number; triangle: number }>();
  surfaces.maps.forEach(({ width, height }, map) => {
    const { at, start, triangle } = coverTexels(surfaces, { map, top: 0, bottom: height });
    const placeOf = new Int32Array(width * height).fill(-1);
    at.forEach((texel, i) => (placeOf[texel] = i));
    const chartOf = (i: number) => charts[surfaces.indices[triangle[start[i]!]! * 3]!]!;
    for (let i = 0; i < at.length; i++) {
      const x = at[i]! % width;
      const y = (at[i]! - x) / width;
      if (!isTight(x, y, chartOf(i))) continue;
      const t = triangle[start[i]!]!;
      const own = found.get(surfaces.objectOf[t]!);
      if (own) own.texels++;
      else found.set(surfaces.objectOf[t]!, { texels: 1, triangle: t });
    }

    function isTight(x: number, y: number, chart: number): boolean {
      for (let v = Math.max(0, y - CLEAR_TEXELS); v <= Math.min(height - 1, y + CLEAR_TEXELS); v++) {
        for (let u = Math.max(0, x - CLEAR_TEXELS); u <= Math.min(width - 1, x + CLEAR_TEXELS); u++) {
          const other = placeOf[v * width + u]!;
          if (other >= 0 && chartOf(other) !== chart) return true;
        }
      }
      return false;
    }
  });
  return found;
}
