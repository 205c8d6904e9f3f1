import type { Surfaces } from '../../level';
import type { MapOutline } from '../texels/mapOutline';
import { weld } from '../texels/weld';
import { LAYER } from '../stems/layers';

/** Normals of two charts must agree this far (cosine) at both ends of an edge before the surface goes on there. */
const SMOOTH = 0.98;
/** And so must the two flat triangles: round a column of few sides, light changes from facet to facet. */
const FLAT = 0.99;
/** Places along an edge that are looked at, for each texel of its length. */
const PER_TEXEL = 2;

/**
 * Prepares to join charts where one surface goes on from one to another: texels on both sides of such an edge take the mean of both, of
 * each neighbour across once. Charts of different maps are not joined.
 *
 * @returns a function that joins the first `numbers` numbers of the texels of a layer, in place
 */
export function createStitcher(
  surfaces: Surfaces,
  map: number,
  outline: MapOutline,
  valid: Uint8Array,
): (values: Float32Array, numbers: number) => void {
  const { texels, starts, across } = findPartners(surfaces, map, outline, valid);
  const joined = new Float32Array(texels.length * LAYER);
  return (values, numbers) => {
    for (let t = 0; t < texels.length; t++) {
      const count = starts[t + 1]! - starts[t]!;
      for (let c = 0; c < numbers; c++) {
        let sum = 0;
        for (let k = starts[t]!; k < starts[t + 1]!; k++) sum += values[across[k]! * LAYER + c]!;
        joined[t * LAYER + c] = (values[texels[t]! * LAYER + c]! + sum / count) / 2;
      }
    }
    for (let t = 0; t < texels.length; t++) for (let c = 0; c < numbers; c++) values[texels[t]! * LAYER + c] = joined[t * LAYER + c]!;
  };
}

/** Texels at seams; those just across from number t are `across` from `starts[t]` to `starts[t + 1]`. */
interface Partners {
  texels: Uint32Array;
  starts: Uint32Array;
  across: Uint32Array;
}

/** A pair of texels as one number: the first times this, plus the second. */
const PAIR = 2 ** 26;

function findPartners(surfaces: Surfaces, map: number, { placeOf, width, height, chart }: MapOutline, valid: Uint8Array): Partners {
  const { lightmapUv } = surfaces;
  const pairs: number[] = [];
  const texelAt = (a: number, b: number, t: number): number => {
    const x = Math.floor((lightmapUv[a * 2]! * (1 - t) + lightmapUv[b * 2]! * t) * width);
    const y = Math.floor((lightmapUv[a * 2 + 1]! * (1 - t) + lightmapUv[b * 2 + 1]! * t) * height);
    return x >= 0 && y >= 0 && x < width && y < height ? placeOf[y * width + x]! : -1;
  };
  eachSeam(surfaces, map, (a, b, c, d) => {
    const length = Math.hypot(
      (lightmapUv[b * 2]! - lightmapUv[a * 2]!) * width,
      (lightmapUv[b * 2 + 1]! - lightmapUv[a * 2 + 1]!) * height,
    );
    const steps = Math.max(1, Math.ceil(length * PER_TEXEL));
    let last = -1;
    for (let k = 0; k < steps; k++) {
      const t = (k + 0.5) / steps;
      const [i, j] = [texelAt(a, b, t), texelAt(c, d, t)];
      if (i < 0 || j < 0 || i === j || chart[i] === chart[j] || !valid[i] || !valid[j]) continue;
      const pair = i * PAIR + j;
      // Steps are shorter than texels: most come to the pair of the step before.
      if (pair === last) continue;
      last = pair;
      pairs.push(pair, j * PAIR + i);
    }
  });
  const sorted = Float64Array.from(pairs).sort();
  const unique = sorted.filter((pair, k) => k === 0 || pair !== sorted[k - 1]);
  const across = Uint32Array.from(unique, (pair) => pair % PAIR);
  const own = Uint32Array.from(unique, (pair) => Math.floor(pair / PAIR));
  const firsts = own.map((_, k) => k).filter((k) => k === 0 || own[k] !== own[k - 1]);
  return { texels: firsts.map((k) => own[k]!), starts: Uint32Array.from([...firsts, own.length]), across };
}

/**
 * Visits the pairs of edges, as the vertices of their ends in the same order, that lie on one another in space and apart on the map: from a
 * to b, and from c to d.
 */
function eachSeam(
  { positions, normals, indices, mapOf, lightmapUv }: Surfaces,
  map: number,
  visit: (a: number, b: number, c: number, d: number) => void,
): void {
  const corners: number[] = [];
  for (let t = 0; t < mapOf.length; t++) if (mapOf[t] === map) corners.push(t * 3, t * 3 + 1, t * 3 + 2);
  const places = weld(corners.length, 3, (k, key) => {
    for (let c = 0; c < 3; c++) key[c] = positions[indices[corners[k]!]! * 3 + c]!;
  });
  /** Edges that were met once, by the places of their ends: the number of the corner that they begin at. */
  const open = new Map<number, number>();
  const smooth = (a: number, b: number) => {
    let dot = 0;
    for (let c = 0; c < 3; c++) dot += normals[a * 3 + c]! * normals[b * 3 + c]!;
    return dot > SMOOTH;
  };
  const flat = (k: number, out: Float64Array) => {
    const [a, b, c] = [0, 1, 2].map((n) => indices[corners[k - (k % 3) + n]!]! * 3) as [number, number, number];
    const [u, v] = [b, c].map((p) => [0, 1, 2].map((n) => positions[p + n]! - positions[a + n]!)) as [number[], number[]];
    for (let n = 0; n < 3; n++) out[n] = u[(n + 1) % 3]! * v[(n + 2) % 3]! - u[(n + 2) % 3]! * v[(n + 1) % 3]!;
    return Math.hypot(out[0]!, out[1]!, out[2]!);
  };
  const [own, other] = [new Float64Array(3), new Float64Array(3)];
  const inPlane = (k: number, across: number) => {
    const lengths = flat(k, own) * flat(across, other);
    return own[0]! * other[0]! + own[1]! * other[1]! + own[2]! * other[2]! > FLAT * lengths;
  };
  const apart = (a: number, b: number) => lightmapUv[a * 2] !== lightmapUv[b * 2] || lightmapUv[a * 2 + 1] !== lightmapUv[b * 2 + 1];
  const next = (k: number) => k - (k % 3) + ((k + 1) % 3);
  for (let k = 0; k < corners.length; k++) {
    const [a, b] = [indices[corners[k]!]!, indices[corners[next(k)]!]!];
    const [from, to] = [places[k]!, places[next(k)]!];
    const across = open.get(to * corners.length + from);
    if (across === undefined) {
      open.set(from * corners.length + to, k);
      continue;
    }
    const [d, c] = [indices[corners[across]!]!, indices[corners[next(across)]!]!];
    if (apart(a, c) && apart(b, d) && smooth(a, c) && smooth(b, d) && inPlane(k, across)) visit(a, b, c, d);
  }
}
