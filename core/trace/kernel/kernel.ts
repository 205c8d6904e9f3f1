// The ray kernel, in AssemblyScript: a tree of four boxes a node over triangles, built by the surface area heuristic and walked with
// 128-bit vectors. No managed objects and no static data: all memory is the caller's, as raw addresses in bytes.
//
// A wide node takes NODE bytes: the low and high bounds of its four children, one vector for each axis and side
//   0 lowX  16 highX  32 lowY  48 highY  64 lowZ  80 highZ  96 the children  112 free
// A child is the number of a node, or LEAF | first block << 4 | blocks. Children that are not there have bounds that nothing meets.
//
// A block takes BLOCK bytes: four triangles, one vector for each number
//   0 corner xyz  48 edge to the second corner xyz  96 edge to the third corner xyz  144 their numbers
// A triangle's number has CUTOUT set where it may have holes. Lanes that are not used have edges of no length.

const NODE: usize = 128;
const BLOCK: usize = 160;
const LEAF: u32 = 0x80000000;
const CUTOUT: u32 = 0x80000000;

/** How far outside its edges, in barycentric weight, a triangle still counts: neighbours overlap by it, so that no ray slips between. */
const EDGE: f32 = 1e-6;
/** Widens the far side of a box by the rounding of its distances (Ize 2013, "Robust BVH Ray Traversal"). */
const WIDER: f32 = 1.0000004;

/** Whether a cutout triangle has a hole at a point. */
export declare function isHole(triangle: u32, u: f32, v: f32): i32;

let nodes: usize = 0;
let blocks: usize = 0;
let root: u32 = 0;
let stack: usize = 0;
let hit: usize = 0;

/** Says where the tree lies, and where this instance may write: the last hit (32 bytes), then its stack. */
export function use(nodesAt: usize, blocksAt: usize, rootChild: u32, scratch: usize): void {
  nodes = nodesAt;
  blocks = blocksAt;
  root = rootChild;
  hit = scratch;
  stack = scratch + 32;
}

/**
 * One walk for both questions, made twice by the compiler: for a float `Q` the nearest triangle, else whether there is any (its number
 * then). -1 where there is none.
 */
