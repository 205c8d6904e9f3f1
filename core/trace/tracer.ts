import { DISC_BYTES, openDiscRays, type DiscRays, type Discs } from './discRays';
import { instantiate, places, sharedMemory } from './instance';

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
  /**
   * For holes that colour light: the luminance that the rays since the last call came through with, as a share. Rays that ask for any triangle meet each
   * such hole once.
   */
  through?(): number;
}

/** Answers rays against one set of triangles. Not to be shared between threads; its {@link Tree} is. */
export interface Tracer {
  /** Nearest triangle with tMin < t < tMax; false where there is none. */
  closest(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMin: number, tMax: number, hit: Hit): boolean;
  /**
   * Whether any triangle lies between tMin and tMax.
   *
   * @param hint a number under {@link HINTS} for rays that are likely to be stopped by the same: what stopped the last of them is looked at first. Default:
   * none
   */
  occluded(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMin: number, tMax: number, hint?: number): boolean;
  /**
   * {@link Tracer.closest} for many rays at once, which a caller that has them at hand sorts by place and direction.
   *
   * @param rays {@link RAY} numbers each: origin, tMin, direction, tMax
   * @param triangles the triangle met by each, -1 for none
   * @param places three numbers each: t, u, v; the sign bit of v is set where the back was met
   * @param shares what each brings of the light it meets, RGB, where something lets light through; all 1 where it is left as it is
   */
  closestOf(rays: Float32Array, triangles: Int32Array, places: Float32Array, shares?: Float32Array): void;
  /** {@link Tracer.occluded} for many rays at once: 1 for each with something between. */
  occludedOf(rays: Float32Array, answers: Uint8Array): void;
  /** Prepares rays to discs far away: those of one tracer are prepared one after another. */
  toDiscs(discs: Discs): DiscRays;
}

/** Rays that are told apart by what stopped the last of them. */
export const HINTS = 512;

/** Numbers of a ray in a batch. */
export const RAY = 8;

/** An empty record for {@link Tracer.closest}. */
export const newHit = (): Hit => ({ t: 0, triangle: -1, u: 0, v: 0, back: false });

/** A built tree, in memory that threads can share. */
export interface Tree {
  memory: WebAssembly.Memory;
  nodesAt: number;
  blocksAt: number;
  root: number;
  /** Where each tracer's own area lies, and where the number of those in use is counted. */
  scratchAt: number;
  takenAt: number;
}

const NODE_BYTES = 128;
const BLOCK_BYTES = 160;
/** A tracer's own area: the last hit and the stack of a walk, then room for a batch of rays and their answers, for hints and for rays to discs. */
const WALK_BYTES = 4096;
const BATCH = 1024;
const SCRATCH_BYTES = WALK_BYTES + BATCH * (RAY * 4 + 16) + HINTS * 4 + DISC_BYTES;
/** The root of a tree without triangles: a leaf that has no blocks. */
const EMPTY = -(2 ** 31);
/** Tracers over one tree. */
const MOST_TRACERS = 64;

/**
 * Builds the tree over triangles (see kernel/build.ts).
 *
 * @param positions 3 per vertex, metres
 * @param indices 3 per triangle
 * @param cutouts 1 for each triangle that may have holes
 */
export function buildTree(positions: Float32Array, indices: Uint32Array, cutouts?: Uint8Array): Tree {
  const triangles = indices.length / 3;
  const room = places(16);
  const takenAt = room(16);
  const scratchAt = room(SCRATCH_BYTES * MOST_TRACERS);
  if (triangles === 0) return { memory: sharedMemory(room(0)), nodesAt: 0, blocksAt: 0, root: EMPTY, scratchAt, takenAt };

  // Built in a memory of its own, which is let go of: building takes several times what the tree does.
  const work = places(16);
  const positionsAt = work(positions.byteLength + 16);
  const indicesAt = work(indices.byteLength);
  const cutoutsAt = work(cutouts ? triangles : 0);
  const first = instantiate(sharedMemory(1));
  const workAt = work(first.workBytes(triangles) >>> 0);
  // No more nodes than pairs of them, and in the worst case a block for each triangle.
  const [nodesAt, blocksAt] = [work(triangles * NODE_BYTES), work(triangles * BLOCK_BYTES)];
  const memory = sharedMemory(work(0));
  new Float32Array(memory.buffer, positionsAt, positions.length).set(positions);
  new Uint32Array(memory.buffer, indicesAt, indices.length).set(indices);
  if (cutouts) new Uint8Array(memory.buffer, cutoutsAt, triangles).set(cutouts);
  const kernel = instantiate(memory);
  const pairs = kernel.split(positionsAt, indicesAt, triangles, workAt);
  const blockBytes = kernel.countBlocks(pairs) * BLOCK_BYTES;
  const root = kernel.collapse(positionsAt, indicesAt, cutouts ? cutoutsAt : 0, nodesAt, blocksAt);
  const nodeBytes = kernel.nodeCount() * NODE_BYTES;

  const kept = { nodesAt: room(nodeBytes), blocksAt: room(blockBytes) };
  const own = sharedMemory(room(0));
  new Uint8Array(own.buffer, kept.nodesAt, nodeBytes).set(new Uint8Array(memory.buffer, nodesAt, nodeBytes));
  new Uint8Array(own.buffer, kept.blocksAt, blockBytes).set(new Uint8Array(memory.buffer, blocksAt, blockBytes));
  return { memory: own, ...kept, root, scratchAt, takenAt };
}

