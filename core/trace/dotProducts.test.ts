import { dotProducts } from '.';

const vectors = (count: number, wide: number, phase: number) =>
  Float32Array.from({ length: count * wide }, (_, i) => Math.sin(i * i * 0.37 + phase) * (1 + (i % 5)));

/** Dot products by definition. */
function byHand(a: Float32Array, b: Float32Array, wide: number): number[] {
  const out: number[] = [];
  for (let i = 0; i < a.length / wide; i++)
    for (let k = 0; k < b.length / wide; k++) {
      let sum = 0;
      for (let d = 0; d < wide; d++) sum += a[i * wide + d]! * b[k * wide + d]!;
      out.push(sum);
    }
  return out;
}

describe('dot products', () => {
  it('are those of every vector with every other, however many and however long they are', () => {
    for (const [rows, columns, wide] of [
      [700, 9, 40],
      [1, 1, 1],
      [3, 5, 7],
      [2, 4, 8],
      [513, 6, 13],
      [1025, 3, 4],
      [2, 300, 5],
    ] as const) {
      const [a, b] = [vectors(rows, wide, 0), vectors(columns, wide, 1)];
      const found = dotProducts(a, b, wide);
      const expected = byHand(a, b, wide);
      expect(found).toHaveLength(expected.length);
      expect(expected.every((v, i) => Math.abs(found[i]! - v) <= 1e-5 * wide * 25)).toBe(true);
    }
  });

  it('are none of nothing', () => {
    expect(dotProducts(new Float32Array(0), new Float32Array(0), 0)).toHaveLength(0);
    expect(dotProducts(new Float32Array(0), vectors(2, 3, 0), 3)).toHaveLength(0);
  });
});
