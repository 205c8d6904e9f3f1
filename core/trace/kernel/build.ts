// Building the tree (see layout.ts): first one of two children a node, then four are made of two.
import { BLOCK, CUTOUT, LEAF, NODE } from './layout';

/** A node under way: low and high bounds, then its first triangle or left child (the right one follows it), then how many triangles (0 inside). */
const PAIR: usize = 48;
const BOUNDS: usize = 32;
const BINS: i32 = 16;
const BIN: usize = 48;
/** Cost of a step through a node, in tests of a block. */
const STEP_COST: f32 = 1;
/** Most triangles in a leaf: what four bits of blocks hold. */
const MOST: u32 = 60;
/** Triangles that are always a leaf: one block. */
const FEW: u32 = 4;
/** Deeper nodes are halved, so that a walk's stack is bounded. */
const DEEP: u32 = 48;

let bounds: usize = 0;
let order: usize = 0;
let pairs: usize = 0;
let bins: usize = 0;
let tasks: usize = 0;
let areas: usize = 0;

function halfArea(low: v128, high: v128): f32 {
  const size = f32x4.sub(high, low);
  const x = f32x4.extract_lane(size, 0);
  const y = f32x4.extract_lane(size, 1);
  const z = f32x4.extract_lane(size, 2);
  return x < 0 ? 0 : x * y + y * z + z * x;
}

function blocksOf(count: u32): f32 {
  return <f32>((count + 3) >> 2);
}

/** Bytes that {@link split} takes for so many triangles. */
export function workBytes(triangles: u32): u32 {
  return triangles * (<u32>BOUNDS + 4 + 2 * <u32>PAIR) + <u32>PAIR + 3 * <u32>BINS * <u32>BIN + 4096 + 256 + 64;
}

/**
 * Splits triangles into a tree of pairs by the surface area heuristic over bins of their middles (Wald 2007, "On fast Construction of
 * SAH-based Bounding Volume Hierarchies"), counting in blocks of four. Answers how many nodes it has.
 */
export function split(positions: usize, indices: usize, triangles: u32, work: usize): u32 {
  bounds = work;
  pairs = bounds + <usize>triangles * BOUNDS;
  bins = pairs + (2 * <usize>triangles + 1) * PAIR;
  tasks = bins + 3 * <usize>BINS * BIN;
  areas = tasks + 4096;
  order = areas + 256;
  for (let t: u32 = 0; t < triangles; t++) {
    const at = indices + <usize>t * 12;
    // Positions are followed by four bytes, so a vector's load stays inside; its last lane is of no account.
    const a = v128.load(positions + <usize>load<u32>(at) * 12);
    const b = v128.load(positions + <usize>load<u32>(at, 4) * 12);
    const c = v128.load(positions + <usize>load<u32>(at, 8) * 12);
    v128.store(bounds + <usize>t * BOUNDS, f32x4.pmin(f32x4.pmin(a, b), c));
    v128.store(bounds + <usize>t * BOUNDS, f32x4.pmax(f32x4.pmax(a, b), c), 16);
    store<u32>(order + ((<usize>t) << 2), t);
  }
  let count: u32 = 1;
  let task = tasks;
  store<u32>(task, 0);
  store<u32>(task, 0, 4);
  store<u32>(task, triangles, 8);
  store<u32>(task, 0, 12);
  task += 16;
  while (task != tasks) {
    task -= 16;
    const pair = pairs + <usize>load<u32>(task) * PAIR;
    const first = load<u32>(task, 4);
    const own = load<u32>(task, 8);
    const depth = load<u32>(task, 12);
    const left = splitOne(pair, first, own, depth);
    if (left == 0) {
      store<u32>(pair, first, 32);
      store<u32>(pair, own, 36);
      continue;
    }
    store<u32>(pair, count, 32);
    store<u32>(pair, 0, 36);
    store<u32>(task, count + 1);
    store<u32>(task, first + left, 4);
    store<u32>(task, own - left, 8);
    store<u32>(task, depth + 1, 12);
    task += 16;
    store<u32>(task, count);
    store<u32>(task, first, 4);
    store<u32>(task, left, 8);
    store<u32>(task, depth + 1, 12);
    task += 16;
    count += 2;
  }
  return count;
}

