import type { Surfaces } from '../../level';
import { weld } from './weld';

const known = new WeakMap<Float32Array, Uint32Array>();

/**
 * For each vertex, a number that the vertices of one chart have in common: of triangles that share vertices, or that meet
 * at the same places of one lightmap (flat-shaded triangles have vertices of their own). Worked out once for a level.
 */
export function chartOfVertex(surfaces: Pick<Surfaces, 'positions' | 'indices' | 'mapOf' | 'lightmapUv'>): Uint32Array {
  let charts = known.get(surfaces.lightmapUv);
  if (!charts) known.set(surfaces.lightmapUv, (charts = findCharts(surfaces)));
  return charts;
}

function findCharts({ positions, indices, mapOf, lightmapUv }: Parameters<typeof chartOfVertex>[0]): Uint32Array {
  const parent = Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
  const find = (v: number) => {
    while (parent[v] !== v) {
      parent[v] = parent[parent[v]!]!;
      v = parent[v]!;
    }
    return v;
  };
  const join = (a: number, b: number) => (parent[find(a)] = find(b));
  const sameCorner = weld(indices.length, 3, (corner, key) => {
    key[0] = mapOf[Math.floor(corner / 3)]!;
    key[1] = lightmapUv[indices[corner]! * 2]!;
    key[2] = lightmapUv[indices[corner]! * 2 + 1]!;
  });
  for (let corner = 0; corner < indices.length; corner++) {
    join(indices[corner]!, indices[corner - (corner % 3)]!);
    join(indices[corner]!, indices[sameCorner[corner]!]!);
  }
  return parent.map((_, v) => find(v));
}
