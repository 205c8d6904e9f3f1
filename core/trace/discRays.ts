import type { Kernel } from './instance';

/** Discs far away that rays are aimed at: suns. */
export interface Discs {
  /** For each nine numbers: a frame of unit vectors, the direction of its middle last. */
  frames: Float64Array;
  /** Angular radius of each, radians. */
  radii: Float64Array;
  /** Pairs of numbers in [0, 1) that aims are taken by, evenly spread: {@link DISC_AIMS} of them. */
  pairs: Float64Array;
}

/** Rays to discs from the points of a texel. */
export interface DiscRays {
  /** Sets point number `n`: where rays start, its unit normal, and that of the flat face. */
  put(n: number, start: Float64Array, normal: Float64Array, face: Float64Array): void;
  /** Forgets what was found. */
  clear(): void;
  /** Rays to a disc are asked up to the number before `end`, by the aims from `firstAim` on. */
  set(disc: number, firstAim: number, end: number): void;
  /**
   * Asks rays from number `first` on to each disc, up to its end; answers how many.
   *
   * @param points how many are set; ray number n leaves from point (offset + n x step) modulo points
   */
  ask(first: number, points: number, offset: number, step: number): number;
  /** Rays to a disc that left the surface, those of them that were free, and the sum of the cosines of these, each times what came through. */
  facing(disc: number): number;
  free(disc: number): number;
  sum(disc: number): number;
}

/** Aims at a disc that are worked out once; a power of two. */
export const DISC_AIMS = 1024;
/** Points that rays leave from, at most. */
export const DISC_POINTS = 16;

const POINT = 12;
const DISC = 16;
const AIM = 4;
/** Discs that are asked in one go, at most. */
const MOST_DISCS = 1024;
/** Bytes of the room for all of these. */
export const DISC_BYTES = (DISC_POINTS * POINT + MOST_DISCS * DISC + DISC_AIMS * AIM) * 4;

/** What rays to discs are asked by: a kernel, and room for {@link DISC_BYTES} in its memory. */
interface Room {
  kernel: Kernel;
  memory: WebAssembly.Memory;
  at: number;
  /** The root of the tree. */
  root: number;
  /** Whether rays may pass something that colours them. */
  passes: boolean;
}

/** Prepares rays to discs (see kernel/discs.ts). Throws where there are more than can be asked. */
export function openDiscRays({ kernel, memory, at, root, passes }: Room, { frames, radii, pairs }: Discs): DiscRays {
  const count = radii.length;
  if (count > MOST_DISCS) throw new RangeError(`At most ${MOST_DISCS} discs are asked at once.`);
  const [discsAt, aimsAt] = [at + DISC_POINTS * POINT * 4, at + (DISC_POINTS * POINT + MOST_DISCS * DISC) * 4];
  const points = new Float32Array(memory.buffer, at, DISC_POINTS * POINT);
  const discs = new Float32Array(memory.buffer, discsAt, MOST_DISCS * DISC);
  const words = new Int32Array(memory.buffer, discsAt, MOST_DISCS * DISC);
  const aims = new Float32Array(memory.buffer, aimsAt, DISC_AIMS * AIM);
  for (let i = 0; i < DISC_AIMS; i++) {
    const around = 2 * Math.PI * pairs[i * 2 + 1]!;
    aims.set([pairs[i * 2]!, Math.cos(around), Math.sin(around), 0], i * AIM);
  }
  for (let disc = 0; disc < count; disc++) {
    for (let row = 0; row < 3; row++) discs.set(frames.subarray(disc * 9 + row * 3, disc * 9 + row * 3 + 3), disc * DISC + row * 4);
    // 1 - the cosine, without losing the digits of a small one.
    discs[disc * DISC + 3] = 2 * Math.sin(radii[disc]! / 2) ** 2;
    words[disc * DISC + 15] = root;
  }
  return {
    put(n, start, normal, face) {
      const own = n * POINT;
      for (let c = 0; c < 3; c++) {
        points[own + c] = start[c]!;
        points[own + 4 + c] = normal[c]!;
        points[own + 8 + c] = face[c]!;
      }
    },
    clear() {
      for (let own = 12; own < count * DISC; own += DISC) words[own] = words[own + 1] = words[own + 2] = 0;
    },
    set(disc, firstAim, end) {
      words[disc * DISC + 7] = firstAim;
      words[disc * DISC + 11] = end;
    },
    ask: (first, of, offset, step) => kernel.askDiscs(first, at, of, offset, step, discsAt, count, aimsAt, passes),
    facing: (disc) => words[disc * DISC + 12]!,
    free: (disc) => words[disc * DISC + 13]!,
    sum: (disc) => discs[disc * DISC + 14]!,
  };
}