/** Makes a tracer over a tree, which other threads may have tracers over as well. */
export function openTracer(
  { memory, nodesAt, blocksAt, root, scratchAt, takenAt }: Tree,
  { isHole, through }: Pick<Cutouts, 'isHole' | 'through'> = { isHole: () => false },
): Tracer {
  const slot = Atomics.add(new Int32Array(memory.buffer, takenAt, 1), 0, 1);
  if (slot >= MOST_TRACERS) throw new RangeError(`A tree has at most ${MOST_TRACERS} tracers.`);
  const scratch = scratchAt + slot * SCRATCH_BYTES;
  const kernel = instantiate(memory, (triangle, u, v) => (isHole(triangle, u, v) ? 1 : 0), through);
  kernel.use(nodesAt, blocksAt, root, scratch);
  const numbers = new Float32Array(memory.buffer, scratch, 4);
  const flags = new Uint32Array(memory.buffer, scratch, 4);
  const raysAt = scratch + WALK_BYTES;
  const answersAt = raysAt + BATCH * RAY * 4;
  const hintsAt = answersAt + BATCH * 16;
  // Nothing was met yet: the root is looked at first.
  new Int32Array(memory.buffer, hintsAt, HINTS).fill(root);
  const rayRoom = new Float32Array(memory.buffer, raysAt, BATCH * RAY);
  const answerNumbers = new Float32Array(memory.buffer, answersAt, BATCH * 4);
  const answerTriangles = new Int32Array(memory.buffer, answersAt, BATCH * 4);
  const answerBytes = new Uint8Array(memory.buffer, answersAt, BATCH);

  return {
    closest(ox, oy, oz, dx, dy, dz, tMin, tMax, hit) {
      const triangle = kernel.closest(ox, oy, oz, dx, dy, dz, tMin, tMax);
      if (triangle < 0) return false;
      hit.t = numbers[0]!;
      hit.u = numbers[1]!;
      hit.v = numbers[2]!;
      hit.back = flags[3] === 1;
      hit.triangle = triangle;
      return true;
    },
    occluded(ox, oy, oz, dx, dy, dz, tMin, tMax, hint = -1) {
      // What is passed at the place that is looked at first would be passed twice.
      if (hint < 0 || through) return kernel.any(ox, oy, oz, dx, dy, dz, tMin, tMax) >= 0;
      return kernel.anyFrom(hintsAt + hint * 4, ox, oy, oz, dx, dy, dz, tMin, tMax) >= 0;
    },
    closestOf(rays, triangles, found) {
      for (let from = 0; from < triangles.length; from += BATCH) {
        const count = Math.min(BATCH, triangles.length - from);
        rayRoom.set(rays.subarray(from * RAY, (from + count) * RAY));
        kernel.closestOf(raysAt, count, answersAt);
        for (let i = 0; i < count; i++) {
          triangles[from + i] = answerTriangles[i * 4]!;
          for (let c = 0; c < 3; c++) found[(from + i) * 3 + c] = answerNumbers[i * 4 + 1 + c]!;
        }
      }
    },
    occludedOf(rays, answers) {
      for (let from = 0; from < answers.length; from += BATCH) {
        const count = Math.min(BATCH, answers.length - from);
        rayRoom.set(rays.subarray(from * RAY, (from + count) * RAY));
        kernel.anyOf(raysAt, count, answersAt);
        answers.set(answerBytes.subarray(0, count), from);
      }
    },
    toDiscs: (discs) => openDiscRays({ kernel, memory, at: hintsAt + HINTS * 4, root, passes: through !== undefined }, discs),
  };
}

/** Builds a tree and a tracer over it. */
export const buildTracer = (positions: Float32Array, indices: Uint32Array, cutouts?: Cutouts): Tracer =>
  openTracer(buildTree(positions, indices, cutouts?.has), cutouts);