/** Sets a node's bounds and orders its triangles by the best split; answers how many go left, 0 for a leaf. */
function splitOne(pair: usize, first: u32, count: u32, depth: u32): u32 {
  let low = f32x4.splat(f32.MAX_VALUE);
  let high = f32x4.splat(-f32.MAX_VALUE);
  let middleLow = low;
  let middleHigh = high;
  const from = order + ((<usize>first) << 2);
  const to = from + ((<usize>count) << 2);
  for (let at = from; at < to; at += 4) {
    const box = bounds + <usize>load<u32>(at) * BOUNDS;
    const a = v128.load(box);
    const b = v128.load(box, 16);
    const middle = f32x4.add(a, b);
    low = f32x4.pmin(low, a);
    high = f32x4.pmax(high, b);
    middleLow = f32x4.pmin(middleLow, middle);
    middleHigh = f32x4.pmax(middleHigh, middle);
  }
  v128.store(pair, low);
  v128.store(pair, high, 16);
  if (count <= FEW) return 0;
  const whole = halfArea(low, high);
  const extent = f32x4.sub(middleHigh, middleLow);
  const isFlat = f32x4.le(extent, f32x4.splat(0));
  if (depth >= DEEP || (v128.bitmask<i32>(isFlat) & 7) == 7) return count > MOST || depth >= DEEP ? count >> 1 : 0;
  // A little less than the bins, so that the farthest middle falls into the last; nought along an axis without extent.
  const scale = v128.andnot(f32x4.div(f32x4.splat(<f32>BINS * 0.9999), extent), isFlat);
  for (let i: usize = 0; i < 3 * <usize>BINS; i++) {
    v128.store(bins + i * BIN, f32x4.splat(f32.MAX_VALUE));
    v128.store(bins + i * BIN, f32x4.splat(-f32.MAX_VALUE), 16);
    store<u32>(bins + i * BIN, 0, 32);
  }
  for (let at = from; at < to; at += 4) {
    const box = bounds + <usize>load<u32>(at) * BOUNDS;
    const a = v128.load(box);
    const b = v128.load(box, 16);
    const places = i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.sub(f32x4.add(a, b), middleLow), scale));
    growBin(bins + <usize>i32x4.extract_lane(places, 0) * BIN, a, b);
    growBin(bins + <usize>(BINS + i32x4.extract_lane(places, 1)) * BIN, a, b);
    growBin(bins + <usize>(2 * BINS + i32x4.extract_lane(places, 2)) * BIN, a, b);
  }
  let best: f32 = f32.MAX_VALUE;
  let bestAxis: i32 = -1;
  let bestBin: i32 = 0;
  for (let axis: i32 = 0; axis < 3; axis++) {
    const axisBins = bins + <usize>(axis * BINS) * BIN;
    let boxLow = f32x4.splat(f32.MAX_VALUE);
    let boxHigh = f32x4.splat(-f32.MAX_VALUE);
    let held: u32 = 0;
    for (let bin: i32 = BINS - 1; bin > 0; bin--) {
      const own = axisBins + <usize>bin * BIN;
      boxLow = f32x4.pmin(boxLow, v128.load(own));
      boxHigh = f32x4.pmax(boxHigh, v128.load(own, 16));
      held += load<u32>(own, 32);
      store<f32>(areas + ((<usize>bin) << 2), held == 0 ? 0 : halfArea(boxLow, boxHigh) * blocksOf(held));
    }
    boxLow = f32x4.splat(f32.MAX_VALUE);
    boxHigh = f32x4.splat(-f32.MAX_VALUE);
    held = 0;
    for (let bin: i32 = 0; bin < BINS - 1; bin++) {
      const own = axisBins + <usize>bin * BIN;
      boxLow = f32x4.pmin(boxLow, v128.load(own));
      boxHigh = f32x4.pmax(boxHigh, v128.load(own, 16));
      held += load<u32>(own, 32);
      if (held == 0 || held == count) continue;
      const cost = halfArea(boxLow, boxHigh) * blocksOf(held) + load<f32>(areas + ((<usize>(bin + 1)) << 2));
      if (cost < best) {
        best = cost;
        bestAxis = axis;
        bestBin = bin;
      }
    }
  }
  if (bestAxis < 0) return count > MOST ? count >> 1 : 0;
  if (count <= MOST && best + STEP_COST * whole >= blocksOf(count) * whole) return 0;
  let l = from;
  let r = to - 4;
  while (l <= r) {
    const triangle = load<u32>(l);
    const box = bounds + <usize>triangle * BOUNDS;
    const places = i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.sub(f32x4.add(v128.load(box), v128.load(box, 16)), middleLow), scale));
    v128.store(areas, places);
    if (load<i32>(areas + ((<usize>bestAxis) << 2)) <= bestBin) l += 4;
    else {
      store<u32>(l, load<u32>(r));
      store<u32>(r, triangle);
      r -= 4;
    }
  }
  return <u32>((l - from) >> 2);
}

function growBin(bin: usize, low: v128, high: v128): void {
  v128.store(bin, f32x4.pmin(v128.load(bin), low));
  v128.store(bin, f32x4.pmax(v128.load(bin, 16), high), 16);
  store<u32>(bin, load<u32>(bin, 32) + 1, 32);
}

/** Blocks that the leaves of a split tree take. */
export function countBlocks(pairCount: u32): u32 {
  let sum: u32 = 0;
  for (let i: u32 = 0; i < pairCount; i++) sum += (load<u32>(pairs + <usize>i * PAIR, 36) + 3) >> 2;
  return sum;
}

let written: u32 = 0;

