import type { Surfaces } from '../level';
import { varianceSlots, type TileStems } from './gather';
import { FIRST_SUN_LAYER, GLOW_LAYER, LAYER, SKY_LAYERS, circuitLayer, layerCount, type BakePlan, type MapStems } from './stems';
import { chartOfVertex, coverTexels } from './texels';

/** Texels on each side that the filter looks at. */
const REACH = 2;
/** Texels that every chart is widened by, so that interpolation at its edge meets no empty texel. */
const DILATION = 4;

/** What the filter must not blur across, for each texel of a map. */
interface Guides {
  chart: Int32Array;
  position: Float32Array;
  normal: Float32Array;
}

function readGuides(surfaces: Surfaces, map: number, charts: Uint32Array): Guides {
  const { width, height } = surfaces.maps[map]!;
  const guides = {
    chart: new Int32Array(width * height).fill(-1),
    position: new Float32Array(width * height * 3),
    normal: new Float32Array(width * height * 3),
  };
  const { positions, normals, indices } = surfaces;
  for (let top = 0; top < height; top += 64) {
    const texels = coverTexels(surfaces, { map, top, bottom: Math.min(height, top + 64) });
    texels.at.forEach((at, i) => {
      const k = (texels.start[i]! + texels.start[i + 1]!) >> 1;
      const t = texels.triangle[k]! * 3;
      const [u, v] = [texels.u[k]!, texels.v[k]!];
      const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
      guides.chart[at] = charts[a]!;
      for (let x = 0; x < 3; x++) {
        guides.position[at * 3 + x] = positions[a * 3 + x]! * (1 - u - v) + positions[b * 3 + x]! * u + positions[c * 3 + x]! * v;
        guides.normal[at * 3 + x] = normals[a * 3 + x]! * (1 - u - v) + normals[b * 3 + x]! * u + normals[c * 3 + x]! * v;
      }
      // Interpolated between corners that lean apart it is shorter than one.
      const [nx, ny, nz] = [guides.normal[at * 3]!, guides.normal[at * 3 + 1]!, guides.normal[at * 3 + 2]!];
      const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
      for (let x = 0; x < 3; x++) guides.normal[at * 3 + x]! /= length;
    });
  }
  return guides;
}

/** The layers of a stem that is filtered as one; the luminance of the first guides it. */
interface Group {
  layers: number[];
}

const groupsOf = (plan: BakePlan): Group[] => [
  { layers: Array.from({ length: SKY_LAYERS }, (_, i) => i) },
  { layers: [GLOW_LAYER] },
  ...plan.suns.map((_, s) => ({ layers: [FIRST_SUN_LAYER + s] })),
  ...plan.circuits.flatMap((_, i) => [0, 1].map((k) => ({ layers: [circuitLayer(plan, i) + k] }))),
];

/**
 * Puts the tiles of one lightmap together and makes it fit to be looked up: noise is filtered within charts, texels that
 * could not be gathered are filled from their neighbours, and every chart is widened into the gutter.
 *
 * The filter averages over a 5 x 5 window, never across charts or off the plane of a texel, and only as far as two values
 * differ no more than their own noise explains (variance-guided, after Rousselle et al. 2012). Direct sun is left as it is, and so
 * is a circuit's straight light unless its materials glow.
 *
 * @param tiles all tiles of the map
 */
export function finishMap(surfaces: Surfaces, plan: BakePlan, map: number, tiles: TileStems[]): MapStems {
  const { width, height } = surfaces.maps[map]!;
  const size = width * height;
  const count = layerCount(plan);
  const slots = varianceSlots(plan);
  const layers = new Float32Array(size * count * LAYER);
  const variance = new Float32Array(size * slots);
  const stride = count * LAYER;
  for (const tile of tiles) {
    // Layer by layer, so that what is written lies together.
    for (let layer = 0; layer < count; layer++) {
      for (let i = 0; i < tile.at.length; i++) {
        const [from, to] = [i * stride + layer * LAYER, (layer * size + tile.at[i]!) * LAYER];
        for (let c = 0; c < LAYER; c++) layers[to + c] = tile.values[from + c]!;
      }
    }
    for (let i = 0; i < tile.at.length; i++) variance.set(tile.variance.subarray(i * slots, (i + 1) * slots), tile.at[i]! * slots);
  }
  const guides = readGuides(surfaces, map, chartOfVertex(surfaces));
  const valid = new Uint8Array(size);
  for (let i = 0; i < size; i++) if (layers[i * LAYER + 3]! > 0) valid[i] = 1;
  const spacing = texelSpacing(guides, width, height);
  filterStems(layers, { width, height }, groupsOf(plan), variance, guides, valid, spacing);
  dilate(layers, width, height, count, valid, guides.chart);
  return { width, height, layers };
}

