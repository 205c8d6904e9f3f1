import { dotProducts, groupEntries, type ClusterLight, type GroupTable } from '../../trace';
import { inSpace, nearestClusters, type GroupBasis } from './groupBasis';

/**
 * What a texel's layers are told by, plane after plane, a byte for each texel in each: its cluster; its scale, low and high byte
 * ({@link scaleOf}); how far its fine coefficients go, and its coarse ones ({@link rangeOf}); the fine coefficients; the coarse ones, two in a
 * byte, the first in the low half.
 */
export const HEAD = { cluster: 0, scaleLow: 1, scaleHigh: 2, fineRange: 3, coarseRange: 4, coefficients: 5 } as const;

/** Planes of a basis's codes: bytes of a texel. */
export const planesOf = ({ fine, coarse }: Pick<GroupBasis, 'fine' | 'coarse'>): number => HEAD.coefficients + fine + Math.ceil(coarse / 2);

/** Steps of a scale in each doubling, and the code of 1. */
const SCALE_STEPS = 1024;
const SCALE_ONE = 40_000;

/** The scale that 16 bits stand for: 0 for 0, else 2^((code - 40000) / 1024). */
export const scaleOf = (code: number): number => (code === 0 ? 0 : 2 ** ((code - SCALE_ONE) / SCALE_STEPS));
const scaleCode = (scale: number): number =>
  scale > 0 ? Math.min(65535, Math.max(1, Math.round(Math.log2(scale) * SCALE_STEPS) + SCALE_ONE)) : 0;

/** Steps of a range in each doubling, and the code of 1. */
const RANGE_STEPS = 8;
const RANGE_ONE = 96;

/** The largest coefficient that a byte stands for, in standard deviations: 2^((code - 96) / 8). */
export const rangeOf = (code: number): number => 2 ** ((code - RANGE_ONE) / RANGE_STEPS);
/** The code of the least range that holds a coefficient. */
const rangeCode = (most: number): number =>
  most > 0 ? Math.min(255, Math.max(0, Math.ceil(Math.log2(most) * RANGE_STEPS - 1e-9) + RANGE_ONE)) : 0;

/** Coefficients as shares of their range: (code - zero) / most, with codes from `least` to `last`. */
export const FINE = { zero: 128, most: 127, least: 1, last: 255 } as const;
export const COARSE = { zero: 7.5, most: 7.5, least: 0, last: 15 } as const;

/** Codes of texels' layers: of each texel all numbers, texel after texel, in; planes out (see {@link HEAD}). */
export function encodeGroup(basis: GroupBasis, numbers: Float32Array, texels: number): Uint8Array {
  const { fine, coarse, space } = basis;
  const count = fine + coarse;
  const { z, scales } = inSpace(basis, numbers, texels);
  const owner = nearestClusters(basis, z, texels);
  const { along, squares } = projections(basis);
  const planes = new Uint8Array(planesOf(basis) * texels);
  texelsByCluster(owner, basis.clusters).forEach((own, cluster) => {
    if (own.length === 0) return;
    const codes = Uint16Array.from(own, (i) => scaleCode(scales[i]!));
    const coefficients = dotProducts(
      differences(basis, cluster, z, scales, own, codes),
      along.subarray(cluster * count * space, (cluster + 1) * count * space),
      space,
    );
    const ownSquares = squares.subarray(cluster * count, (cluster + 1) * count);
    for (let k = 0; k < own.length; k++) {
      const head = [cluster, codes[k]! & 255, codes[k]! >> 8];
      putCodes(basis, head, coefficients.subarray(k * count, (k + 1) * count), ownSquares, planes, texels, own[k]!);
    }
  });
  return planes;
}

function texelsByCluster(owner: Uint8Array, clusters: number): number[][] {
  const out = Array.from({ length: clusters }, (): number[] => []);
  for (let i = 0; i < owner.length; i++) out[owner[i]!]!.push(i);
  return out;
}

/** What is left of texels of a cluster beside its mean. What the code of a scale loses goes into this. */
function differences(
  { space, means }: GroupBasis,
  cluster: number,
  z: Float32Array,
  scales: Float32Array,
  own: readonly number[],
  codes: Uint16Array,
): Float32Array {
  const out = new Float32Array(own.length * space);
  own.forEach((i, k) => {
    const factor = codes[k]! > 0 ? scales[i]! / SCALES[codes[k]!]! : 0;
    for (let p = 0; p < space; p++) out[k * space + p] = z[i * space + p]! * factor - means[cluster * space + p]!;
  });
  return out;
}

