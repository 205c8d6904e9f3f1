import { instantiate, places, sharedMemory } from './instance';

/** Links from cells to those that their light comes from, in memory that light is bounced in. */
export interface CellLinks {
  /** Links of cell i are those from `start[i]` to `start[i + 1]`. */
  start: Uint32Array;
  target: Uint32Array;
  /** What comes of the light of the target: RGB and one number that is unused, for each link. */
  share: Float32Array;
  memory: WebAssembly.Memory;
}

/** Layers that are bounced in one go, so that those of all cells stay near the processor. */
const WIDE = 12;

/** Where links and what is summed over them lie. */
function areaOf(cells: number, links: number) {
  const room = places(16);
  const at = {
    start: room((cells + 1) * 4),
    target: room(links * 4),
    share: room(links * 16),
    own: room(cells * WIDE * 16),
    known: room(cells * WIDE * 16),
    next: room(cells * WIDE * 16),
    added: room(2 * WIDE * 16),
  };
  return { at, bytes: room(0) };
}

/** Room for at most so many links between so many cells, to be filled in. */
export function createCellLinks(cells: number, links: number): CellLinks {
  const { at, bytes } = areaOf(cells, links);
  const memory = sharedMemory(bytes);
  return {
    start: new Uint32Array(memory.buffer, at.start, cells + 1),
    target: new Uint32Array(memory.buffer, at.target, links),
    share: new Float32Array(memory.buffer, at.share, links * 4),
    memory,
  };
}

/**
 * Adds all further bounces to the light of cells: B = R + A B, where A are the links.
 *
 * @param values R, four numbers for each layer of each cell; then B
 * @param bounces most sums over all links
 * @param settled a bounce that adds less than this share to every layer is the last
 * @param progress told the share done, 0..1
 */
export function bounceBetweenCells(
  { start, target, memory }: CellLinks,
  values: Float32Array,
  { layers, bounces, settled }: { layers: number; bounces: number; settled: number },
  progress?: (share: number) => void,
): void {
  const cells = start.length - 1;
  const { at } = areaOf(cells, target.length);
  const kernel = instantiate(memory);
  for (let first = 0; first < layers; first += WIDE) {
    const wide = Math.min(WIDE, layers - first);
    const [size, stride] = [wide * 4, layers * 4];
    const own = new Float32Array(memory.buffer, at.own, cells * size);
    for (let cell = 0; cell < cells; cell++)
      own.set(values.subarray(cell * stride + first * 4, cell * stride + first * 4 + size), cell * size);
    let [known, next] = [at.known, at.next];
    new Float32Array(memory.buffer, known, cells * size).set(own);
    const added = new Float32Array(memory.buffer, at.added, 2 * size);
    for (let bounce = 0; bounce < bounces; bounce++) {
      kernel.bounceCells(cells, at.start, at.target, at.share, at.own, wide * 16, wide, known, next, at.added);
      [known, next] = [next, known];
      if (added.subarray(0, size).every((v, k) => v <= settled * added[size + k]!)) break;
    }
    const solved = new Float32Array(memory.buffer, known, cells * size);
    for (let cell = 0; cell < cells; cell++) values.set(solved.subarray(cell * size, (cell + 1) * size), cell * stride + first * 4);
    progress?.((first + wide) / layers);
  }
}