function walk<Q>(ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, tMin: f32, tMax: f32): i32 {
  const oX = f32x4.splat(ox);
  const oY = f32x4.splat(oy);
  const oZ = f32x4.splat(oz);
  const dX = f32x4.splat(dx);
  const dY = f32x4.splat(dy);
  const dZ = f32x4.splat(dz);
  const iX = f32x4.splat(1 / dx);
  const iY = f32x4.splat(1 / dy);
  const iZ = f32x4.splat(1 / dz);
  // The side of each slab that is entered: the high one where the ray runs down the axis.
  const nearX: usize = dx < 0 ? 16 : 0;
  const nearY: usize = dy < 0 ? 16 : 0;
  const nearZ: usize = dz < 0 ? 16 : 0;
  const low = f32x4.splat(tMin);
  const wider = f32x4.splat(WIDER);
  let nearest = tMax;
  let found: i32 = -1;
  let sp = stack;
  let child = root;
  while (true) {
    if (child & LEAF) {
      let block = blocks + <usize>((child >> 4) & 0x7ffffff) * BLOCK;
      for (let n = child & 15; n != 0; n--, block += BLOCK) {
        const e2x = v128.load(block, 96);
        const e2y = v128.load(block, 112);
        const e2z = v128.load(block, 128);
        const e1x = v128.load(block, 48);
        const e1y = v128.load(block, 64);
        const e1z = v128.load(block, 80);
        const px = f32x4.sub(f32x4.mul(dY, e2z), f32x4.mul(dZ, e2y));
        const py = f32x4.sub(f32x4.mul(dZ, e2x), f32x4.mul(dX, e2z));
        const pz = f32x4.sub(f32x4.mul(dX, e2y), f32x4.mul(dY, e2x));
        const det = f32x4.add(f32x4.add(f32x4.mul(e1x, px), f32x4.mul(e1y, py)), f32x4.mul(e1z, pz));
        const inv = f32x4.div(f32x4.splat(1), det);
        const sx = f32x4.sub(oX, v128.load(block, 0));
        const sy = f32x4.sub(oY, v128.load(block, 16));
        const sz = f32x4.sub(oZ, v128.load(block, 32));
        const u = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(sx, px), f32x4.mul(sy, py)), f32x4.mul(sz, pz)), inv);
        const qx = f32x4.sub(f32x4.mul(sy, e1z), f32x4.mul(sz, e1y));
        const qy = f32x4.sub(f32x4.mul(sz, e1x), f32x4.mul(sx, e1z));
        const qz = f32x4.sub(f32x4.mul(sx, e1y), f32x4.mul(sy, e1x));
        const v = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(dX, qx), f32x4.mul(dY, qy)), f32x4.mul(dZ, qz)), inv);
        const t = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(e2x, qx), f32x4.mul(e2y, qy)), f32x4.mul(e2z, qz)), inv);
        const inside = v128.and(
          v128.and(f32x4.ge(u, f32x4.splat(-EDGE)), f32x4.ge(v, f32x4.splat(-EDGE))),
          f32x4.le(f32x4.add(u, v), f32x4.splat(1 + EDGE)),
        );
        let lanes = v128.bitmask<i32>(v128.and(inside, v128.and(f32x4.gt(t, low), f32x4.lt(t, f32x4.splat(nearest)))));
        while (lanes != 0) {
          const lane = <usize>ctz(lanes);
          lanes &= lanes - 1;
          // The vectors' lanes are read through memory, since a lane's number must be known when compiling.
          v128.store(hit, t, 16);
          const tLane = load<f32>(hit + 16 + (lane << 2));
          if (!(tLane < nearest)) continue;
          const number = load<u32>(block + (lane << 2), 144);
          v128.store(hit, u, 16);
          const uLane = load<f32>(hit + 16 + (lane << 2));
          v128.store(hit, v, 16);
          const vLane = load<f32>(hit + 16 + (lane << 2));
          if (number & CUTOUT && isHole(number & ~CUTOUT, uLane, vLane)) continue;
          if (isInteger<Q>()) return <i32>(number & ~CUTOUT);
          v128.store(hit, det, 16);
          nearest = tLane;
          found = number & ~CUTOUT;
          store<f32>(hit, tLane);
          store<f32>(hit, max<f32>(uLane, 0), 4);
          store<f32>(hit, max<f32>(vLane, 0), 8);
          store<u32>(hit, load<f32>(hit + 16 + (lane << 2)) < 0 ? 1 : 0, 12);
        }
      }
    } else {
      const node = nodes + <usize>child * NODE;
      const x0 = f32x4.mul(f32x4.sub(v128.load(node + nearX, 0), oX), iX);
      const y0 = f32x4.mul(f32x4.sub(v128.load(node + nearY, 32), oY), iY);
      const z0 = f32x4.mul(f32x4.sub(v128.load(node + nearZ, 64), oZ), iZ);
      const x1 = f32x4.mul(f32x4.sub(v128.load(node + (16 - nearX), 0), oX), iX);
      const y1 = f32x4.mul(f32x4.sub(v128.load(node + (16 - nearY), 32), oY), iY);
      const z1 = f32x4.mul(f32x4.sub(v128.load(node + (16 - nearZ), 64), oZ), iZ);
      // A bound that is no number (a ray in the plane of a slab) is passed over: pmin and pmax keep their first then.
      const near = f32x4.pmax(f32x4.pmax(f32x4.pmax(low, x0), y0), z0);
      const far = f32x4.pmin(
        f32x4.pmin(f32x4.pmin(f32x4.splat(nearest), f32x4.mul(x1, wider)), f32x4.mul(y1, wider)),
        f32x4.mul(z1, wider),
      );
      const meets = f32x4.le(near, far);
      const lanes = v128.bitmask<i32>(meets);
      if (lanes != 0) {
        const children = v128.load(node, 96);
        if ((lanes & (lanes - 1)) == 0) {
          child = load<u32>(node + ((<usize>ctz(lanes)) << 2), 96);
          continue;
        }
        if (isInteger<Q>()) {
          // Large children come first in a node, and are the likeliest to hold something.
          for (let lane: i32 = 3; lane >= 0; lane--) {
            if (((lanes >> lane) & 1) == 0) continue;
            store<u32>(sp, load<u32>(node + ((<usize>lane) << 2), 96));
            store<f32>(sp, 0, 4);
            sp += 8;
          }
          sp -= 8;
          child = load<u32>(sp);
          continue;
        }
        // Distance above, child below: distances are not under nought, so whole numbers sort as they do.
        const keys = v128.or(near, v128.not(meets));
        let a = ((<u64>i32x4.extract_lane(keys, 0)) << 32) | (<u64>(<u32>i32x4.extract_lane(children, 0)));
        let b = ((<u64>i32x4.extract_lane(keys, 1)) << 32) | (<u64>(<u32>i32x4.extract_lane(children, 1)));
        let c = ((<u64>i32x4.extract_lane(keys, 2)) << 32) | (<u64>(<u32>i32x4.extract_lane(children, 2)));
        let d = ((<u64>i32x4.extract_lane(keys, 3)) << 32) | (<u64>(<u32>i32x4.extract_lane(children, 3)));
        let low1 = select(a, b, a < b);
        let high1 = select(b, a, a < b);
        let low2 = select(c, d, c < d);
        let high2 = select(d, c, c < d);
        a = select(low1, low2, low1 < low2);
        const middle1 = select(low2, low1, low1 < low2);
        d = select(high2, high1, high1 < high2);
        const middle2 = select(high1, high2, high1 < high2);
        b = select(middle1, middle2, middle1 < middle2);
        c = select(middle2, middle1, middle1 < middle2);
        const count = popcnt(lanes);
        if (count > 3) {
          store<u64>(sp, d);
          sp += 8;
        }
        if (count > 2) {
          store<u64>(sp, c);
          sp += 8;
        }
        store<u64>(sp, b);
        sp += 8;
        child = <u32>a;
        continue;
      }
    }
    if (isInteger<Q>()) {
      if (sp == stack) return found;
      sp -= 8;
      child = load<u32>(sp);
      continue;
    }
    // The next that may still hold something nearer.
    while (true) {
      if (sp == stack) return found;
      sp -= 8;
      if (load<f32>(sp, 4) < nearest) break;
    }
    child = load<u32>(sp);
  }
}

