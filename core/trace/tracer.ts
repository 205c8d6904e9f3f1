import { buildTree, COUNT, HIGH, LINK, NODE } from './tree';

/** Where a ray met the level. Reused from ray to ray: copy what is to be kept. */
export interface Hit {
  /** Distance along the ray in units of its direction's length. */
  t: number;
  triangle: number;
  /** Barycentric weights of the triangle's second and third corner. */
  u: number;
  v: number;
  /** Whether the ray met the side that the corners run clockwise on. */
  back: boolean;
}

/** Parts of triangles that rays pass through. */
export interface Cutouts {
  /** 1 for each triangle that may have holes. */
  has: Uint8Array;
  isHole(triangle: number, u: number, v: number): boolean;
}

/** Answers rays against one set of triangles. Not to be shared between threads. */
export interface Tracer {
  /** Nearest triangle with tMin < t < tMax; false where there is none. */
  closest(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMin: number, tMax: number, hit: Hit): boolean;
  /** Whether any triangle lies between tMin and tMax. */
  occluded(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMin: number, tMax: number): boolean;
}

/** An empty record for {@link Tracer.closest}. */
export const newHit = (): Hit => ({ t: 0, triangle: -1, u: 0, v: 0, back: false });

/** Slots per triangle in the order of the tree: a corner and the two edges from it. */
const PACKED = 9;

function packTriangles(positions: Float32Array, indices: Uint32Array, order: Uint32Array): Float32Array {
  const packed = new Float32Array(order.length * PACKED);
  for (let k = 0; k < order.length; k++) {
    const t = order[k]! * 3;
    const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
    for (let i = 0; i < 3; i++) {
      packed[k * PACKED + i] = positions[a + i]!;
      packed[k * PACKED + 3 + i] = positions[b + i]! - positions[a + i]!;
      packed[k * PACKED + 6 + i] = positions[c + i]! - positions[a + i]!;
    }
  }
  return packed;
}

/**
 * Builds a tracer over triangles.
 *
 * Slab test per node (Williams et al. 2005), Moeller & Trumbore 1997 per triangle, nearer child first.
 *
 * @param positions 3 per vertex, metres
 * @param indices 3 per triangle
 */
export function buildTracer(positions: Float32Array, indices: Uint32Array, cutouts?: Cutouts): Tracer {
  const { floats, links, order } = buildTree(positions, indices);
  const packed = packTriangles(positions, indices, order);
  const empty = order.length === 0;
  const stack = new Uint32Array(96);
  const found: Hit = newHit();

  /** One walk for both questions: `any` stops at the first triangle, else the nearest is kept in `found`. */
  function walk(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMin: number, tMax: number, any: boolean): boolean {
    if (empty) return false;
    const ix = 1 / dx;
    const iy = 1 / dy;
    const iz = 1 / dz;
    let nearest = tMax;
    let hitAny = false;
    let top = 0;
    let node = 0;
    for (;;) {
      const count = links[node + COUNT]!;
      if (count === 0) {
        const left = links[node + LINK]! * NODE;
        const right = left + NODE;
        const tLeft = enter(left, ox, oy, oz, ix, iy, iz, tMin, nearest);
        const tRight = enter(right, ox, oy, oz, ix, iy, iz, tMin, nearest);
        if (tLeft <= tRight) {
          if (tLeft !== Infinity) {
            if (tRight !== Infinity) stack[top++] = right;
            node = left;
            continue;
          }
        } else {
          if (tLeft !== Infinity) stack[top++] = left;
          node = right;
          continue;
        }
      } else {
        const first = links[node + LINK]!;
        for (let k = first; k < first + count; k++) {
          const p = k * PACKED;
          const e1x = packed[p + 3]!;
          const e1y = packed[p + 4]!;
          const e1z = packed[p + 5]!;
          const e2x = packed[p + 6]!;
          const e2y = packed[p + 7]!;
          const e2z = packed[p + 8]!;
          const px = dy * e2z - dz * e2y;
          const py = dz * e2x - dx * e2z;
          const pz = dx * e2y - dy * e2x;
          const det = e1x * px + e1y * py + e1z * pz;
          if (det === 0) continue;
          const inv = 1 / det;
          const sx = ox - packed[p]!;
          const sy = oy - packed[p + 1]!;
          const sz = oz - packed[p + 2]!;
          const u = (sx * px + sy * py + sz * pz) * inv;
          if (!(u >= 0 && u <= 1)) continue;
          const qx = sy * e1z - sz * e1y;
          const qy = sz * e1x - sx * e1z;
          const qz = sx * e1y - sy * e1x;
          const v = (dx * qx + dy * qy + dz * qz) * inv;
          if (!(v >= 0 && u + v <= 1)) continue;
          const t = (e2x * qx + e2y * qy + e2z * qz) * inv;
          if (!(t > tMin && t < nearest)) continue;
          const triangle = order[k]!;
          if (cutouts && cutouts.has[triangle] === 1 && cutouts.isHole(triangle, u, v)) continue;
          if (any) return true;
          hitAny = true;
          nearest = t;
          found.t = t;
          found.triangle = triangle;
          found.u = u;
          found.v = v;
          found.back = det < 0;
        }
      }
      if (top === 0) return hitAny;
      node = stack[--top]!;
    }
  }

  /** Distance at which a ray enters a node's box, or Infinity where it misses it. */
  function enter(node: number, ox: number, oy: number, oz: number, ix: number, iy: number, iz: number, tMin: number, tMax: number): number {
    const x0 = (floats[node]! - ox) * ix;
    const x1 = (floats[node + HIGH]! - ox) * ix;
    const y0 = (floats[node + 1]! - oy) * iy;
    const y1 = (floats[node + HIGH + 1]! - oy) * iy;
    const z0 = (floats[node + 2]! - oz) * iz;
    const z1 = (floats[node + HIGH + 2]! - oz) * iz;
    // A comparison with NaN (a ray in the plane of a slab) is false, so that slab leaves the bounds as they are.
    let near = tMin;
    let far = tMax;
    let a = x0 < x1 ? x0 : x1;
    let b = x0 < x1 ? x1 : x0;
    if (a > near) near = a;
    if (b < far) far = b;
    a = y0 < y1 ? y0 : y1;
    b = y0 < y1 ? y1 : y0;
    if (a > near) near = a;
    if (b < far) far = b;
    a = z0 < z1 ? z0 : z1;
    b = z0 < z1 ? z1 : z0;
    if (a > near) near = a;
    if (b < far) far = b;
    return near <= far ? near : Infinity;
  }

  return {
    closest(ox, oy, oz, dx, dy, dz, tMin, tMax, hit) {
      if (!walk(ox, oy, oz, dx, dy, dz, tMin, tMax, false)) return false;
      Object.assign(hit, found);
      return true;
    },
    occluded: (ox, oy, oz, dx, dy, dz, tMin, tMax) => walk(ox, oy, oz, dx, dy, dz, tMin, tMax, true),
  };
}
