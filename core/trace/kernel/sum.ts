// Weighted sums of planes of half floats: the mix of a lightmap, eight texels at a time.

/** Texels that are summed up at a time, so that what is added to stays in the processor's nearest cache through all planes. */
const BLOCK: i32 = 1024;
/** Planes that are added in one pass over a block. */
const TOGETHER: i32 = 4;
/** Bytes of a term: the place of its plane and its gain. */
const TERM: i32 = 8;
/** Bytes of a half, of a sum, and of a texel of what comes out. */
const HALF: i32 = 2;
const SUM: i32 = 4;
const TEXEL: i32 = 16;

/** Four halves, sign-extended to 32 bits, as floats times 2^-112. */
function spread(bits: v128): v128 {
  return v128.and(i32x4.shl(bits, 13), i32x4.splat(0x8fffe000));
}

/** The gain of a term, on halves that were {@link spread}. */
function gainOf(term: i32): v128 {
  return f32x4.splat(load<f32>(term, 4) * reinterpret<f32>(0x77800000)); // 2^112: exponents of halves to those of floats
}

/** To a block of sums at `to` adds that of one term; `from` is the block's place in each plane, in bytes. */
function addOne(term: i32, from: i32, size: i32, to: i32): void {
  const at = load<i32>(term) + from;
  const gain = gainOf(term);
  for (let i = 0; i < size; i += 8) {
    const half = v128.load(at + i * HALF);
    const sum = to + i * SUM;
    v128.store(sum, f32x4.add(v128.load(sum), f32x4.mul(spread(i32x4.extend_low_i16x8_s(half)), gain)));
    v128.store(sum, f32x4.add(v128.load(sum, 16), f32x4.mul(spread(i32x4.extend_high_i16x8_s(half)), gain)), 16);
  }
}

/** The same with {@link TOGETHER} terms at once: the sums are read and written once for all of them. */
function addFour(term: i32, from: i32, size: i32, to: i32): void {
  const a = load<i32>(term) + from;
  const b = load<i32>(term, TERM) + from;
  const c = load<i32>(term, 2 * TERM) + from;
  const d = load<i32>(term, 3 * TERM) + from;
  const aGain = gainOf(term);
  const bGain = gainOf(term + TERM);
  const cGain = gainOf(term + 2 * TERM);
  const dGain = gainOf(term + 3 * TERM);
  for (let i = 0; i < size; i += 8) {
    const at = i * HALF;
    const sum = to + i * SUM;
    let low = v128.load(sum);
    let high = v128.load(sum, 16);
    let half = v128.load(a + at);
    low = f32x4.add(low, f32x4.mul(spread(i32x4.extend_low_i16x8_s(half)), aGain));
    high = f32x4.add(high, f32x4.mul(spread(i32x4.extend_high_i16x8_s(half)), aGain));
    half = v128.load(b + at);
    low = f32x4.add(low, f32x4.mul(spread(i32x4.extend_low_i16x8_s(half)), bGain));
    high = f32x4.add(high, f32x4.mul(spread(i32x4.extend_high_i16x8_s(half)), bGain));
    half = v128.load(c + at);
    low = f32x4.add(low, f32x4.mul(spread(i32x4.extend_low_i16x8_s(half)), cGain));
    high = f32x4.add(high, f32x4.mul(spread(i32x4.extend_high_i16x8_s(half)), cGain));
    half = v128.load(d + at);
    low = f32x4.add(low, f32x4.mul(spread(i32x4.extend_low_i16x8_s(half)), dGain));
    high = f32x4.add(high, f32x4.mul(spread(i32x4.extend_high_i16x8_s(half)), dGain));
    v128.store(sum, low);
    v128.store(sum, high, 16);
  }
}

/** Writes three blocks of sums, one after the other at `sums`, as texels of four floats, the fourth 0. */
function weave(sums: i32, size: i32, out: i32): void {
  const none = f32x4.splat(0);
  for (let i = 0; i < size; i += 4) {
    const r = v128.load(sums + i * SUM);
    const g = v128.load(sums + (BLOCK + i) * SUM);
    const b = v128.load(sums + (2 * BLOCK + i) * SUM);
    const rg = v128.shuffle<i32>(r, g, 0, 4, 1, 5);
    const rgHigh = v128.shuffle<i32>(r, g, 2, 6, 3, 7);
    const bn = v128.shuffle<i32>(b, none, 0, 4, 1, 5);
    const bnHigh = v128.shuffle<i32>(b, none, 2, 6, 3, 7);
    const to = out + i * TEXEL;
    v128.store(to, v128.shuffle<i64>(rg, bn, 0, 2));
    v128.store(to, v128.shuffle<i64>(rg, bn, 1, 3), 16);
    v128.store(to, v128.shuffle<i64>(rgHigh, bnHigh, 0, 2), 32);
    v128.store(to, v128.shuffle<i64>(rgHigh, bnHigh, 1, 3), 48);
  }
}

/**
 * For each of `texels`, a multiple of eight, and each of three channels the sum over terms of gain x number: four floats at `out`, the
 * fourth 0.
 *
 * @param terms those of the first channel, then of the second, then of the third: the place of a plane of halves, and a 32-bit float
 * @param count0 how many of each
 * @param sums room for three blocks
 */
export function sumHalves(texels: i32, terms: i32, count0: i32, count1: i32, count2: i32, sums: i32, out: i32): void {
  for (let from = 0; from < texels; from += BLOCK) {
    const size = min(BLOCK, texels - from);
    memory.fill(sums, 0, 3 * BLOCK * SUM);
    let term = terms;
    for (let channel = 0; channel < 3; channel++) {
      const count = channel == 0 ? count0 : channel == 1 ? count1 : count2;
      const end = term + count * TERM;
      const to = sums + channel * BLOCK * SUM;
      for (; term + TOGETHER * TERM <= end; term += TOGETHER * TERM) addFour(term, from * HALF, size, to);
      for (; term < end; term += TERM) addOne(term, from * HALF, size, to);
    }
    weave(sums, size, out + from * TEXEL);
  }
}
