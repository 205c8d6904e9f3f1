// Dot products of many vectors with many others: rows of one matrix with rows of another.

/** Vectors of the second matrix that a vector of the first is multiplied by at a time. */
const TOGETHER: i32 = 4;

/** The sum of four lanes of each of four vectors. */
function sums(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = f32x4.add(v128.shuffle<i32>(a, b, 0, 4, 1, 5), v128.shuffle<i32>(a, b, 2, 6, 3, 7));
  const cd = f32x4.add(v128.shuffle<i32>(c, d, 0, 4, 1, 5), v128.shuffle<i32>(c, d, 2, 6, 3, 7));
  return f32x4.add(v128.shuffle<i64>(ab, cd, 0, 2), v128.shuffle<i64>(ab, cd, 1, 3));
}

/**
 * Dot products of `rows` vectors with `columns` others, all of `wide` 32-bit floats; `rows` is even, `columns` and `wide` are multiples of four.
 *
 * @param out `columns` floats for each row
 */
export function dots(a: i32, rows: i32, b: i32, columns: i32, wide: i32, out: i32): void {
  const size = wide << 2;
  const outSize = columns << 2;
  for (let row = 0; row < rows; row += 2) {
    const first = a + row * size;
    for (let column = 0; column < columns; column += TOGETHER) {
      let own = first;
      let c0 = b + column * size;
      let c1 = c0 + size;
      let c2 = c1 + size;
      let c3 = c2 + size;
      const end = first + size;
      let s0 = f32x4.splat(0);
      let s1 = s0;
      let s2 = s0;
      let s3 = s0;
      let t0 = s0;
      let t1 = s0;
      let t2 = s0;
      let t3 = s0;
      for (; own < end; own += 16, c0 += 16, c1 += 16, c2 += 16, c3 += 16) {
        const x = v128.load(own);
        const y = v128.load(own + size);
        const v0 = v128.load(c0);
        const v1 = v128.load(c1);
        const v2 = v128.load(c2);
        const v3 = v128.load(c3);
        s0 = f32x4.add(s0, f32x4.mul(x, v0));
        s1 = f32x4.add(s1, f32x4.mul(x, v1));
        s2 = f32x4.add(s2, f32x4.mul(x, v2));
        s3 = f32x4.add(s3, f32x4.mul(x, v3));
        t0 = f32x4.add(t0, f32x4.mul(y, v0));
        t1 = f32x4.add(t1, f32x4.mul(y, v1));
        t2 = f32x4.add(t2, f32x4.mul(y, v2));
        t3 = f32x4.add(t3, f32x4.mul(y, v3));
      }
      const to = out + row * outSize + (column << 2);
      v128.store(to, sums(s0, s1, s2, s3));
      v128.store(to + outSize, sums(t0, t1, t2, t3));
    }
  }
}
