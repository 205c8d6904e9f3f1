import { createWindowMeans, type WindowMeans } from '../../trace';
import { texelSpacing, type Cover } from '../texels/mapCover';
import { LAYER } from '../stems/layers';

/** Texels on each side that the filter looks at. */
const REACH = 2;
/** Its passes: how far apart the texels are that it looks at, and whether they are compared by means over windows of their own. */
const PASSES = [
  { step: 1, byMeans: true },
  { step: 3, byMeans: false },
] as const;
const SIDE = 2 * REACH + 1;
const NEAR = Float64Array.from({ length: SIDE * SIDE }, (_, k) =>
  Math.exp(-((Math.floor(k / SIDE) - REACH) ** 2 + ((k % SIDE) - REACH) ** 2) / (2 * REACH)),
);
/** Texels whose windows are held at a time, about. */
const AT_ONCE = 32768;

/** The layers of a stem that is filtered as one; the luminance of the first guides it. */
export interface Group {
  layers: number[];
  /** What its luminance is multiplied by to be of the same unit as its noise. */
  toGuide: number;
  /** Its slot of the variance. */
  slot: number;
}

/**
 * Filters noise out of the layers of a map: each texel becomes a mean over a window of 5 x 5, never across charts or off the plane of the
 * texel, and only as far as two values differ no more than their noise explains; and then once more over a window whose texels lie three
 * apart, by the noise that is left (variance-guided, after Rousselle et al. 2012; passes ever farther apart, after Dammertz et al. 2010).
 * The first time they are compared by means over windows of their own: by single values, what rare paths found would be told apart from
 * what missed them. The fourth numbers stay as they are.
 *
 * @param layers changed in place
 * @param all the stems among them
 * @param variance of the mean of each texel's luminance, `slots` numbers a texel
 * @param valid 0 for texels that were not gathered: they neither give nor take
 */
export function filterLayers(
  layers: Float32Array,
  cover: Cover,
  all: readonly Group[],
  { variance, slots }: { variance: Float32Array; slots: number },
  valid: Uint8Array,
): void {
  const size = cover.at.length;
  const measured = all.map(() => new Float32Array(size));
  for (let i = 0; i < size; i++) for (let g = 0; g < all.length; g++) measured[g]![i] = variance[i * slots + all[g]!.slot]!;
  // A sun that reaches nothing has no noise either.
  const noisy = all.map((group, g) => ({ group, noise: measured[g]! })).filter(({ noise }) => noise.some((v) => v > 0));
  if (noisy.length === 0) return;
  const groups = noisy.map((n) => n.group);
  const spacing = texelSpacing(cover);
  let from: Stage = { layers, noise: noisy.map((n) => n.noise) };
  let into: Stage = { layers: layers.slice(), noise: noisy.map(() => new Float32Array(size)) };
  for (const { step, byMeans } of PASSES) {
    const parts = partsOf(cover, step, byMeans);
    const means = createWindowMeans({
      texels: Math.max(...parts.map(({ seen }) => seen[1] - seen[0])),
      windows: Math.max(...parts.map(({ windows }) => windows[1] - windows[0])),
      members: SIDE * SIDE,
      layers: Math.max(...groups.map((g) => g.layers.length)),
    });
    for (const part of parts) {
      fillWindows(means, cover, valid, spacing * step, step, part);
      groups.forEach((group, g) => averageGroup(means, part, byMeans, group, size, g, from, into));
    }
    [from, into] = [into, from];
  }
  if (from.layers !== layers) layers.set(from.layers);
}

/** Values of all texels and, group by group, their noise. */
interface Stage {
  layers: Float32Array;
  noise: Float32Array[];
}

/** Texels of some whole rows: from the first to that after the last. */
type Rows = readonly [first: number, end: number];

/** Texels that are filtered in one go, those whose windows are needed for that, and those that these look at. */
interface Part {
  own: Rows;
  windows: Rows;
  seen: Rows;
}

