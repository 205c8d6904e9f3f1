import { instantiate, places, sharedMemory, type Kernel } from './instance';

/** Light of texels that is told by bytes of each: plane after plane, a byte of each texel in each. */
export type Codes = { planes: Uint8Array } & (
  | {
      /** Planes of a group of layers: five of a head, then `fine` and then `coarse`, with a table as {@link GroupTable} says. */
      kind: 'group';
      table: GroupTable;
    }
  | {
      /** Colours in three bytes: what their lowest ten bits stand for, in sums of channels / 127, and gains. */
      kind: 'colors';
      levels: Float32Array;
      gains: readonly number[];
    }
  /** Squares of bytes, times gains. */
  | { kind: 'squares'; gains: readonly number[] }
);

/** What the bytes of a group are multiplied by. */
export interface GroupTable {
  /** Planes of fine codes, at most eight, and of coarse ones, each of two. */
  fine: number;
  coarse: number;
  /** Entries of all clusters, in the kernel's form; see `addGroupCodes` in kernel/codes.ts. */
  entries: Uint8Array;
  /** What a 16-bit scale stands for, and an 8-bit range. */
  scales: Float32Array;
  ranges: Float32Array;
}

/** Planes of a group before those of its codes. */
const HEAD = 5;
/** Planes of codes that the kernel turns at a time. */
export const TURNED = 8;
/** Texels of a block: the kernel wants them in sixteens. */
const AT_ONCE = 4096;
/** Bytes from row to row: no power of two, so that rows do not crowd the same places of a cache. */
const STRIDE = AT_ONCE + 64;
/** Clusters that a byte can name. */
const CLUSTERS = 256;

const groupRows = (coarse: number) => HEAD + TURNED * (1 + Math.ceil(coarse / TURNED));
const COLOR_ROWS = 3;

/** Adds the light of texels to four floats of each; the fourth is left as it is. */
export function addCodes(codes: readonly Codes[], texels: number, out: Float32Array): void {
  const { bytes, places: at, kernel } = roomFor(codes);
  const floats = new Float32Array(bytes.buffer);
  const sums = floats.subarray(at.out / 4, at.out / 4 + AT_ONCE * 4);
  for (let first = 0; first < texels; first += AT_ONCE) {
    const count = Math.min(AT_ONCE, texels - first);
    const padded = Math.ceil(count / 16) * 16;
    sums.set(out.subarray(first * 4, (first + count) * 4));
    /** Brings planes of the block to rows of the kernel's. */
    const bring = (planes: Uint8Array, plane: number, rows: number, row: number) => {
      for (let k = 0; k < rows; k++) {
        const from = (plane + k) * texels + first;
        const to = at.rows + (row + k) * STRIDE;
        bytes.set(planes.subarray(from, from + count), to);
        bytes.fill(0, to + count, to + padded);
      }
    };
    const clear = (row: number, end: number) => bytes.fill(0, at.rows + row * STRIDE, at.rows + end * STRIDE);
    for (const own of codes) {
      if (own.kind === 'group') {
        const { fine, coarse, entries, scales, ranges } = own.table;
        bring(own.planes, 0, HEAD + fine, 0);
        clear(HEAD + fine, HEAD + TURNED);
        bring(own.planes, HEAD + fine, coarse, HEAD + TURNED);
        clear(HEAD + TURNED + coarse, groupRows(coarse));
        bytes.set(entries, at.table);
        floats.set(scales, at.scales / 4);
        floats.set(ranges, at.ranges / 4);
        const blocks = Math.ceil(coarse / TURNED);
        kernel.addGroupCodes(at.rows, STRIDE, padded, blocks, at.table, at.scales, at.ranges, at.turned, at.out);
        continue;
      }
      floats.set([...own.gains.slice(0, 3), 0], at.gains / 4);
      if (own.kind === 'colors') {
        bring(own.planes, 0, COLOR_ROWS, 0);
        floats.set(own.levels, at.table / 4);
        kernel.addColorCodes(at.rows, STRIDE, padded, at.table, at.gains, at.out);
      } else {
        bring(own.planes, 0, 1, 0);
        kernel.addSquares(at.rows, padded, at.gains, at.out);
      }
    }
    out.set(sums.subarray(0, count * 4), first * 4);
  }
}

interface Room {
  kernel: Kernel;
  bytes: Uint8Array;
  places: Record<'rows' | 'table' | 'scales' | 'ranges' | 'gains' | 'turned' | 'out', number>;
}

/** A memory of the kernel's, for the most that was ever wanted at once. */
let room: { forCoarse: number; room: Room } | null = null;

function roomFor(codes: readonly Codes[]): Room {
  const coarse = Math.max(0, ...codes.map((own) => (own.kind === 'group' ? own.table.coarse : 0)));
  if (room && room.forCoarse >= coarse) return room.room;
  const rows = groupRows(coarse);
  const next = places(16);
  const at = {
    rows: next(rows * STRIDE),
    table: next(CLUSTERS * entryBytes(coarse)),
    scales: next((1 << 16) * 4),
    ranges: next(256 * 4),
    gains: next(16),
    turned: next(rows * 16),
    out: next(AT_ONCE * 16),
  };
  const memory = sharedMemory(next(0));
  room = { forCoarse: coarse, room: { kernel: instantiate(memory), bytes: new Uint8Array(memory.buffer), places: at } };
  return room.room;
}

/** Bytes of a cluster's entry, by planes of coarse codes. */
const entryBytes = (coarse: number) => ENTRY_FLOATS * 4 + 2 * 3 * TURNED * (1 + 2 * Math.ceil(coarse / TURNED));
const ENTRY_FLOATS = 16;

const MOST_WORD = 32767;

/** A number of a table in three channels. */
type Three = readonly [number, number, number];

/** A cluster's entry before it is put into the kernel's form: its mean, and what each coefficient stands for where its code is 1. */
export interface ClusterLight {
  mean: Three;
  /** For codes less 128. */
  fine: readonly Three[];
  /** For codes as they are, and what is added where a texel's range is 1. */
  coarse: readonly Three[];
  coarseStart: Three;
}

/** Puts clusters' entries into the form that the kernel reads: words in steps of the largest of their kind, channel by channel. */
export function groupEntries(clusters: readonly ClusterLight[], coarsePlanes: number): Uint8Array {
  const size = entryBytes(coarsePlanes);
  const bytes = new Uint8Array(clusters.length * size);
  clusters.forEach(({ mean, fine, coarse, coarseStart }, k) => {
    const floats = new Float32Array(bytes.buffer, k * size, ENTRY_FLOATS);
    const words = new Int16Array(bytes.buffer, k * size + ENTRY_FLOATS * 4, (size - ENTRY_FLOATS * 4) / 2);
    floats.set(mean, 0);
    floats.set(coarseStart, 12);
    for (let c = 0; c < 3; c++) {
      const put = (values: readonly Three[], stepAt: number, placeOf: (n: number) => number) => {
        const step = values.reduce((largest, v) => Math.max(largest, Math.abs(v[c]!)), 0) / MOST_WORD;
        floats[stepAt + c] = step;
        if (step > 0) values.forEach((v, n) => (words[placeOf(n) + c * TURNED] = Math.round(v[c]! / step)));
      };
      put(fine, 4, (n) => n);
      // Of each block of planes the codes in the low halves, then those in the high halves.
      put(coarse, 8, (n) => {
        const plane = n >> 1;
        return 3 * TURNED * (1 + 2 * Math.floor(plane / TURNED) + (n & 1)) + (plane % TURNED);
      });
    }
  });
  return bytes;
}
