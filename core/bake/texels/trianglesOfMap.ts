import type { Surfaces } from '../../level';

/** The triangles of one lightmap, in their order, and the rows that each lies in: v = 0..1 of its lightmap coordinates. */
export interface MapTriangles {
  triangles: Uint32Array;
  low: Float32Array;
  high: Float32Array;
}

const known = new WeakMap<Float32Array, MapTriangles[]>();

/** The triangles of a lightmap; found once for a level. Those whose coordinates are no numbers are left out. */
export function trianglesOfMap(surfaces: Pick<Surfaces, 'indices' | 'mapOf' | 'lightmapUv' | 'maps'>, map: number): MapTriangles {
  let all = known.get(surfaces.lightmapUv);
  if (!all) known.set(surfaces.lightmapUv, (all = findTriangles(surfaces)));
  return all[map]!;
}

function findTriangles({ indices, mapOf, lightmapUv, maps }: Parameters<typeof trianglesOfMap>[0]): MapTriangles[] {
  const lists = maps.map((): number[] => []);
  for (let t = 0; t < mapOf.length; t++) lists[mapOf[t]!]?.push(t);
  return lists.map((list) => {
    const isPlaced = (t: number) => [0, 1, 2].every((k) => [0, 1].every((c) => Number.isFinite(lightmapUv[indices[t * 3 + k]! * 2 + c]!)));
    const triangles = Uint32Array.from(list.filter(isPlaced));
    const rows = (pick: (...v: number[]) => number) =>
      Float32Array.from(triangles, (t) => pick(...[0, 1, 2].map((k) => lightmapUv[indices[t * 3 + k]! * 2 + 1]!)));
    return { triangles, low: rows(Math.min), high: rows(Math.max) };
  });
}
