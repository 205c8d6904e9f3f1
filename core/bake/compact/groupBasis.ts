import { dotProducts } from '../../trace';
import { leadingEigenvectors } from './eigenvectors';

/** How finely a group of layers is told. */
export interface BasisSize {
  /** Numbers of the space that the layers of all texels lie in, about. */
  space: number;
  /** Clusters of texels with like layers, at most; a byte names one. */
  clusters: number;
  /** Components of each cluster: those of the largest variance by 8 bits, and those after them by 4. */
  fine: number;
  coarse: number;
}

/**
 * What the layers of texels are told by. A texel's numbers in `space` are scale x (mean of its cluster + sum over components of coefficient x
 * component).
 */
export interface GroupBasis extends BasisSize {
  /** Layers, of three numbers each. */
  layers: number;
  /** Least scale of a texel: what is much darker than most is told no more finely than this. */
  floor: number;
  /** From the numbers of all layers to those of the space: `space` rows. */
  into: Float32Array;
  /** And what brings them back: what a number of the space stands for in each layer, of as many rows. */
  back: Float32Array;
  /** For each cluster its mean, as a direction in the space. */
  means: Float32Array;
  /** For each cluster its components, each as long as the standard deviation along it: whole numbers, and what 1 of them stands for. */
  components: Int8Array;
  steps: Float32Array;
}

/** Numbers of texels that a basis is found from: those of all layers of one texel after another. */
export interface TexelNumbers {
  texels: number;
  layers: number;
  numbers: Float32Array;
}

/** Numbers of the space by which clusters are told apart. */
const TOLD_BY = 24;
/** Rounds of moving clusters to their means, and of refining components. */
const ROUNDS = 8;
const SPACE_SWEEPS = 12;
const SWEEPS = 5;
/** The floor of scales as a share of their mean. */
const FLOOR = 0.1;
/** Texels that the space is found from, at most. */
const SPACE_TEXELS = 8192;

/**
 * Finds a basis for layers: the leading principal components of all of them, clusters in these by k-means (Lloyd 1982), and the principal
 * components of each cluster. It depends on its arguments alone.
 *
 * @param sample layers of texels from all over the level
 * @param weights what an error of 1 in each layer counts for; none is 0
 */
export function findBasis(sample: TexelNumbers, weights: Float32Array, size: BasisSize): GroupBasis {
  const { texels, layers } = sample;
  const wide = layers * 3;
  const space = Math.min(size.space, wide);
  const clusters = Math.max(1, Math.min(size.clusters, 256, Math.floor(texels / LEAST_TEXELS)));
  const floor = FLOOR * meanLength(sample, weights);
  const vectors = spaceOf(sample, weights, floor, space);
  const weightOf = (i: number) => weights[Math.floor((i % wide) / 3)]!;
  const basis: GroupBasis = {
    ...size,
    space,
    clusters,
    layers,
    floor,
    into: Float32Array.from(vectors, (v, i) => v * weightOf(i)),
    back: Float32Array.from(vectors, (v, i) => v / weightOf(i)),
    means: new Float32Array(clusters * space),
    components: new Int8Array(clusters * (size.fine + size.coarse) * space),
    steps: new Float32Array(clusters * (size.fine + size.coarse)),
  };
  const { z } = inSpace(basis, sample.numbers, texels);
  const owner = findClusters(basis, z, texels);
  findComponents(basis, z, owner);
  return basis;
}

/** Texels that a cluster has, on average, at least. */
const LEAST_TEXELS = 64;

/** Numbers of all layers of a texel, weighted. */
function weigh(weights: Float32Array, numbers: Float32Array, from: number, out: Float64Array): void {
  for (let d = 0; d < out.length; d++) out[d] = numbers[from + d]! * weights[Math.floor(d / 3)]!;
}

const lengthOf = (vector: Float64Array) => {
  let square = 0;
  for (let i = 0; i < vector.length; i++) square += vector[i]! * vector[i]!;
  return Math.sqrt(square);
};

