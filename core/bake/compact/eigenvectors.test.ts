import { leadingEigenvectors } from './eigenvectors';

/** A symmetric matrix of these eigenvalues, and its eigenvectors: a Householder reflection's columns. */
function made(values: readonly number[]): { matrix: Float64Array; vectors: number[][] } {
  const size = values.length;
  const normal = values.map((_, i) => Math.cos(3 * i + 1));
  const square = normal.reduce((sum, v) => sum + v * v, 0);
  const vectors = values.map((_, k) => normal.map((v, i) => (i === k ? 1 : 0) - (2 * v * normal[k]!) / square));
  const matrix = new Float64Array(size * size);
  values.forEach((value, k) => {
    for (let i = 0; i < size; i++) for (let j = 0; j < size; j++) matrix[i * size + j]! += value * vectors[k]![i]! * vectors[k]![j]!;
  });
  return { matrix, vectors };
}

const starts = (count: number, size: number) => Float64Array.from({ length: count * size }, (_, i) => Math.sin(i * i + 0.7));

describe('leading eigenvectors', () => {
  it('are those of the largest eigenvalues, in their order', () => {
    const { matrix, vectors } = made([0.1, 5, 0.4, 2, 1, 0.2]);
    const found = starts(3, 6);
    const values = leadingEigenvectors(matrix, 6, found, 40);
    [5, 2, 1].forEach((value, k) => expect(values[k]).toBeCloseTo(value, 5));
    [1, 3, 4].forEach((of, k) => {
      const along = vectors[of]!.reduce((sum, v, i) => sum + v * found[k * 6 + i]!, 0);
      expect(Math.abs(along)).toBeCloseTo(1, 5);
    });
  });

  it('are orthonormal, also where eigenvalues are equal', () => {
    const { matrix } = made([3, 3, 3, 1, 1, 0.5, 0.1]);
    const found = starts(4, 7);
    leadingEigenvectors(matrix, 7, found, 5);
    for (let a = 0; a < 4; a++)
      for (let b = 0; b < 4; b++) {
        const along = Array.from({ length: 7 }, (_, i) => found[a * 7 + i]! * found[b * 7 + i]!).reduce((sum, v) => sum + v, 0);
        expect(along).toBeCloseTo(a === b ? 1 : 0, 10);
      }
  });

  it('are 0 where the matrix has no more', () => {
    const { matrix } = made([2, 1, 0, 0]);
    const found = starts(4, 4);
    const values = leadingEigenvectors(matrix, 4, found, 3);
    [2, 3].forEach((k) => expect(values[k]).toBeCloseTo(0, 6));
  });
});
