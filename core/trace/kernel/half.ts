// Single floats to half floats (IEEE 754 binary16), eight at a time.

/** Bits of the smallest normal half as a single float. */
const NORMAL: i32 = 0x38800000;
/** An infinite half. */
const INFINITE: i32 = 0x7c00;

/** Four bit patterns of single floats as those of the nearest halves, ties to even; beyond the range of halves they are infinite. */
function halvesOf(bits: v128): v128 {
  const magnitude = v128.and(bits, i32x4.splat(0x7fffffff));
  const sign = v128.and(i32x4.shr_u(bits, 16), i32x4.splat(0x8000));
  // Other exponent, and half of what is cut off added, less where the last digit that stays is even.
  const odd = v128.and(i32x4.shr_u(magnitude, 13), i32x4.splat(1));
  const shifted = i32x4.shr_u(i32x4.add(i32x4.add(magnitude, i32x4.splat(0xfff - 0x38000000)), odd), 13);
  const normal = i32x4.min_s(shifted, i32x4.splat(INFINITE));
  // Under the smallest normal half, steps are of 2^-24: those of a single float at a half, to which adding one half rounds.
  const small = i32x4.sub(f32x4.add(magnitude, f32x4.splat(0.5)), i32x4.splat(0x3f000000));
  return v128.or(sign, v128.bitselect(small, normal, i32x4.lt_s(magnitude, i32x4.splat(NORMAL))));
}

/**
 * Writes numbers as halves, each times a factor.
 *
 * @param values 32-bit floats
 * @param count a multiple of eight
 * @param out 16-bit halves
 */
export function packHalves(values: usize, count: u32, factor: f32, out: usize): void {
  const by = f32x4.splat(factor);
  for (let end = values + ((<usize>count) << 2); values < end; values += 32, out += 16) {
    const low = halvesOf(f32x4.mul(v128.load(values), by));
    const high = halvesOf(f32x4.mul(v128.load(values, 16), by));
    v128.store(out, i16x8.narrow_i32x4_u(low, high));
  }
}
