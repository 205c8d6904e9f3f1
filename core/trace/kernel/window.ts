// Means over windows of texels, each weighed by how alike it is: the filter of a lightmap.

/** Members of a window that are weighed at a time. */
const AT_ONCE: i32 = 4;
/** Squares of the distance of two values, in units of their noise, from which on they have nothing to do with each other. */
const UNLIKE: f32 = 10;
/** So that nothing is divided by nought; far under any variance. */
const TINY: f32 = 1e-30;

function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/** Of a texel, as four 32-bit floats: what it measured, the variance of that, and both as they are compared. */
const TEXEL: i32 = 16;

/** What the member at `member` is. */
function texelOf(texels: i32, member: i32): v128 {
  return v128.load(texels + (load<i32>(member) << 4));
}

/**
 * Gives `count` texels from `first` on, for what they are compared by, the mean over their windows of what was measured, by the shares of
 * the members, and the variance of that mean. A single measurement is too noisy to choose by: one that missed a rare light by chance
 * passes for certain, and one that found it for something else altogether. Other parameters are those of {@link averageWindows}.
 */
export function compareMeans(first: i32, count: i32, starts: i32, members: i32, shares: i32, texels: i32): void {
  for (let own = 0; own < count; own++) {
    const from = load<i32>(starts + (own << 2));
    const end = load<i32>(starts + (own << 2), 4);
    if (from == end) continue;
    let sums = f32x4.splat(0);
    let squares = f32x4.splat(0);
    let whole: f32 = 0;
    for (let k = from; k < end; k++) {
      const texel = texelOf(texels, members + (k << 2));
      const share = v128.load32_splat(shares + (k << 2));
      const part = f32x4.mul(texel, share);
      sums = f32x4.add(sums, part);
      squares = f32x4.add(squares, f32x4.mul(part, share));
      whole += f32x4.extract_lane(share, 0);
    }
    const texel = texels + ((first + own) << 4);
    store<f32>(texel, f32x4.extract_lane(sums, 0) / whole, 8);
    store<f32>(texel, f32x4.extract_lane(squares, 1) / (whole * whole), 12);
  }
}

/**
 * Averages some texels of a map over their windows. A member counts by its share, and by a bell over the distance of what the two are
 * compared by, in units of both variances, which ends where they have nothing to do with each other.
 *
 * @param first the first of `count` texels that are averaged, among those that members speak of
 * @param starts where the window of each begins among members and shares, and after the last the end; multiples of {@link AT_ONCE}
 * @param texels what is known of each, see {@link TEXEL}
 * @param weights room for one window
 * @param source four floats a texel, `layers` times for all `wide` texels; of what comes out at `out` the fourth stays as it is
 * @param variances what is left of the variance, for each of `count`
 */
export function averageWindows(
  first: i32,
  count: i32,
  starts: i32,
  members: i32,
  shares: i32,
  texels: i32,
  weights: i32,
  layers: i32,
  wide: i32,
  source: i32,
  out: i32,
  variances: i32,
): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let own = 0; own < count; own++) {
    const from = load<i32>(starts + (own << 2));
    const end = load<i32>(starts + (own << 2), 4);
    const at = first + own;
    const me = v128.load(texels + (at << 4));
    const mine = v128.shuffle<f32>(me, me, 2, 2, 2, 2);
    const noises = v128.shuffle<f32>(me, me, 3, 3, 3, 3);
    let whole = zero;
    let left = zero;
    for (let k = from; k < end; k += AT_ONCE) {
      const member = members + (k << 2);
      const a = texelOf(texels, member);
      const b = texelOf(texels, member + 4);
      const c = texelOf(texels, member + 8);
      const d = texelOf(texels, member + 12);
      const ab = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
      const cd = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
      const measured = v128.shuffle<f32>(v128.shuffle<f32>(a, b, 1, 5, 1, 5), v128.shuffle<f32>(c, d, 1, 5, 1, 5), 0, 1, 4, 5);
      const variance = v128.shuffle<f32>(ab, cd, 2, 3, 6, 7);
      const apart = f32x4.sub(mine, v128.shuffle<f32>(ab, cd, 0, 1, 4, 5));
      const limit = f32x4.add(f32x4.mul(f32x4.splat(UNLIKE), f32x4.add(noises, variance)), f32x4.splat(TINY));
      let like = f32x4.max(zero, f32x4.sub(one, f32x4.div(f32x4.mul(apart, apart), limit)));
      like = f32x4.mul(like, like);
      const weight = f32x4.mul(v128.load(shares + (k << 2)), f32x4.mul(like, like));
      v128.store(weights + ((k - from) << 2), weight);
      whole = f32x4.add(whole, weight);
      left = f32x4.add(left, f32x4.mul(f32x4.mul(weight, weight), measured));
    }
    if (sumOf(left) == 0) {
      // Only what is certain is alike: it stays to the bit.
      for (let layer = 0; layer < layers; layer++)
        v128.store(out + ((layer * count + own) << 4), v128.load(source + ((layer * wide + at) << 4)));
      store<f32>(variances + (own << 2), 0);
      continue;
    }
    // A texel is a member of its own window, and like itself.
    const scale: f32 = <f32>1.0 / sumOf(whole);
    store<f32>(variances + (own << 2), sumOf(left) * scale * scale);
    for (let layer = 0; layer < layers; layer++) {
      const values = source + ((layer * wide) << 4);
      let sum = zero;
      for (let k = from; k < end; k++)
        sum = f32x4.add(
          sum,
          f32x4.mul(v128.load32_splat(weights + ((k - from) << 2)), v128.load(values + (load<i32>(members + (k << 2)) << 4))),
        );
      const fourth = load<f32>(values + (at << 4), 12);
      v128.store(out + ((layer * count + own) << 4), f32x4.replace_lane(f32x4.mul(sum, f32x4.splat(scale)), 3, fourth));
    }
  }
}