function partsOf({ at, width, height }: Cover, step: number, byMeans: boolean): Part[] {
  const rows = Math.max(1, Math.floor(AT_ONCE / width));
  /** How many texels lie above each row. */
  const above = new Uint32Array(height + 1);
  for (const texel of at) above[Math.floor(texel / width) + 1]!++;
  for (let y = 0; y < height; y++) above[y + 1]! += above[y]!;
  const parts: Part[] = [];
  for (let y = 0; y < height; y += rows) {
    const widened = (by: number): Rows => [above[Math.max(0, y - by)]!, above[Math.min(height, y + rows + by)]!];
    const reach = REACH * step;
    const part = { own: widened(0), windows: widened(byMeans ? reach : 0), seen: widened(byMeans ? 2 * reach : reach) };
    if (part.own[1] > part.own[0]) parts.push(part);
  }
  return parts;
}

/** Finds the windows of a part's texels: those that lie on the same surface, and what each counts for that alone. */
function fillWindows(
  means: WindowMeans,
  { at, width, height, placeOf, chart, position, normal }: Cover,
  valid: Uint8Array,
  offPlane: number,
  step: number,
  { windows: [first, end], seen: [from] }: Part,
): void {
  means.begin();
  for (let i = first; i < end; i++) {
    if (valid[i] === 0) {
      means.end();
      continue;
    }
    const x = at[i]! % width;
    const y = (at[i]! - x) / width;
    const px = position[i * 3]!;
    const py = position[i * 3 + 1]!;
    const pz = position[i * 3 + 2]!;
    const nx = normal[i * 3]!;
    const ny = normal[i * 3 + 1]!;
    const nz = normal[i * 3 + 2]!;
    for (let row = 0; row < SIDE; row++) {
      const v = y + (row - REACH) * step;
      if (v < 0 || v >= height) continue;
      for (let column = 0; column < SIDE; column++) {
        const u = x + (column - REACH) * step;
        if (u < 0 || u >= width) continue;
        const j = placeOf[v * width + u]!;
        if (j < 0 || valid[j] === 0 || chart[j] !== chart[i]) continue;
        const facing = nx * normal[j * 3]! + ny * normal[j * 3 + 1]! + nz * normal[j * 3 + 2]!;
        // A texel always counts itself, also where opposed corner normals leave it without one.
        if (j !== i && facing <= 0.8) continue;
        const off = (position[j * 3]! - px) * nx + (position[j * 3 + 1]! - py) * ny + (position[j * 3 + 2]! - pz) * nz;
        if (Math.abs(off) > offPlane) continue;
        const four = facing * facing * facing * facing;
        means.add(j - from, NEAR[row * SIDE + column]! * (j === i ? 1 : four * four));
      }
    }
    means.end();
  }
}

/** Averages the layers of one group over the windows of a part. */
function averageGroup(
  means: WindowMeans,
  { own: [first, end], windows: [firstWindow], seen: [from, until] }: Part,
  byMeans: boolean,
  { layers: own, toGuide }: Group,
  size: number,
  slot: number,
  before: Stage,
  after: Stage,
): void {
  const wide = until - from;
  const source = means.source(own.length, wide);
  own.forEach((layer, k) =>
    source.set(before.layers.subarray((layer * size + from) * LAYER, (layer * size + until) * LAYER), k * wide * LAYER),
  );
  const { known } = means;
  for (let i = 0, k = 0; i < wide; i++, k += LAYER) {
    known[i * 4] = known[i * 4 + 2] = toGuide * (0.2126 * source[k]! + 0.7152 * source[k + 1]! + 0.0722 * source[k + 2]!);
    known[i * 4 + 1] = known[i * 4 + 3] = before.noise[slot]![from + i]!;
  }
  if (byMeans) means.compareMeans(firstWindow - from);
  const { values, variances } = means.average(first - from, end - first, first - firstWindow, own.length, wide);
  const count = (end - first) * LAYER;
  own.forEach((layer, k) => after.layers.set(values.subarray(k * count, (k + 1) * count), (layer * size + first) * LAYER));
  after.noise[slot]!.set(variances, first);
}
