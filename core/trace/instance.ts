import { KERNEL } from './kernel/bytes';

/** What kernel/kernel.ts exports; places are bytes. */
export interface Kernel {
  use(nodesAt: number, blocksAt: number, root: number, scratch: number): void;
  closest(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMin: number, tMax: number): number;
  any(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMin: number, tMax: number): number;
  anyFrom(hint: number, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMin: number, tMax: number): number;
  closestOf(rays: number, count: number, answers: number): void;
  anyOf(rays: number, count: number, answers: number): void;
  askDiscs(
    sample: number,
    points: number,
    count: number,
    offset: number,
    step: number,
    discs: number,
    discCount: number,
    aims: number,
    passes: boolean,
  ): number;
  workBytes(triangles: number): number;
  split(positions: number, indices: number, triangles: number, work: number): number;
  countBlocks(pairs: number): number;
  collapse(positions: number, indices: number, cutouts: number, nodesAt: number, blocksAt: number): number;
  nodeCount(): number;
  averageWindows(
    first: number,
    count: number,
    starts: number,
    members: number,
    shares: number,
    texels: number,
    weights: number,
    layers: number,
    wide: number,
    source: number,
    out: number,
    variances: number,
  ): void;
  compareMeans(first: number, count: number, starts: number, members: number, shares: number, texels: number): void;
  useLight(config: number): void;
  addLandings(list: number, count: number, sums: number): void;
  endRun(sums: number, slots: number, scales: number, count: number, before: number, brought: number, squares: number): void;
  endRound(runs: number, count: number, brought: number, squares: number, variance: number): void;
  bounceCells(
    count: number,
    start: number,
    target: number,
    share: number,
    own: number,
    stride: number,
    wide: number,
    known: number,
    next: number,
    added: number,
  ): void;
  dots(a: number, rows: number, b: number, columns: number, wide: number, out: number): void;
  addGroupCodes(
    planes: number,
    stride: number,
    texels: number,
    coarseBlocks: number,
    table: number,
    scales: number,
    ranges: number,
    turned: number,
    out: number,
  ): void;
  addColorCodes(planes: number, stride: number, texels: number, levels: number, gains: number, out: number): void;
  addSquares(plane: number, texels: number, gains: number, out: number): void;
  packHalves(values: number, count: number, factor: number, out: number): void;
  sumHalves(texels: number, terms: number, count0: number, count1: number, count2: number, sums: number, out: number): void;
}

const PAGE = 65536;

let compiled: WebAssembly.Module | null = null;

/** The kernel over a memory. */
export function instantiate(
  memory: WebAssembly.Memory,
  isHole: (triangle: number, u: number, v: number) => number = () => 0,
  through: () => number = () => 1,
): Kernel {
  compiled ??= new WebAssembly.Module(Uint8Array.from(atob(KERNEL), (c) => c.charCodeAt(0)));
  return new WebAssembly.Instance(compiled, { env: { memory }, walk: { isHole }, discs: { through } }).exports as unknown as Kernel;
}

/** A memory of so many bytes that threads can share. */
export const sharedMemory = (bytes: number) => {
  const pages = Math.ceil(bytes / PAGE);
  return new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
};

/** Hands out places of a memory, each at a multiple of 16 bytes. */
export function places(from = 0) {
  let at = from;
  return (bytes: number) => {
    const place = at;
    at = Math.ceil((at + bytes) / 16) * 16;
    return place;
  };
}