/** Nearest triangle with tMin < t < tMax, or -1. Writes t, u, v and whether its back was met (1) at the hit. */
export function closest(ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, tMin: f32, tMax: f32): i32 {
  return walk<f32>(ox, oy, oz, dx, dy, dz, tMin, tMax);
}

/** Whether any triangle lies between tMin and tMax: its number, or -1. */
export function any(ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, tMin: f32, tMax: f32): i32 {
  return walk<i32>(ox, oy, oz, dx, dy, dz, tMin, tMax);
}

/** Bytes of a ray in a batch: origin, tMin, direction, tMax. */
const RAY: usize = 32;

/** {@link closest} for many rays: for each its triangle (-1 for none), t, u, and v, whose sign is set where the back was met. */
export function closestOf(rays: usize, count: u32, answers: usize): void {
  for (let i: u32 = 0; i < count; i++, rays += RAY, answers += 16) {
    const found = closest(
      load<f32>(rays, 0),
      load<f32>(rays, 4),
      load<f32>(rays, 8),
      load<f32>(rays, 16),
      load<f32>(rays, 20),
      load<f32>(rays, 24),
      load<f32>(rays, 12),
      load<f32>(rays, 28),
    );
    store<i32>(answers, found);
    store<f32>(answers, load<f32>(hit, 0), 4);
    store<f32>(answers, load<f32>(hit, 4), 8);
    store<u32>(answers, load<u32>(hit, 8) | (load<u32>(hit, 12) << 31), 12);
  }
}

/** {@link any} for many rays: a byte each, 1 where something lies between. */
export function anyOf(rays: usize, count: u32, answers: usize): void {
  for (let i: u32 = 0; i < count; i++, rays += RAY, answers++) {
    const found = any(
      load<f32>(rays, 0),
      load<f32>(rays, 4),
      load<f32>(rays, 8),
      load<f32>(rays, 16),
      load<f32>(rays, 20),
      load<f32>(rays, 24),
      load<f32>(rays, 12),
      load<f32>(rays, 28),
    );
    store<u8>(answers, found < 0 ? 0 : 1);
  }
}

// Building: first a tree of two children a node, then four are made of two.

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
