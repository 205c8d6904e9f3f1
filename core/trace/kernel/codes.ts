// Sums of light that is told by a few bytes of each texel: plane after plane, a byte of each texel in each. Sixteen texels at a time.

/** Texels that are summed up at a time. */
const TOGETHER: i32 = 16;
/** Bytes of a texel of what comes out: three floats and room for a fourth. */
const TEXEL: i32 = 16;
/** Planes that are turned at a time into eight bytes of each texel, and the bytes that this takes for sixteen texels. */
const TURNED: i32 = 8;
const BLOCK: i32 = TURNED * TOGETHER;

/** Of a cluster's entry in a table: its mean, what fine and coarse codes' sums are multiplied by, and what coarse ones begin at. */
const MEAN: i32 = 0;
const FINE_STEP: i32 = 16;
const COARSE_STEP: i32 = 32;
const COARSE_START: i32 = 48;
const WORDS: i32 = 64;
/** Bytes of eight words for each of three channels. */
const EIGHT_WORDS: i32 = 48;

/** Turns eight planes at `from` into eight bytes of each of sixteen texels at `to`. */
function turn(from: i32, stride: i32, to: i32): void {
  const p0 = v128.load(from);
  const p1 = v128.load(from + stride);
  const p2 = v128.load(from + stride * 2);
  const p3 = v128.load(from + stride * 3);
  const p4 = v128.load(from + stride * 4);
  const p5 = v128.load(from + stride * 5);
  const p6 = v128.load(from + stride * 6);
  const p7 = v128.load(from + stride * 7);
  const a = lowBytes(p0, p4);
  const aHigh = highBytes(p0, p4);
  const b = lowBytes(p1, p5);
  const bHigh = highBytes(p1, p5);
  const c = lowBytes(p2, p6);
  const cHigh = highBytes(p2, p6);
  const d = lowBytes(p3, p7);
  const dHigh = highBytes(p3, p7);
  join(lowBytes(a, c), lowBytes(b, d), to);
  join(highBytes(a, c), highBytes(b, d), to + 32);
  join(lowBytes(aHigh, cHigh), lowBytes(bHigh, dHigh), to + 64);
  join(highBytes(aHigh, cHigh), highBytes(bHigh, dHigh), to + 96);
}

function lowBytes(a: v128, b: v128): v128 {
  return v128.shuffle<i8>(a, b, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23);
}

function highBytes(a: v128, b: v128): v128 {
  return v128.shuffle<i8>(a, b, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31);
}

function join(even: v128, odd: v128, to: i32): void {
  v128.store(to, lowBytes(even, odd));
  v128.store(to, highBytes(even, odd), 16);
}

/** Sums of the four lanes of each of three vectors. */
function sums(r: v128, g: v128, b: v128): v128 {
  const none = i32x4.splat(0);
  const rg = i32x4.add(v128.shuffle<i32>(r, g, 0, 4, 1, 5), v128.shuffle<i32>(r, g, 2, 6, 3, 7));
  const bn = i32x4.add(v128.shuffle<i32>(b, none, 0, 4, 1, 5), v128.shuffle<i32>(b, none, 2, 6, 3, 7));
  return i32x4.add(v128.shuffle<i64>(rg, bn, 0, 2), v128.shuffle<i64>(rg, bn, 1, 3));
}

function addTo(at: i32, light: v128): void {
  v128.store(at, f32x4.add(v128.load(at), light));
}

/**
 * Adds the light of a group of layers to four floats of each texel.
 *
 * Planes at `planes`: cluster; scale, low and high byte; range of fine codes, and of coarse ones; eight of fine codes; and `coarseBlocks` times
 * eight of two coarse codes each. A table has for each cluster four vectors of floats (mean, step of fine and of coarse codes, start of coarse
 * ones), then for each channel eight 16-bit words for the fine codes; then for each block and channel eight for the codes in the low halves, and
 * as many for those in the high halves.
 *
 * @param texels a multiple of sixteen
 * @param scales floats that a 16-bit scale stands for
 * @param ranges floats that a range stands for
 * @param turned room for 128 bytes for each block of planes
 */
