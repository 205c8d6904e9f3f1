import { createWindowMeans, type WindowLimits, type WindowMeans } from '../../trace';
import { LAYER } from '../stems/layers';
import type { BandCover } from '../texels/bandCover';
import { luma } from '../transport/paths';

/** Texels on each side that a window looks at. */
const REACH = 2;
const SIDE = 2 * REACH + 1;
/** Weight of each member of a window by its distance alone. */
const NEAR = Float64Array.from({ length: SIDE * SIDE }, (_, k) =>
  Math.exp(-((Math.floor(k / SIDE) - REACH) ** 2 + ((k % SIDE) - REACH) ** 2) / (2 * REACH)),
);
/** How far apart the texels lie that the second pass looks at. */
const FAR_STEP = 3;
/** Rows beyond those that are denoised which the second pass reads of the first. */
const SECOND_HALO = REACH * FAR_STEP;
/** Rows above and below that have a part in what is denoised: {@link SECOND_HALO}, the windows that means are taken of, and what those see. */
export const DENOISE_HALO = SECOND_HALO + 2 * REACH;
/** Texels that a full window counts as, by their weights: how much less the variance of its mean is than that of one. */
const WINDOW_TEXELS = 19;
/** Standard errors of a texel by which the first pass may move it at most. */
const MOVED = 2;
/** Noise left by the first pass, as a share of a texel's light, from which on a second is thought of at all. */
const NOISY = 0.25;
/** Noise of the mean over a window of the second pass, as a share of it, from which on its texels take what that pass makes of them. */
const RARE = 0.08;
/** Normals of texels that lie on one surface agree this far, as a cosine. */
const SAME_SURFACE = 0.8;

/** Texels of some whole rows: from the first to that after the last. */
type Range = readonly [first: number, end: number];

/** One stem: layers of {@link LAYER} numbers a texel, denoised as one. */
export interface NoisyStem {
  layers: number;
  /** The layers whose luminance together guides it, counted within it. */
  guides: readonly number[];
  /** What that is multiplied by to be of the same unit as its variance. */
  toGuide: number;
  /** Variance of the mean of the luminance of each texel that is seen. */
  variance: Float32Array;
}

/** Denoises one stem of some rows after another. It serves until the next denoiser is prepared in this thread. */
export interface Denoiser {
  /** Texels of the cover that have a part in what is denoised. */
  seen: Range;
  /** Room for so many layers of those that are seen, one layer after another: to be filled. What was in it before is gone. */
  room(layers: number): Float32Array;
  /** Denoises what was put into the room; answers the layers of the texels of the rows. The room stays as it is. */
  denoise(stem: NoisyStem): Float32Array;
}

/**
 * Prepares to take noise out of some rows of a map: each texel becomes a mean over a window of 5 x 5, never across charts or off the plane of
 * the texel, and only as far as two values differ no more than their noise explains (variance-guided, after Rousselle et al. 2012). They are
 * compared by means over windows of their own: by single values, what rare paths found would be told apart from what missed them. No texel moves by
 * more than {@link MOVED} of its standard errors, or of its window's where those are more. Where light is so rare that its mean over a wide window is
 * uncertain, another pass over texels that lie three apart is taken (after Dammertz et al. 2010); it would blur the light beside openings anywhere
 * else. The fourth numbers of layers stay as they are.
 *
 * @param cover the rows, with {@link DENOISE_HALO} more above and below where the map has them
 * @param valid 0 for texels that were not gathered: they neither give nor take
 * @param offPlaneM how far off the plane of a texel another may lie
 * @param rows of the cover that are denoised: from the first to that after the last
 * @param layers the most that a stem has
 */