/** Writes the codes of a texel. */
function putCodes(
  { fine, coarse }: GroupBasis,
  head: readonly number[],
  coefficients: Float32Array,
  squares: Float32Array,
  planes: Uint8Array,
  texels: number,
  i: number,
): void {
  const fineRange = bestRange(coefficients, squares, 0, fine, FINE);
  const coarseRange = bestRange(coefficients, squares, fine, fine + coarse, COARSE);
  let at = i;
  for (const byte of [...head, fineRange, coarseRange]) {
    planes[at] = byte;
    at += texels;
  }
  const [byFine, byCoarse] = [FINE.most / RANGES[fineRange]!, COARSE.most / RANGES[coarseRange]!];
  for (let n = 0; n < fine; n++, at += texels) planes[at] = codeOf(coefficients[n]!, FINE, byFine);
  for (let n = fine; n < fine + coarse; n += 2, at += texels) {
    const second = n + 1 < fine + coarse ? codeOf(coefficients[n + 1]!, COARSE, byCoarse) : 0;
    planes[at] = codeOf(coefficients[n]!, COARSE, byCoarse) | (second << 4);
  }
}

type Grid = typeof FINE | typeof COARSE;

/** The code on a grid that is nearest to a coefficient. */
const codeOf = (coefficient: number, { zero, least, last }: Grid, factor: number): number =>
  Math.min(last, Math.max(least, Math.round(coefficient * factor + zero)));

/** Ranges that are tried, each by two steps less than the one before: a single large coefficient is cut where all others gain by it. */
const TRIED = 12;

/** The code of the range by which some coefficients are told best: of the least square of what is lost. */
function bestRange(coefficients: Float32Array, squares: Float32Array, first: number, end: number, grid: Grid): number {
  let most = 0;
  for (let n = first; n < end; n++) most = Math.max(most, Math.abs(coefficients[n]!));
  const widest = rangeCode(most);
  let best = widest;
  let least = Infinity;
  for (let code = widest; code > 0 && code > widest - 2 * TRIED; code -= 2) {
    const factor = grid.most / RANGES[code]!;
    let lost = 0;
    for (let n = first; n < end && lost < least; n++) {
      const off = (codeOf(coefficients[n]!, grid, factor) - grid.zero) / factor - coefficients[n]!;
      lost += off * off * squares[n]!;
    }
    if (lost >= least) continue;
    least = lost;
    best = code;
  }
  return best;
}

/** What a difference from a mean is multiplied by to tell the coefficient of each component, and the squares of their lengths. */
function projections({ space, components, steps }: GroupBasis): { along: Float32Array; squares: Float32Array } {
  const along = Float32Array.from(components);
  const squares = new Float32Array(steps.length);
  for (let n = 0; n < steps.length; n++) {
    const own = along.subarray(n * space, (n + 1) * space);
    const square = own.reduce((sum, v) => sum + v * v, 0);
    squares[n] = square * steps[n]! * steps[n]!;
    const factor = squares[n]! > 0 ? 1 / (square * steps[n]!) : 0;
    for (let p = 0; p < space; p++) own[p] = own[p]! * factor;
  }
  return { along, squares };
}

/**
 * What the codes of a texel are multiplied by for one set of gains, cluster by cluster: three numbers for its mean, and three for each
 * coefficient of 1.
 *
 * @param gains three for each layer
 */