export function addGroupCodes(
  planes: i32,
  stride: i32,
  texels: i32,
  coarseBlocks: i32,
  table: i32,
  scales: i32,
  ranges: i32,
  turned: i32,
  out: i32,
): void {
  const entry = WORDS + EIGHT_WORDS * (1 + 2 * coarseBlocks);
  const low = i16x8.splat(15);
  for (let first = 0; first < texels; first += TOGETHER) {
    const head = planes + first;
    for (let block = 0; block <= coarseBlocks; block++) turn(head + stride * (5 + block * TURNED), stride, turned + block * BLOCK);
    for (let i = 0; i < TOGETHER; i++) {
      const own = head + i;
      const scale = load<f32>(scales + (((<i32>load<u8>(own + stride)) | ((<i32>load<u8>(own + stride * 2)) << 8)) << 2));
      if (scale == 0) continue;
      const at = table + <i32>load<u8>(own) * entry;
      let words = at + WORDS;
      let code = turned + i * TURNED;
      const fine = i16x8.extend_low_i8x16_s(v128.xor(v128.load64_zero(code), i8x16.splat(-128)));
      const fineSums = sums(
        i32x4.dot_i16x8_s(fine, v128.load(words)),
        i32x4.dot_i16x8_s(fine, v128.load(words, 16)),
        i32x4.dot_i16x8_s(fine, v128.load(words, 32)),
      );
      let r = i32x4.splat(0);
      let g = r;
      let b = r;
      for (let block = 0; block < coarseBlocks; block++) {
        words += EIGHT_WORDS;
        code += BLOCK;
        const both = i16x8.extend_low_i8x16_u(v128.load64_zero(code));
        const even = v128.and(both, low);
        r = i32x4.add(r, i32x4.dot_i16x8_s(even, v128.load(words)));
        g = i32x4.add(g, i32x4.dot_i16x8_s(even, v128.load(words, 16)));
        b = i32x4.add(b, i32x4.dot_i16x8_s(even, v128.load(words, 32)));
        words += EIGHT_WORDS;
        const odd = i16x8.shr_u(both, 4);
        r = i32x4.add(r, i32x4.dot_i16x8_s(odd, v128.load(words)));
        g = i32x4.add(g, i32x4.dot_i16x8_s(odd, v128.load(words, 16)));
        b = i32x4.add(b, i32x4.dot_i16x8_s(odd, v128.load(words, 32)));
      }
      const coarseSums = sums(r, g, b);
      const byFine = f32x4.splat(load<f32>(ranges + ((<i32>load<u8>(own + stride * 3)) << 2)));
      const byCoarse = f32x4.splat(load<f32>(ranges + ((<i32>load<u8>(own + stride * 4)) << 2)));
      const ofFine = f32x4.mul(f32x4.convert_i32x4_s(fineSums), v128.load(at, FINE_STEP));
      const ofCoarse = f32x4.add(f32x4.mul(f32x4.convert_i32x4_s(coarseSums), v128.load(at, COARSE_STEP)), v128.load(at, COARSE_START));
      const light = f32x4.add(v128.load(at, MEAN), f32x4.add(f32x4.mul(ofFine, byFine), f32x4.mul(ofCoarse, byCoarse)));
      addTo(out + (first + i) * TEXEL, f32x4.mul(light, f32x4.splat(scale)));
    }
  }
}

/**
 * Adds colours to four floats of each texel: three planes of codes whose lowest ten bits tell the sum of channels by a table, the next seven the
 * share of the first in 127, the next seven that of the second.
 *
 * @param texels a multiple of sixteen
 * @param levels floats that ten bits stand for
 * @param gains four floats, the fourth 0
 */
export function addColorCodes(planes: i32, stride: i32, texels: i32, levels: i32, gains: i32, out: i32): void {
  const gain = v128.load(gains);
  for (let first = 0; first < texels; first += TOGETHER) {
    const head = planes + first;
    const any = v128.or(v128.load(head), v128.or(v128.load(head + stride), v128.load(head + stride * 2)));
    if (!v128.any_true(any)) continue;
    for (let i = 0; i < TOGETHER; i++) {
      const own = head + i;
      const code = (<i32>load<u8>(own)) | ((<i32>load<u8>(own + stride)) << 8) | ((<i32>load<u8>(own + stride * 2)) << 16);
      if (code == 0) continue;
      const red = (code >> 10) & 127;
      const green = code >> 17;
      const shares = i32x4.replace_lane(i32x4.replace_lane(i32x4.splat(red), 1, green), 2, 127 - red - green);
      const light = f32x4.mul(f32x4.convert_i32x4_s(shares), f32x4.splat(load<f32>(levels + ((code & 1023) << 2))));
      addTo(out + (first + i) * TEXEL, f32x4.mul(light, gain));
    }
  }
}

/**
 * Adds gain x byte squared to four floats of each texel.
 *
 * @param texels a multiple of sixteen
 * @param gains four floats, the fourth 0
 */
export function addSquares(plane: i32, texels: i32, gains: i32, out: i32): void {
  const gain = v128.load(gains);
  for (let first = 0; first < texels; first += TOGETHER) {
    if (!v128.any_true(v128.load(plane + first))) continue;
    for (let i = first; i < first + TOGETHER; i++) {
      const byte = <f32>load<u8>(plane + i);
      if (byte == 0) continue;
      addTo(out + i * TEXEL, f32x4.mul(gain, f32x4.splat(byte * byte)));
    }
  }
}