export function createDenoiser(cover: BandCover, valid: Uint8Array, offPlaneM: number, rows: Range, layers: number): Denoiser {
  const rangeOf = texelsOfRows(cover);
  const widened = (by: number): Range => rangeOf(rows[0] - by, rows[1] + by);
  const [own, middle, windows, seen] = [widened(0), widened(SECOND_HALO), widened(SECOND_HALO + REACH), widened(DENOISE_HALO)];
  const [first, second] = [openWindows(0, windows, seen, layers), openWindows(1, own, middle, layers)];
  fillWindows(first, cover, valid, offPlaneM, 1, windows, seen[0]);
  fillWindows(second, cover, valid, offPlaneM * FAR_STEP, FAR_STEP, own, middle[0]);
  const [inner, count] = [own[0] - middle[0], own[1] - own[0]];
  const [wide, reached] = [seen[1] - seen[0], middle[1] - middle[0]];
  const room = (all: number) => first.source(all, wide);
  const denoise: Denoiser['denoise'] = ({ layers: all, guides, toGuide, variance }) => {
    const source = room(all);
    /** The light that guides, of an array that holds the layers of so many texels. */
    const guideOf = (values: Float32Array, texels: number): Float32Array => {
      const out = new Float32Array(texels);
      for (const layer of guides) addLuminance(values.subarray(layer * texels * LAYER), toGuide, out);
      return out;
    };
    const before = guideOf(source, wide);
    know(first, before, variance);
    first.compareMeans(windows[0] - seen[0]);
    const uncertain = uncertainty(first.known, own[0] - seen[0], count, variance.subarray(own[0] - seen[0], own[1] - seen[0]));
    const once = first.average(middle[0] - seen[0], reached, middle[0] - windows[0], all, wide);
    const out = new Float32Array(all * count * LAYER);
    /** The texels of `rows` in each of the layers of an array that holds so many texels, from one of them on. */
    const layersOf = (array: Float32Array, texels: number, from: number) =>
      Array.from({ length: all }, (_, k) => array.subarray((k * texels + from) * LAYER, (k * texels + from + count) * LAYER));
    const now = layersOf(out, count, 0);
    layersOf(once.values, reached, inner).forEach((layer, k) => now[k]!.set(layer));
    const guide = guideOf(once.values, reached);
    const moved = { from: before.subarray(own[0] - seen[0]), to: guide.subarray(inner) };
    keepNear(now, layersOf(source, wide, own[0] - seen[0]), moved, uncertain);
    if (!isNoisy(guide, once.variances)) return out;
    second.source(all, reached).set(once.values);
    know(second, guide, once.variances);
    second.compareMeans(inner);
    const rare = rareOf(second.known, inner, count);
    know(second, guide, once.variances);
    const again = second.average(inner, count, 0, all, reached).values;
    for (let k = 0, at = 0; k < all; k++)
      for (let i = 0; i < count; i++, at += LAYER) if (rare[i] === 1) for (let c = at; c < at + LAYER; c++) out[c] = again[c]!;
    return out;
  };
  return { seen, room, denoise };
}

/** Adds the luminance of texels, four numbers each, times a factor. */
function addLuminance(values: Float32Array, factor: number, out: Float32Array): void {
  for (let i = 0, at = 0; i < out.length; i++, at += LAYER) out[i]! += factor * luma(values[at]!, values[at + 1]!, values[at + 2]!);
}

/** Standard error of some texels: of each by itself, or as the mean over its window tells, whichever is more. */
function uncertainty(known: Float32Array, first: number, count: number, variance: Float32Array): Float64Array {
  const out = new Float64Array(count);
  for (let i = 0; i < count; i++) out[i] = Math.sqrt(Math.max(variance[i]!, WINDOW_TEXELS * known[(first + i) * 4 + 3]!));
  return out;
}

/** Takes texels back towards what they were where a mean moved them by more than their noise explains: there it has blurred them. Layer by layer. */
function keepNear(
  now: readonly Float32Array[],
  was: readonly Float32Array[],
  { from, to }: { from: Float32Array; to: Float32Array },
  uncertain: Float64Array,
): void {
  for (let i = 0; i < uncertain.length; i++) {
    const most = MOVED * uncertain[i]!;
    const moved = Math.abs(to[i]! - from[i]!);
    if (moved <= most) continue;
    const share = most / moved;
    for (let k = 0; k < now.length; k++)
      for (let at = i * LAYER; at < i * LAYER + 3; at++) now[k]![at] = was[k]![at]! + share * (now[k]![at]! - was[k]![at]!);
  }
}