function meanLength({ texels, layers, numbers }: TexelNumbers, weights: Float32Array): number {
  const weighted = new Float64Array(layers * 3);
  let sum = 0;
  const step = Math.max(1, Math.floor(texels / SPACE_TEXELS));
  let count = 0;
  for (let i = 0; i < texels; i += step, count++) {
    weigh(weights, numbers, i * layers * 3, weighted);
    sum += lengthOf(weighted);
  }
  return count > 0 ? sum / count : 0;
}

/** The leading principal components of weighted layers, each texel as a direction. */
function spaceOf({ texels, layers, numbers }: TexelNumbers, weights: Float32Array, floor: number, space: number): Float64Array {
  const wide = layers * 3;
  const moments = new Float64Array(wide * wide);
  const weighted = new Float64Array(wide);
  const step = Math.max(1, Math.floor(texels / SPACE_TEXELS));
  for (let i = 0; i < texels; i += step) {
    weigh(weights, numbers, i * wide, weighted);
    const length = Math.max(lengthOf(weighted), floor);
    if (length > 0) addOuter(moments, weighted, 1 / length);
  }
  mirror(moments, wide);
  const vectors = Float64Array.from({ length: space * wide }, (_, i) => Math.sin(i * i + 1));
  leadingEigenvectors(moments, wide, vectors, SPACE_SWEEPS);
  return vectors;
}

/** Adds a vector times itself, each number times a factor, to the upper half of a matrix. */
function addOuter(matrix: Float64Array, vector: Float64Array, factor: number): void {
  const size = vector.length;
  const square = factor * factor;
  for (let a = 0; a < size; a++) {
    const v = vector[a]! * square;
    if (v === 0) continue;
    for (let b = a, at = a * size + a; b < size; b++, at++) matrix[at] = matrix[at]! + v * vector[b]!;
  }
}

/** Makes a matrix symmetric whose upper half is there. */
function mirror(matrix: Float64Array, size: number): void {
  for (let a = 1; a < size; a++) for (let b = 0; b < a; b++) matrix[a * size + b] = matrix[b * size + a]!;
}

/** The numbers of texels in a basis's space, as directions, and the scale of each. */
export function inSpace(
  { layers, space, floor, into }: Pick<GroupBasis, 'layers' | 'space' | 'floor' | 'into'>,
  numbers: Float32Array,
  texels: number,
): { z: Float32Array; scales: Float32Array } {
  const z = dotProducts(numbers, into, layers * 3);
  const scales = new Float32Array(texels);
  for (let i = 0; i < texels; i++) {
    const own = z.subarray(i * space, (i + 1) * space);
    let square = 0;
    for (let p = 0; p < space; p++) square += own[p]! * own[p]!;
    if (square === 0) continue;
    const scale = Math.max(Math.sqrt(square), floor);
    scales[i] = scale;
    for (let p = 0; p < space; p++) own[p] = own[p]! / scale;
  }
  return { z, scales };
}

/** The nearest cluster of each texel. */
export function nearestClusters({ space, clusters, means }: GroupBasis, z: Float32Array, texels: number): Uint8Array {
  const told = Math.min(TOLD_BY, space);
  const near = leadingNumbers(means, space, told);
  const halves = Float64Array.from({ length: clusters }, (_, k) =>
    near.subarray(k * told, (k + 1) * told).reduce((sum, v) => sum + (v * v) / 2, 0),
  );
  const products = dotProducts(leadingNumbers(z, space, told), near, told);
  const owner = new Uint8Array(texels);
  for (let i = 0, at = 0; i < texels; i++) {
    let most = -Infinity;
    for (let k = 0; k < clusters; k++) {
      const likeness = products[at++]! - halves[k]!;
      if (likeness <= most) continue;
      most = likeness;
      owner[i] = k;
    }
  }
  return owner;
}