export function gainTable(basis: GroupBasis, gains: Float32Array): Float32Array {
  const { layers, space, clusters, fine, coarse, back, means, components, steps } = basis;
  const count = fine + coarse;
  const inSpaceGains = new Float32Array(space * 3);
  for (let layer = 0; layer < layers; layer++) {
    for (let c = 0; c < 3; c++) {
      const gain = gains[layer * 3 + c]!;
      if (gain === 0) continue;
      for (let p = 0, at = layer * 3 + c; p < space; p++, at += layers * 3)
        inSpaceGains[p * 3 + c] = inSpaceGains[p * 3 + c]! + gain * back[at]!;
    }
  }
  const out = new Float32Array(clusters * (count + 1) * 3);
  let to = 0;
  for (let k = 0; k < clusters; k++) {
    for (let n = -1; n < count; n++, to += 3) {
      const from = n < 0 ? k * space : (k * count + n) * space;
      const vectors = n < 0 ? means : components;
      const step = n < 0 ? 1 : steps[k * count + n]!;
      let [r, g, b] = [0, 0, 0];
      for (let p = 0; p < space; p++) {
        const v = vectors[from + p]!;
        r += v * inSpaceGains[p * 3]!;
        g += v * inSpaceGains[p * 3 + 1]!;
        b += v * inSpaceGains[p * 3 + 2]!;
      }
      out[to] = r * step;
      out[to + 1] = g * step;
      out[to + 2] = b * step;
    }
  }
  return out;
}

/**
 * Adds the light of texels to `out`, four numbers each.
 *
 * @param planes as {@link encodeGroup} made them
 * @param table as {@link gainTable} made it
 */
export function addGroup(basis: Pick<GroupBasis, 'fine' | 'coarse'>, planes: Uint8Array, table: Float32Array, out: Float32Array): void {
  const { fine, coarse } = basis;
  const texels = planes.length / planesOf(basis);
  const wide = (fine + coarse + 1) * 3;
  for (let i = 0; i < texels; i++) {
    const scale = SCALES[planes[HEAD.scaleLow * texels + i]! | (planes[HEAD.scaleHigh * texels + i]! << 8)]!;
    if (scale === 0) continue;
    let at = planes[HEAD.cluster * texels + i]! * wide;
    let [r, g, b] = [table[at]!, table[at + 1]!, table[at + 2]!];
    at += 3;
    const byFine = RANGES[planes[HEAD.fineRange * texels + i]!]! / FINE.most;
    let plane = HEAD.coefficients * texels + i;
    for (let n = 0; n < fine; n++, at += 3, plane += texels) {
      const v = (planes[plane]! - FINE.zero) * byFine;
      r += v * table[at]!;
      g += v * table[at + 1]!;
      b += v * table[at + 2]!;
    }
    const byCoarse = RANGES[planes[HEAD.coarseRange * texels + i]!]! / COARSE.most;
    for (let n = 0; n < coarse; n++, at += 3) {
      const v = (((planes[plane]! >> ((n & 1) * 4)) & 15) - COARSE.zero) * byCoarse;
      if ((n & 1) === 1) plane += texels;
      r += v * table[at]!;
      g += v * table[at + 1]!;
      b += v * table[at + 2]!;
    }
    out[i * 4] = out[i * 4]! + r * scale;
    out[i * 4 + 1] = out[i * 4 + 1]! + g * scale;
    out[i * 4 + 2] = out[i * 4 + 2]! + b * scale;
  }
}

/** A table as {@link gainTable} made it, for the kernel. */
export function kernelTable({ clusters, fine, coarse }: Pick<GroupBasis, 'clusters' | 'fine' | 'coarse'>, table: Float32Array): GroupTable {
  const three = (at: number, factor = 1) => [table[at]! * factor, table[at + 1]! * factor, table[at + 2]! * factor] as const;
  const light = Array.from({ length: clusters }, (_, k): ClusterLight => {
    const at = k * (fine + coarse + 1) * 3;
    const coarses = Array.from({ length: coarse }, (_, n) => three(at + (1 + fine + n) * 3, 1 / COARSE.most));
    const start = (c: number) => -COARSE.zero * coarses.reduce((sum, v) => sum + v[c]!, 0);
    return {
      mean: three(at),
      fine: Array.from({ length: fine }, (_, n) => three(at + (1 + n) * 3, 1 / FINE.most)),
      coarse: coarses,
      coarseStart: [start(0), start(1), start(2)],
    };
  });
  const planes = Math.ceil(coarse / 2);
  return { fine, coarse: planes, entries: groupEntries(light, planes), scales: FLOAT_SCALES, ranges: FLOAT_RANGES };
}

const SCALES = Float64Array.from({ length: 1 << 16 }, (_, code) => scaleOf(code));
const RANGES = Float64Array.from({ length: 256 }, (_, code) => rangeOf(code));
const FLOAT_SCALES = Float32Array.from(SCALES);
const FLOAT_RANGES = Float32Array.from(RANGES);