/** Writes a leaf's triangles as blocks; answers the child that stands for them. */
function writeLeaf(pair: usize, positions: usize, indices: usize, cutouts: usize, blocksAt: usize): u32 {
  const first = load<u32>(pair, 32);
  const count = load<u32>(pair, 36);
  const block = written;
  for (let k: u32 = 0; k < count; k += 4, written++) {
    const at = blocksAt + <usize>written * BLOCK;
    for (let i: usize = 0; i < BLOCK; i += 16) v128.store(at + i, i64x2.splat(0));
    for (let lane: u32 = 0; lane < 4 && k + lane < count; lane++) {
      const triangle = load<u32>(order + ((<usize>(first + k + lane)) << 2));
      const corners = indices + <usize>triangle * 12;
      const a = positions + <usize>load<u32>(corners) * 12;
      const b = positions + <usize>load<u32>(corners, 4) * 12;
      const c = positions + <usize>load<u32>(corners, 8) * 12;
      const to = at + ((<usize>lane) << 2);
      for (let axis: usize = 0; axis < 3; axis++) {
        const own = load<f32>(a + (axis << 2));
        store<f32>(to + (axis << 4), own);
        store<f32>(to + (axis << 4), load<f32>(b + (axis << 2)) - own, 48);
        store<f32>(to + (axis << 4), load<f32>(c + (axis << 2)) - own, 96);
      }
      store<u32>(to, triangle | (cutouts != 0 && load<u8>(cutouts + <usize>triangle) ? CUTOUT : 0), 144);
    }
  }
  return LEAF | (block << 4) | ((count + 3) >> 2);
}

/**
 * Makes a tree of four children a node of the pairs, at `nodesAt` (as much room as pairs / 2 nodes), and writes its blocks. Answers the
 * child that is its root; {@link nodeCount} says how many nodes it took.
 *
 * @param cutouts a byte for each triangle, 1 where it may have holes; 0 where none has
 */
export function collapse(positions: usize, indices: usize, cutouts: usize, nodesAt: usize, blocksAt: usize): u32 {
  written = 0;
  made = 0;
  if (load<u32>(pairs, 36) != 0) return writeLeaf(pairs, positions, indices, cutouts, blocksAt);
  made = 1;
  let task = tasks;
  store<u32>(task, 0);
  store<u32>(task, 0, 4);
  task += 8;
  // Up to four children at hand, by the pairs they are, after the bins that are no longer needed.
  const own = bins;
  while (task != tasks) {
    task -= 8;
    const pair = pairs + <usize>load<u32>(task) * PAIR;
    const node = nodesAt + <usize>load<u32>(task, 4) * NODE;
    store<u32>(own, load<u32>(pair, 32));
    store<u32>(own, load<u32>(pair, 32) + 1, 4);
    let count: usize = 2;
    while (count < 4) {
      let widest: i32 = -1;
      let most: f32 = -1;
      for (let i: usize = 0; i < count; i++) {
        const candidate = pairs + <usize>load<u32>(own + (i << 2)) * PAIR;
        if (load<u32>(candidate, 36) != 0) continue;
        const area = halfArea(v128.load(candidate), v128.load(candidate, 16));
        if (area > most) {
          most = area;
          widest = <i32>i;
        }
      }
      if (widest < 0) break;
      const left = load<u32>(pairs + <usize>load<u32>(own + ((<usize>widest) << 2)) * PAIR, 32);
      store<u32>(own + ((<usize>widest) << 2), left);
      store<u32>(own + (count << 2), left + 1);
      count++;
    }
    for (let i: usize = 1; i < count; i++) {
      for (let k = i; k > 0; k--) {
        const a = load<u32>(own + ((k - 1) << 2));
        const b = load<u32>(own + (k << 2));
        const pairA = pairs + <usize>a * PAIR;
        const pairB = pairs + <usize>b * PAIR;
        if (halfArea(v128.load(pairA), v128.load(pairA, 16)) >= halfArea(v128.load(pairB), v128.load(pairB, 16))) break;
        store<u32>(own + ((k - 1) << 2), b);
        store<u32>(own + (k << 2), a);
      }
    }
    for (let i: usize = 0; i < 4; i++) {
      const at = node + (i << 2);
      if (i >= count) {
        for (let axis: usize = 0; axis < 3; axis++) {
          store<f32>(at + (axis << 5), f32.MAX_VALUE);
          store<f32>(at + (axis << 5), -f32.MAX_VALUE, 16);
        }
        store<u32>(at, 0, 96);
        continue;
      }
      const number = load<u32>(own + (i << 2));
      const from = pairs + <usize>number * PAIR;
      for (let axis: usize = 0; axis < 3; axis++) {
        store<f32>(at + (axis << 5), load<f32>(from + (axis << 2)));
        store<f32>(at + (axis << 5), load<f32>(from + (axis << 2), 16), 16);
      }
      if (load<u32>(from, 36) != 0) store<u32>(at, writeLeaf(from, positions, indices, cutouts, blocksAt), 96);
      else {
        store<u32>(at, made, 96);
        store<u32>(task, number);
        store<u32>(task, made, 4);
        task += 8;
        made++;
      }
    }
  }
  return 0;
}

let made: u32 = 0;

/** Nodes that the last {@link collapse} made. */
export function nodeCount(): u32 {
  return made;
}