/** The first `told` numbers of vectors of `space`. */
function leadingNumbers(vectors: Float32Array, space: number, told: number): Float32Array {
  const out = new Float32Array((vectors.length / space) * told);
  for (let from = 0, to = 0; from < vectors.length; from += space, to += told) out.set(vectors.subarray(from, from + told), to);
  return out;
}

/** Moves the means of clusters to where texels are; answers whose each texel is. */
function findClusters(basis: GroupBasis, z: Float32Array, texels: number): Uint8Array {
  const { space, clusters, means } = basis;
  const placeAt = (k: number, texel: number) => means.set(z.subarray(texel * space, (texel + 1) * space), k * space);
  for (let k = 0; k < clusters; k++) placeAt(k, Math.floor(((k + 0.5) * texels) / clusters));
  for (let round = 0; round < ROUNDS; round++) {
    const owner = nearestClusters(basis, z, texels);
    const sums = new Float64Array(clusters * space);
    const counts = new Uint32Array(clusters);
    for (let i = 0; i < texels; i++) {
      const k = owner[i]!;
      counts[k]!++;
      for (let p = 0; p < space; p++) sums[k * space + p] = sums[k * space + p]! + z[i * space + p]!;
    }
    for (let k = 0; k < clusters; k++) {
      if (counts[k] === 0) placeAt(k, (k * 7919 + round * 131) % texels);
      else for (let p = 0; p < space; p++) means[k * space + p] = sums[k * space + p]! / counts[k]!;
    }
  }
  return nearestClusters(basis, z, texels);
}

/** Texels that the spread about all means counts for in each cluster: what few texels say nothing about is told as elsewhere. */
const SHARED_TEXELS = 4;

/** Finds the components of each cluster from its texels. */
function findComponents(basis: GroupBasis, z: Float32Array, owner: Uint8Array): void {
  const { space, clusters, fine, coarse, components, steps } = basis;
  const count = fine + coarse;
  const own = Array.from({ length: clusters }, (_, k) => momentsOf(basis, z, owner, k));
  const shared = new Float64Array(space * space);
  for (const { moments } of own) for (let i = 0; i < shared.length; i++) shared[i] = shared[i]! + moments[i]! / Math.max(1, owner.length);
  for (let k = 0; k < clusters; k++) {
    const { moments, texels } = own[k]!;
    for (let i = 0; i < shared.length; i++) moments[i] = moments[i]! + SHARED_TEXELS * shared[i]!;
    const vectors = new Float64Array(count * space);
    for (let n = 0; n < Math.min(count, space); n++) vectors[n * space + n] = 1;
    const variances = leadingEigenvectors(moments, space, vectors, SWEEPS);
    for (let n = 0; n < count; n++) {
      const deviation = Math.sqrt(variances[n]! / (texels + SHARED_TEXELS));
      const at = (k * count + n) * space;
      const vector = vectors.subarray(n * space, (n + 1) * space);
      const step = (deviation * vector.reduce((most, v) => Math.max(most, Math.abs(v)), 0)) / 127;
      steps[k * count + n] = step;
      for (let p = 0; p < space; p++) components[at + p] = step > 0 ? Math.round((deviation * vector[p]!) / step) : 0;
    }
  }
}

/** Second moments of the texels of a cluster about its mean, and how many they are. */
function momentsOf(
  { space, means }: GroupBasis,
  z: Float32Array,
  owner: Uint8Array,
  cluster: number,
): { moments: Float64Array; texels: number } {
  const own: number[] = [];
  for (let i = 0; i < owner.length; i++) if (owner[i] === cluster) own.push(i);
  // Number after number, each of all texels.
  const away = new Float32Array(space * own.length);
  own.forEach((i, k) => {
    for (let p = 0; p < space; p++) away[p * own.length + k] = z[i * space + p]! - means[cluster * space + p]!;
  });
  return {
    moments: own.length > 0 ? Float64Array.from(dotProducts(away, away, own.length)) : new Float64Array(space * space),
    texels: own.length,
  };
}
