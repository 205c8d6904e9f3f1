// Walking the tree (see layout.ts): one ray or many, the nearest triangle or any.
import { BLOCK, CUTOUT, LEAF, NODE } from './layout';

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
/** The leaf that the last ray which asked for any triangle was stopped in. */
let stopped: u32 = 0;

/** Says where the tree lies, and where this instance may write: the last hit (80 bytes), then its stack. */
export function use(nodesAt: usize, blocksAt: usize, rootChild: u32, scratch: usize): void {
  nodes = nodesAt;
  blocks = blocksAt;
  root = rootChild;
  hit = scratch;
  stack = scratch + 80;
}

/**
 * One walk for both questions, made twice by the compiler: for a float `Q` the nearest triangle, else whether there is any (its number
 * then). -1 where there is none.
 *
 * @param first the child to look at before all others: the root where none is
 */
function walk<Q>(first: u32, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, tMin: f32, tMax: f32): i32 {
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
  let child = first;
  if (isInteger<Q>() && first != root) {
    store<u32>(sp, root);
    sp += 4;
  }
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
        const sign = v128.and(det, f32x4.splat(-0.0));
        const size = f32x4.abs(det);
        const sx = f32x4.sub(oX, v128.load(block, 0));
        const sy = f32x4.sub(oY, v128.load(block, 16));
        const sz = f32x4.sub(oZ, v128.load(block, 32));
        const u = v128.xor(f32x4.add(f32x4.add(f32x4.mul(sx, px), f32x4.mul(sy, py)), f32x4.mul(sz, pz)), sign);
        const qx = f32x4.sub(f32x4.mul(sy, e1z), f32x4.mul(sz, e1y));
        const qy = f32x4.sub(f32x4.mul(sz, e1x), f32x4.mul(sx, e1z));
        const qz = f32x4.sub(f32x4.mul(sx, e1y), f32x4.mul(sy, e1x));
        const v = v128.xor(f32x4.add(f32x4.add(f32x4.mul(dX, qx), f32x4.mul(dY, qy)), f32x4.mul(dZ, qz)), sign);
        const t = v128.xor(f32x4.add(f32x4.add(f32x4.mul(e2x, qx), f32x4.mul(e2y, qy)), f32x4.mul(e2z, qz)), sign);
        const edge = f32x4.mul(size, f32x4.splat(-EDGE));
        const inside = v128.and(v128.and(f32x4.ge(u, edge), f32x4.ge(v, edge)), f32x4.le(f32x4.add(u, v), f32x4.sub(size, edge)));
        let lanes = v128.bitmask<i32>(
          v128.and(inside, v128.and(f32x4.gt(t, f32x4.mul(low, size)), f32x4.lt(t, f32x4.mul(f32x4.splat(nearest), size)))),
        );
        if (lanes == 0) continue;
        // The vectors' lanes are read through memory, since a lane's number must be known when compiling.
        const inverse = f32x4.div(f32x4.splat(1), size);
        v128.store(hit, f32x4.mul(t, inverse), 16);
        v128.store(hit, f32x4.mul(u, inverse), 32);
        v128.store(hit, f32x4.mul(v, inverse), 48);
        v128.store(hit, det, 64);
        while (lanes != 0) {
          const lane = hit + ((<usize>ctz(lanes)) << 2);
          lanes &= lanes - 1;
          const tLane = load<f32>(lane, 16);
          if (!(tLane < nearest)) continue;
          const number = load<u32>(block + (lane - hit), 144);
          const uLane = load<f32>(lane, 32);
          const vLane = load<f32>(lane, 48);
          if (number & CUTOUT && isHole(number & ~CUTOUT, uLane, vLane)) continue;
          if (isInteger<Q>()) {
            stopped = child;
            return <i32>(number & ~CUTOUT);
          }
          nearest = tLane;
          found = number & ~CUTOUT;
          store<f32>(hit, tLane);
          store<f32>(hit, max<f32>(uLane, 0), 4);
          store<f32>(hit, max<f32>(vLane, 0), 8);
          store<u32>(hit, load<f32>(lane, 64) < 0 ? 1 : 0, 12);
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
      const far = f32x4.mul(f32x4.pmin(f32x4.pmin(f32x4.pmin(f32x4.splat(nearest), x1), y1), z1), wider);
      const meets = f32x4.le(near, far);
      const lanes = v128.bitmask<i32>(meets);
      if (lanes != 0) {
        const children = v128.load(node, 96);
        if ((lanes & (lanes - 1)) == 0) {
          child = load<u32>(node + ((<usize>ctz(lanes)) << 2), 96);
          continue;
        }
        if (isInteger<Q>()) {
          // Large children come first in a node, and are the likeliest to hold something. Each is put down; only those met are kept.
          store<u32>(sp, load<u32>(node, 108));
          sp += <usize>((lanes & 8) >> 1);
          store<u32>(sp, load<u32>(node, 104));
          sp += <usize>(lanes & 4);
          store<u32>(sp, load<u32>(node, 100));
          sp += <usize>((lanes & 2) << 1);
          child = load<u32>(node, 96);
          if (lanes & 1) continue;
          sp -= 4;
          child = load<u32>(sp);
          continue;
        }
        const rest = lanes & (lanes - 1);
        if ((rest & (rest - 1)) == 0) {
          v128.store(hit, near, 16);
          const one = (<usize>ctz(lanes)) << 2;
          const other = (<usize>ctz(rest)) << 2;
          const isOther = load<f32>(hit + other, 16) < load<f32>(hit + one, 16);
          const nearer = select(other, one, isOther);
          const farther = select(one, other, isOther);
          store<u32>(sp, load<u32>(node + farther, 96));
          store<f32>(sp, load<f32>(hit + farther, 16), 4);
          sp += 8;
          child = load<u32>(node + nearer, 96);
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
      sp -= 4;
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
  return walk<f32>(root, ox, oy, oz, dx, dy, dz, tMin, tMax);
}

/** Whether any triangle lies between tMin and tMax: its number, or -1. */
export function any(ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, tMin: f32, tMax: f32): i32 {
  return walk<i32>(root, ox, oy, oz, dx, dy, dz, tMin, tMax);
}

/**
 * {@link any} for one of many rays that are likely to be stopped by the same: looks first where the last of them was, and keeps that at `hint`, a child.
 * What rays pass there they pass twice.
 */
export function anyFrom(hint: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, tMin: f32, tMax: f32): i32 {
  const met = walk<i32>(load<u32>(hint), ox, oy, oz, dx, dy, dz, tMin, tMax);
  if (met >= 0) store<u32>(hint, stopped);
  return met;
}

/** Bytes of a ray in a batch: origin, tMin, direction, tMax. */
const RAY: usize = 32;

/** {@link walk} for a ray of a batch. */
function walkRay<Q>(ray: usize): i32 {
  return walk<Q>(
    root,
    load<f32>(ray, 0),
    load<f32>(ray, 4),
    load<f32>(ray, 8),
    load<f32>(ray, 16),
    load<f32>(ray, 20),
    load<f32>(ray, 24),
    load<f32>(ray, 12),
    load<f32>(ray, 28),
  );
}

/** {@link closest} for many rays: for each its triangle (-1 for none), t, u, and v, whose sign is set where the back was met. */
export function closestOf(rays: usize, count: u32, answers: usize): void {
  for (let i: u32 = 0; i < count; i++, rays += RAY, answers += 16) {
    store<i32>(answers, walkRay<f32>(rays));
    store<f32>(answers, load<f32>(hit, 0), 4);
    store<f32>(answers, load<f32>(hit, 4), 8);
    store<u32>(answers, load<u32>(hit, 8) | (load<u32>(hit, 12) << 31), 12);
  }
}

/** {@link any} for many rays: a byte each, 1 where something lies between. */
export function anyOf(rays: usize, count: u32, answers: usize): void {
  for (let i: u32 = 0; i < count; i++, rays += RAY, answers++) store<u8>(answers, walkRay<i32>(rays) < 0 ? 0 : 1);
}
