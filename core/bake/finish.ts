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
      const length = Math.hypot(guides.normal[at * 3]!, guides.normal[at * 3 + 1]!, guides.normal[at * 3 + 2]!) || 1;
      for (let x = 0; x < 3; x++) guides.normal[at * 3 + x]! /= length;
    });
  }
  return guides;
}

/** A stem that is filtered as one: its layers, and where its luminance for the guide comes from. */
interface Group {
  layers: number[];
  /** Numbers of each layer that take part. */
  channels: number;
}

const groupsOf = (plan: BakePlan): Group[] => [
  { layers: Array.from({ length: SKY_LAYERS }, (_, i) => i), channels: 3 },
  { layers: [GLOW_LAYER], channels: 3 },
  ...plan.suns.map((_, s) => ({ layers: [FIRST_SUN_LAYER + s], channels: 3 })),
  ...plan.circuits.flatMap((_, i) => [0, 1].map((k) => ({ layers: [circuitLayer(plan, i) + k], channels: 3 }))),
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
    tile.at.forEach((at, i) => {
      for (let layer = 0; layer < count; layer++) {
        for (let c = 0; c < LAYER; c++) layers[(layer * size + at) * LAYER + c] = tile.values[i * stride + layer * LAYER + c]!;
      }
      for (let k = 0; k < slots; k++) variance[at * slots + k] = tile.variance[i * slots + k]!;
    });
  }
  const guides = readGuides(surfaces, map, chartOfVertex(surfaces));
  const valid = Uint8Array.from({ length: size }, (_, i) => (layers[i * LAYER + 3]! > 0 ? 1 : 0));
  const spacing = texelSpacing(guides, width, height);
  groupsOf(plan).forEach((group, slot) => filterGroup(layers, { width, height }, group, slot, slots, variance, guides, valid, spacing));
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

function filterGroup(
  layers: Float32Array,
  { width, height }: { width: number; height: number },
  { layers: own, channels }: Group,
  slot: number,
  slots: number,
  variance: Float32Array,
  { chart, position, normal }: Guides,
  valid: Uint8Array,
  spacing: number,
): void {
  const size = width * height;
  const first = own[0]! * size * LAYER;
  const guideOf = (i: number) =>
    0.2126 * layers[first + i * LAYER]! + 0.7152 * layers[first + i * LAYER + 1]! + 0.0722 * layers[first + i * LAYER + 2]!;
  // The sky's first coefficient is the radiance of a uniform sky times Y00; its noise was measured without that factor.
  const toGuide = slot === 0 ? 0.282095 : 1;
  const source = own.map((layer) => layers.slice(layer * size * LAYER, (layer + 1) * size * LAYER));
  const guide = Float32Array.from({ length: size }, (_, i) => guideOf(i) / toGuide);
  const sums = new Float64Array(own.length * channels);
  for (let i = 0; i < size; i++) {
    if (!valid[i] || variance[i * slots + slot] === 0) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    let weights = 0;
    sums.fill(0);
    for (let dy = -REACH; dy <= REACH; dy++) {
      for (let dx = -REACH; dx <= REACH; dx++) {
        const [nx, ny] = [x + dx, y + dy];
        if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
        const j = ny * width + nx;
        if (!valid[j] || chart[j] !== chart[i]) continue;
        const facing = normal[i * 3]! * normal[j * 3]! + normal[i * 3 + 1]! * normal[j * 3 + 1]! + normal[i * 3 + 2]! * normal[j * 3 + 2]!;
        // A texel always counts itself, also where opposed corner normals leave it without one.
        if (j !== i && facing <= 0.8) continue;
        let off = 0;
        for (let c = 0; c < 3; c++) off += (position[j * 3 + c]! - position[i * 3 + c]!) * normal[i * 3 + c]!;
        if (Math.abs(off) > spacing) continue;
        const noise = variance[i * slots + slot]! + variance[j * slots + slot]!;
        const apart = guide[i]! - guide[j]!;
        const weight = Math.exp((-apart * apart) / (2 * noise + 1e-30) - (dx * dx + dy * dy) / (2 * REACH)) * (j === i ? 1 : facing ** 8);
        weights += weight;
        source.forEach((data, l) => {
          for (let c = 0; c < channels; c++) sums[l * channels + c]! += weight * data[j * LAYER + c]!;
        });
      }
    }
    own.forEach((layer, l) => {
      for (let c = 0; c < channels; c++) layers[(layer * size + i) * LAYER + c] = sums[l * channels + c]! / weights;
    });
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
  let edge = Uint32Array.from({ length: size }, (_, i) => i).filter(isEdge);
  const sums = new Float64Array(count * LAYER);
  for (let ring = 0; edge.length > 0; ring++) {
    const reached = edge.filter((i) => chart[i]! >= 0 || ring < DILATION);
    const values = new Float32Array(reached.length * count * LAYER);
    reached.forEach((i, k) => {
      const own = chart[i]! >= 0 && around(i, width, height, (j) => filled[j] === 1 && chart[j] === chart[i]);
      let from = 0;
      sums.fill(0);
      around(i, width, height, (j) => {
        if (filled[j] === 0 || (own && chart[j] !== chart[i])) return false;
        from++;
        for (let layer = 0; layer < count; layer++) {
          for (let c = 0; c < LAYER; c++) sums[layer * LAYER + c]! += layers[(layer * size + j) * LAYER + c]!;
        }
        return false;
      });
      for (let c = 0; c < sums.length; c++) values[k * sums.length + c] = sums[c]! / from;
    });
    reached.forEach((i, k) => {
      filled[i] = 1;
      for (let layer = 0; layer < count; layer++) {
        for (let c = 0; c < LAYER; c++) {
          if (layer !== 0 || c !== 3) layers[(layer * size + i) * LAYER + c] = values[(k * count + layer) * LAYER + c]!;
        }
      }
    });
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