/** Median distance in metres between neighbouring texels of one chart. */
function texelSpacing({ chart, position }: Guides, width: number, height: number): number {
  const distances: number[] = [];
  const step = Math.max(1, Math.floor((width * height) / 4096));
  for (let i = 0; i + 1 < width * height; i += step) {
    if (chart[i]! < 0 || chart[i] !== chart[i + 1] || i % width === width - 1) continue;
    distances.push(Math.hypot(...[0, 1, 2].map((c) => position[i * 3 + c]! - position[i * 3 + 3 + c]!)));
  }
  distances.sort((a, b) => a - b);
  return distances[distances.length >> 1] ?? 1;
}

/** Farther than this many times their noise (as an exponent) two values have nothing to do with each other. */
const UNLIKE = 20;

function filterStems(
  layers: Float32Array,
  { width, height }: { width: number; height: number },
  groups: readonly Group[],
  variance: Float32Array,
  { chart, position, normal }: Guides,
  valid: Uint8Array,
  spacing: number,
): void {
  const size = width * height;
  const slots = groups.length;
  const source = layers.slice();
  const guide = new Float32Array(size * slots);
  groups.forEach(({ layers: [first] }, slot) => {
    // The sky's first coefficient is the radiance of a uniform sky times Y00; its noise was measured without that factor.
    const toGuide = slot === 0 ? 1 / 0.282095 : 1;
    for (let i = 0; i < size; i++) {
      if (valid[i] === 0) continue;
      const at = (first! * size + i) * LAYER;
      guide[i * slots + slot] = toGuide * (0.2126 * source[at]! + 0.7152 * source[at + 1]! + 0.0722 * source[at + 2]!);
    }
  });
  const side = 2 * REACH + 1;
  const near = Float64Array.from({ length: side * side }, (_, k) =>
    Math.exp(-((Math.floor(k / side) - REACH) ** 2 + ((k % side) - REACH) ** 2) / (2 * REACH)),
  );
  // The texels of a window that lie on the same surface, and how far they count for that alone.
  const members = new Uint32Array(side * side);
  const shares = new Float64Array(side * side);
  const weights = new Float64Array(side * side);

  function gatherWindow(i: number): number {
    const x = i % width;
    const y = (i - x) / width;
    const px = position[i * 3]!;
    const py = position[i * 3 + 1]!;
    const pz = position[i * 3 + 2]!;
    const nx = normal[i * 3]!;
    const ny = normal[i * 3 + 1]!;
    const nz = normal[i * 3 + 2]!;
    let count = 0;
    for (let v = Math.max(0, y - REACH); v <= Math.min(height - 1, y + REACH); v++) {
      for (let u = Math.max(0, x - REACH); u <= Math.min(width - 1, x + REACH); u++) {
        const j = v * width + u;
        if (valid[j] === 0 || chart[j] !== chart[i]) continue;
        const facing = nx * normal[j * 3]! + ny * normal[j * 3 + 1]! + nz * normal[j * 3 + 2]!;
        // A texel always counts itself, also where opposed corner normals leave it without one.
        if (j !== i && facing <= 0.8) continue;
        const off = (position[j * 3]! - px) * nx + (position[j * 3 + 1]! - py) * ny + (position[j * 3 + 2]! - pz) * nz;
        if (Math.abs(off) > spacing) continue;
        const four = facing * facing * facing * facing;
        members[count] = j;
        shares[count++] = near[(v - y + REACH) * side + u - x + REACH]! * (j === i ? 1 : four * four);
      }
    }
    return count;
  }

  for (let i = 0; i < size; i++) {
    if (valid[i] === 0) continue;
    const count = gatherWindow(i);
    for (let slot = 0; slot < slots; slot++) {
      const ownNoise = variance[i * slots + slot]!;
      if (ownNoise === 0) continue;
      let whole = 0;
      for (let k = 0; k < count; k++) {
        const j = members[k]! * slots + slot;
        const apart = guide[i * slots + slot]! - guide[j]!;
        const unlike = (apart * apart) / (2 * (ownNoise + variance[j]!) + 1e-30);
        whole += weights[k] = unlike > UNLIKE ? 0 : shares[k]! * Math.exp(-unlike);
      }
      for (const layer of groups[slot]!.layers) {
        let [r, g, b] = [0, 0, 0];
        for (let k = 0; k < count; k++) {
          const at = (layer * size + members[k]!) * LAYER;
          const weight = weights[k]!;
          r += weight * source[at]!;
          g += weight * source[at + 1]!;
          b += weight * source[at + 2]!;
        }
        const at = (layer * size + i) * LAYER;
        layers[at] = r / whole;
        layers[at + 1] = g / whole;
        layers[at + 2] = b / whole;
      }
    }
  }
}