function isNoisy(guide: Float32Array, variances: Float32Array): boolean {
  for (let i = 0; i < variances.length; i++) if (variances[i]! > (NOISY * guide[i]!) ** 2) return true;
  return false;
}

/** 1 for those of some texels that have a window whose mean, as {@link WindowMeans.compareMeans} left it, is uncertain. */
function rareOf(known: Float32Array, first: number, count: number): Uint8Array {
  const out = new Uint8Array(count);
  for (let i = 0; i < count; i++) out[i] = known[(first + i) * 4 + 3]! > (RARE * known[(first + i) * 4 + 2]!) ** 2 ? 1 : 0;
  return out;
}

/** The windows of both passes as they were last opened in this thread, and what they have room for: opening them anew takes memory each time. */
const opened: ({ means: WindowMeans; limits: WindowLimits } | undefined)[] = [];

/** Room for the windows of a pass, 0 or 1; the same again where what is asked for fits. */
function openWindows(pass: 0 | 1, windows: Range, seen: Range, layers: number): WindowMeans {
  const wanted = { texels: Math.max(1, seen[1] - seen[0]), windows: Math.max(1, windows[1] - windows[0]), members: SIDE * SIDE, layers };
  const known = opened[pass];
  if (known && (Object.keys(wanted) as (keyof WindowLimits)[]).every((key) => known.limits[key] >= wanted[key])) return known.means;
  opened[pass] = undefined;
  const limits = { ...wanted, texels: Math.ceil(wanted.texels * SPARE), windows: Math.ceil(wanted.windows * SPARE) };
  const means = createWindowMeans(limits);
  opened[pass] = { means, limits };
  return means;
}
/** Room beyond what is asked for, so that the next rows find it as well. */
const SPARE = 1.25;

/** Tells what was measured at each texel that windows look at, and how it is compared: as it is. */
function know({ known }: WindowMeans, guide: Float32Array, variance: Float32Array): void {
  for (let i = 0; i < variance.length; i++) {
    known[i * 4] = known[i * 4 + 2] = guide[i]!;
    known[i * 4 + 1] = known[i * 4 + 3] = variance[i]!;
  }
}

/** The places of the texels of some rows; rows that are not there have none. */
function texelsOfRows({ at, width, height }: BandCover): (top: number, bottom: number) => Range {
  const above = new Uint32Array(height + 1);
  for (const texel of at) above[Math.floor(texel / width) + 1]!++;
  for (let y = 0; y < height; y++) above[y + 1]! += above[y]!;
  return (top, bottom) => [above[Math.max(0, top)]!, above[Math.min(height, bottom)]!];
}

/** Finds the windows of some texels: those that lie on the same surface, and what each counts for that alone. */
function fillWindows(
  means: WindowMeans,
  { at, width, height, placeOf, chart, position, normal }: BandCover,
  valid: Uint8Array,
  offPlaneM: number,
  step: number,
  [first, end]: Range,
  from: number,
): void {
  means.begin();
  for (let i = first; i < end; i++) {
    if (valid[i] === 0) {
      means.end();
      continue;
    }
    const x = at[i]! % width;
    const y = (at[i]! - x) / width;
    const [px, py, pz] = [position[i * 3]!, position[i * 3 + 1]!, position[i * 3 + 2]!];
    const [nx, ny, nz] = [normal[i * 3]!, normal[i * 3 + 1]!, normal[i * 3 + 2]!];
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
        if (j !== i && facing <= SAME_SURFACE) continue;
        const off = (position[j * 3]! - px) * nx + (position[j * 3 + 1]! - py) * ny + (position[j * 3 + 2]! - pz) * nz;
        if (Math.abs(off) > offPlaneM) continue;
        const four = facing * facing * facing * facing;
        means.add(j - from, NEAR[row * SIDE + column]! * (j === i ? 1 : four * four));
      }
    }
    means.end();
  }
}
