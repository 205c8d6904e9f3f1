import type { Surfaces } from '../../level';
import type { Cover } from '../texels/mapCover';
import { LAYER } from '../stems/layers';

/** Normals of two charts must agree this far (cosine) at both ends of an edge before the surface goes on there. */
const SMOOTH = 0.98;
/** Places along an edge that are looked at, for each texel of its length. */
const PER_TEXEL = 2;

/**
 * Joins charts where one surface goes on from one to another: texels on both sides of such an edge take the mean of both, of each
 * neighbour across once. Charts of different maps are not joined.
 *
 * @param layers as they are finished; changed in place
 * @param flagged whether the first two have the flag of gathered texels and their noise in their fourth numbers
 */
export function joinSeams(surfaces: Surfaces, map: number, layers: Float32Array, cover: Cover, valid: Uint8Array, flagged: boolean): void {
  const partners = findPartners(surfaces, map, cover, valid);
  const count = cover.at.length;
  const size = layers.length / count / LAYER;
  const before = new Float32Array(count * LAYER);
  for (let layer = 0; layer < size; layer++) {
    const own = layers.subarray(layer * count * LAYER, (layer + 1) * count * LAYER);
    before.set(own);
    for (const [i, others] of partners) {
      for (let c = 0; c < LAYER; c++) {
        if (flagged && layer < 2 && c === 3) continue;
        let sum = 0;
        for (const j of others) sum += before[j * LAYER + c]!;
        own[i * LAYER + c] = (before[i * LAYER + c]! + sum / others.size) / 2;
      }
    }
  }
}

/** For texels at seams the texels just across. */
function findPartners(
  surfaces: Surfaces,
  map: number,
  { placeOf, width, height, chart }: Cover,
  valid: Uint8Array,
): Map<number, Set<number>> {
  const { lightmapUv } = surfaces;
  const partners = new Map<number, Set<number>>();
  const texelAt = (a: number, b: number, t: number): number => {
    const x = Math.floor((lightmapUv[a * 2]! * (1 - t) + lightmapUv[b * 2]! * t) * width);
    const y = Math.floor((lightmapUv[a * 2 + 1]! * (1 - t) + lightmapUv[b * 2 + 1]! * t) * height);
    return x >= 0 && y >= 0 && x < width && y < height ? placeOf[y * width + x]! : -1;
  };
  const pair = (i: number, j: number) => {
    let own = partners.get(i);
    if (!own) partners.set(i, (own = new Set()));
    own.add(j);
  };
  for (const [[a, b], [c, d]] of seamEdges(surfaces, map)) {
    const length = Math.hypot(
      (lightmapUv[b * 2]! - lightmapUv[a * 2]!) * width,
      (lightmapUv[b * 2 + 1]! - lightmapUv[a * 2 + 1]!) * height,
    );
    const steps = Math.max(1, Math.ceil(length * PER_TEXEL));
    for (let k = 0; k < steps; k++) {
      const t = (k + 0.5) / steps;
      const [i, j] = [texelAt(a, b, t), texelAt(c, d, t)];
      if (i < 0 || j < 0 || i === j || chart[i] === chart[j] || !valid[i] || !valid[j]) continue;
      pair(i, j);
      pair(j, i);
    }
  }
  return partners;
}

/** Pairs of edges, as the vertices of their ends in the same order, that lie on one another in space and apart on the map. */
function seamEdges({ positions, normals, indices, mapOf, lightmapUv }: Surfaces, map: number): [[number, number], [number, number]][] {
  const placeKey = (v: number) => `${positions[v * 3]} ${positions[v * 3 + 1]} ${positions[v * 3 + 2]}`;
  const open = new Map<string, [number, number]>();
  const seams: [[number, number], [number, number]][] = [];
  const smooth = (a: number, b: number) => {
    let dot = 0;
    for (let c = 0; c < 3; c++) dot += normals[a * 3 + c]! * normals[b * 3 + c]!;
    return dot > SMOOTH;
  };
  const apart = (a: number, b: number) => lightmapUv[a * 2] !== lightmapUv[b * 2] || lightmapUv[a * 2 + 1] !== lightmapUv[b * 2 + 1];
  for (let t = 0; t < mapOf.length; t++) {
    if (mapOf[t] !== map) continue;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [indices[t * 3 + k]!, indices[t * 3 + ((k + 1) % 3)]!];
      const [from, to] = [placeKey(a), placeKey(b)];
      const across = open.get(`${to} ${from}`);
      if (!across) open.set(`${from} ${to}`, [a, b]);
      else if (apart(a, across[1]) && apart(b, across[0]) && smooth(a, across[1]) && smooth(b, across[0]))
        seams.push([
          [a, b],
          [across[1], across[0]],
        ]);
    }
  }
  return seams;
}
