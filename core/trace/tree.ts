/**
 * A bounding volume hierarchy over triangles, as flat arrays. Node `n` takes eight slots at `n * NODE`:
 * the low corner, then the link; the high corner, then the count. An inner node has count 0 and its link is its first
 * child (the second follows it); a leaf's link is the first of its `count` triangles in the order of the tree.
 * `floats` and `links` are two views of the same memory.
 */
export interface Tree {
  floats: Float32Array;
  links: Uint32Array;
  /** For each place in the order of the tree: the triangle that stands there. */
  order: Uint32Array;
}

export const NODE = 8;
export const LINK = 3;
export const HIGH = 4;
export const COUNT = 7;

const BINS = 16;
const LEAF_SIZE = 4;
/** Cost of stepping through a node, in triangle tests. */
const STEP_COST = 1;

/** Axis-aligned bounds under construction: low corner then high corner. */
type Box = Float64Array;
const emptyBox = (): Box => Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity);

function grow(box: Box, bounds: Float32Array, triangle: number): void {
  for (let c = 0; c < 3; c++) {
    box[c] = Math.min(box[c]!, bounds[triangle * 6 + c]!);
    box[c + 3] = Math.max(box[c + 3]!, bounds[triangle * 6 + c + 3]!);
  }
}

function join(into: Box, other: Box): void {
  for (let c = 0; c < 3; c++) {
    into[c] = Math.min(into[c]!, other[c]!);
    into[c + 3] = Math.max(into[c + 3]!, other[c + 3]!);
  }
}

function halfArea(box: Box): number {
  const [x, y, z] = [box[3]! - box[0]!, box[4]! - box[1]!, box[5]! - box[2]!];
  return x < 0 ? 0 : x * y + y * z + z * x;
}

/** Bounds of each triangle: low corner then high corner. */
function triangleBounds(positions: Float32Array, indices: Uint32Array): Float32Array {
  const bounds = new Float32Array(indices.length * 2);
  for (let t = 0; t < indices.length / 3; t++) {
    for (let c = 0; c < 3; c++) {
      const [a, b, d] = [
        positions[indices[t * 3]! * 3 + c]!,
        positions[indices[t * 3 + 1]! * 3 + c]!,
        positions[indices[t * 3 + 2]! * 3 + c]!,
      ];
      bounds[t * 6 + c] = Math.min(a, b, d);
      bounds[t * 6 + c + 3] = Math.max(a, b, d);
    }
  }
  return bounds;
}

/**
 * Builds the tree top-down, splitting each node where the surface area heuristic over {@link BINS} bins of centroids is
 * least (Wald 2007, "On fast Construction of SAH-based Bounding Volume Hierarchies").
 *
 * @param positions 3 per vertex, metres
 * @param indices 3 per triangle
 */
export function buildTree(positions: Float32Array, indices: Uint32Array): Tree {
  const triangles = indices.length / 3;
  const bounds = triangleBounds(positions, indices);
  const order = Uint32Array.from({ length: triangles }, (_, i) => i);
  const memory = new ArrayBuffer(Math.max(1, triangles * 2) * NODE * 4);
  const floats = new Float32Array(memory);
  const links = new Uint32Array(memory);
  const centre = (triangle: number, axis: number) => bounds[triangle * 6 + axis]! + bounds[triangle * 6 + axis + 3]!;

  let nodes = 1;
  const pending: [node: number, first: number, count: number][] = [[0, 0, triangles]];
  while (pending.length > 0) {
    const [node, first, count] = pending.pop()!;
    const box = emptyBox();
    for (let i = first; i < first + count; i++) grow(box, bounds, order[i]!);
    for (let c = 0; c < 3; c++) {
      floats[node * NODE + c] = box[c]!;
      floats[node * NODE + HIGH + c] = box[c + 3]!;
    }
    const split = count > LEAF_SIZE ? bestSplit(bounds, order, first, count, centre, halfArea(box)) : null;
    if (!split) {
      links[node * NODE + LINK] = first;
      links[node * NODE + COUNT] = count;
      continue;
    }
    let left = first;
    let right = first + count - 1;
    while (left <= right) {
      const triangle = order[left]!;
      if (split.binOf(triangle) <= split.bin) left++;
      else [order[left], order[right--]] = [order[right]!, triangle];
    }
    links[node * NODE + LINK] = nodes;
    pending.push([nodes, first, left - first], [nodes + 1, left, first + count - left]);
    nodes += 2;
  }
  const trimmed = floats.slice(0, nodes * NODE);
  return { floats: trimmed, links: new Uint32Array(trimmed.buffer), order };
}

interface Split {
  bin: number;
  binOf: (triangle: number) => number;
}

/** The cheapest split of a run of triangles, or null where one leaf (of bearable size) is cheaper. */
function bestSplit(
  bounds: Float32Array,
  order: Uint32Array,
  first: number,
  count: number,
  centre: (triangle: number, axis: number) => number,
  parentArea: number,
): Split | null {
  let best: (Split & { cost: number }) | null = null;
  for (let axis = 0; axis < 3; axis++) {
    let low = Infinity;
    let high = -Infinity;
    for (let i = first; i < first + count; i++) {
      const c = centre(order[i]!, axis);
      low = Math.min(low, c);
      high = Math.max(high, c);
    }
    if (!(high > low)) continue;
    const scale = (BINS * (1 - 1e-7)) / (high - low);
    const binOf = (triangle: number) => Math.min(BINS - 1, Math.floor((centre(triangle, axis) - low) * scale));
    const boxes = Array.from({ length: BINS }, emptyBox);
    const counts = new Uint32Array(BINS);
    for (let i = first; i < first + count; i++) {
      const bin = binOf(order[i]!);
      grow(boxes[bin]!, bounds, order[i]!);
      counts[bin]!++;
    }
    const leftCost = new Float64Array(BINS);
    const sweep = emptyBox();
    for (let bin = 0, n = 0; bin < BINS - 1; bin++) {
      join(sweep, boxes[bin]!);
      n += counts[bin]!;
      leftCost[bin] = n * halfArea(sweep);
    }
    const back = emptyBox();
    for (let bin = BINS - 2, n = 0; bin >= 0; bin--) {
      join(back, boxes[bin + 1]!);
      n += counts[bin + 1]!;
      const cost = leftCost[bin]! + n * halfArea(back);
      if (n > 0 && n < count && (!best || cost < best.cost)) best = { bin, binOf, cost };
    }
  }
  if (!best) return null;
  return best.cost + STEP_COST * parentArea < count * parentArea || count > LEAF_SIZE * 4 ? best : null;
}
