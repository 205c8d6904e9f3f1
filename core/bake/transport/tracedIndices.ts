import type { Surfaces } from '../../level';

/** Corners of the triangles that light is traced on: those that it passes have no area. */
export function tracedIndices({ indices, traced }: Pick<Surfaces, 'indices' | 'traced'>): Uint32Array {
  if (!traced) return indices;
  return indices.map((v, k) => (traced[Math.floor(k / 3)] === 1 ? v : indices[k - (k % 3)]!));
}