/**
 * Fills texels from the mean of their filled neighbours, ring by ring: the gutter by {@link DILATION} texels, and surface
 * that could not be gathered until all of it is reached, from its own chart first. The flag of gathered texels stays.
 */
function dilate(layers: Float32Array, width: number, height: number, count: number, valid: Uint8Array, chart: Int32Array): void {
  const size = width * height;
  const filled = valid.slice();
  const isEdge = (i: number) => filled[i] === 0 && around(i, width, height, (j) => filled[j] === 1);
  const first: number[] = [];
  for (let i = 0; i < size; i++) if (isEdge(i)) first.push(i);
  let edge = Uint32Array.from(first);
  for (let ring = 0; edge.length > 0; ring++) {
    const reached = edge.filter((i) => chart[i]! >= 0 || ring < DILATION);
    // Where each of them takes its light from.
    const from: number[] = [];
    const start = new Uint32Array(reached.length + 1);
    reached.forEach((i, k) => {
      const own = chart[i]! >= 0 && around(i, width, height, (j) => filled[j] === 1 && chart[j] === chart[i]);
      around(i, width, height, (j) => {
        if (filled[j] === 1 && (!own || chart[j] === chart[i])) from.push(j);
        return false;
      });
      start[k + 1] = from.length;
    });
    for (let layer = 0; layer < count; layer++) {
      const base = layer * size;
      for (let k = 0; k < reached.length; k++) {
        let [r, g, b, a] = [0, 0, 0, 0];
        for (let n = start[k]!; n < start[k + 1]!; n++) {
          const at = (base + from[n]!) * LAYER;
          r += layers[at]!;
          g += layers[at + 1]!;
          b += layers[at + 2]!;
          a += layers[at + 3]!;
        }
        const of = start[k + 1]! - start[k]!;
        const at = (base + reached[k]!) * LAYER;
        layers[at] = r / of;
        layers[at + 1] = g / of;
        layers[at + 2] = b / of;
        if (layer !== 0) layers[at + 3] = a / of;
      }
    }
    for (const i of reached) filled[i] = 1;
    const next = new Set<number>();
    for (const i of reached) {
      around(i, width, height, (j) => {
        if (filled[j] === 0) next.add(j);
        return false;
      });
    }
    edge = Uint32Array.from(next).sort();
  }
}

/** Visits the up to eight neighbours of a texel until `visit` says true; whether it did. */
function around(i: number, width: number, height: number, visit: (j: number) => boolean): boolean {
  const x = i % width;
  const y = (i - x) / width;
  for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++) {
    for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
      const j = ny * width + nx;
      if (j !== i && visit(j)) return true;
    }
  }
  return false;
}
