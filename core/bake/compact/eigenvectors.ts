import { dotProducts } from '../../trace';

/**
 * Refines vectors towards the leading eigenvectors of a symmetric matrix without negative eigenvalues, by orthogonal iteration (Golub and
 * Van Loan, Matrix Computations, 4th ed., 8.2.4).
 *
 * @param matrix row after row, `size` x `size`
 * @param vectors where to begin, one after another, `size` numbers each; written over by orthonormal ones, those of the largest eigenvalues
 *   first. Those that the others span already become 0
 * @param sweeps how often each is multiplied by the matrix
 * @returns an estimate of the eigenvalue of each
 */
export function leadingEigenvectors(matrix: Float64Array, size: number, vectors: Float64Array, sweeps: number): Float64Array {
  const count = vectors.length / size;
  const single = Float32Array.from(matrix);
  const next = new Float64Array(vectors.length);
  for (let sweep = 0; sweep < sweeps; sweep++) {
    multiply(single, size, vectors, next);
    orthonormalize(next, size);
    vectors.set(next);
  }
  multiply(single, size, vectors, next);
  const values = Float64Array.from({ length: count }, (_, k) => Math.max(0, dot(vectors, k * size, next, k * size, size)));
  const order = Array.from(values.keys()).sort((a, b) => values[b]! - values[a]!);
  next.set(vectors);
  order.forEach((from, k) => vectors.set(next.subarray(from * size, (from + 1) * size), k * size));
  return Float64Array.from(order, (from) => values[from]!);
}

/** Of each vector its product with the matrix: with each row of it, as it is symmetric. */
function multiply(matrix: Float32Array, size: number, vectors: Float64Array, out: Float64Array): void {
  out.set(dotProducts(Float32Array.from(vectors), matrix, size));
}

/** What is left of a vector, as a share of its square, below which it counts as a sum of the others. */
const DEPENDENT = 1e-20;

/** Makes vectors orthonormal, one after another, by the modified Gram-Schmidt process. */
function orthonormalize(vectors: Float64Array, size: number): void {
  for (let own = 0; own < vectors.length; own += size) {
    const before = dot(vectors, own, vectors, own, size);
    for (let other = 0; other < own; other += size) {
      const along = dot(vectors, own, vectors, other, size);
      for (let i = 0; i < size; i++) vectors[own + i] = vectors[own + i]! - along * vectors[other + i]!;
    }
    const square = dot(vectors, own, vectors, own, size);
    const factor = square > DEPENDENT * before ? 1 / Math.sqrt(square) : 0;
    for (let i = 0; i < size; i++) vectors[own + i] = vectors[own + i]! * factor;
  }
}

function dot(a: Float64Array, at: number, b: Float64Array, bt: number, size: number): number {
  let sum = 0;
  for (let i = 0; i < size; i++) sum += a[at + i]! * b[bt + i]!;
  return sum;
}
