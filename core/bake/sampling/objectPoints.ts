import type { Surfaces } from '../../level';
import { samplePair } from './sobol';

/** Triangles of an object: they, the area up to the end of each, and the area and texels of all. */
export interface ObjectPart {
  triangles: number[];
  sums: number[];
  areaM2: number;
  texels: number;
}

/** What of each object of a level has a lightmap. */
export const mappedParts = (surfaces: Surfaces): ObjectPart[] =>
  objectParts(surfaces, (triangle) => surfaces.maps[surfaces.mapOf[triangle]!] !== undefined);

/** What of each object of a level lies in those of its triangles that are meant. */
export function objectParts(
  { positions: p, lightmapUv: uv, indices, objectOf, objects, mapOf, maps }: Surfaces,
  isMeant: (triangle: number) => boolean,
): ObjectPart[] {
  const parts = objects.map((): ObjectPart => ({ triangles: [], sums: [], areaM2: 0, texels: 0 }));
  for (let t = 0; t < objectOf.length; t++) {
    if (!isMeant(t)) continue;
    const map = maps[mapOf[t]!];
    const own = parts[objectOf[t]!]!;
    const [a, b, c] = [indices[t * 3]!, indices[t * 3 + 1]!, indices[t * 3 + 2]!];
    const [abx, aby, abz] = [p[b * 3]! - p[a * 3]!, p[b * 3 + 1]! - p[a * 3 + 1]!, p[b * 3 + 2]! - p[a * 3 + 2]!];
    const [acx, acy, acz] = [p[c * 3]! - p[a * 3]!, p[c * 3 + 1]! - p[a * 3 + 1]!, p[c * 3 + 2]! - p[a * 3 + 2]!];
    own.areaM2 += Math.hypot(aby * acz - abz * acy, abz * acx - abx * acz, abx * acy - aby * acx) / 2;
    own.triangles.push(t);
    own.sums.push(own.areaM2);
    if (!map) continue;
    const [u, v] = [b, c].map((to) => [0, 1].map((k) => uv[to * 2 + k]! - uv[a * 2 + k]!)) as [number[], number[]];
    own.texels += (Math.abs(u[0]! * v[1]! - u[1]! * v[0]!) / 2) * map.width * map.height;
  }
  return parts;
}

/** The triangle of an object before which a share of its area lies, 0..1. */
export function triangleAt({ triangles, sums, areaM2 }: ObjectPart, share: number): number {
  const wanted = share * areaM2;
  let [low, high] = [0, sums.length - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sums[middle]! < wanted) low = middle + 1;
    else high = middle;
  }
  return triangles[low]!;
}

/** Even coordinates in a triangle. */
export function inTriangle(seed: number, pair: number): [u: number, v: number] {
  const out = new Float64Array(2);
  samplePair(0, pair, seed, out);
  const root = Math.sqrt(out[0]!);
  return [root * (1 - out[1]!), root * out[1]!];
}
