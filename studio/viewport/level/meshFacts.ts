import type { BufferGeometry, Mesh } from 'three';
import type { Rgb } from '../../../core/units';

/** Colours multiplied channel by channel. */
export const product = (...factors: Rgb[]): Rgb => factors.reduce((a, b) => [a[0] * b[0], a[1] * b[1], a[2] * b[2]], [1, 1, 1]);

/** The colour of the face's first corner; white where the geometry carries none. */
export function vertexColor({ attributes }: BufferGeometry, { a }: { a: number }): Rgb {
  const color = attributes.color;
  return color ? [color.getX(a), color.getY(a), color.getZ(a)] : [1, 1, 1];
}

/** The lightmap that a geometry lies on. */
export const mapNumber = (geometry: BufferGeometry): number => (geometry.userData.basil as { map?: number } | undefined)?.map ?? 0;
export const mapOf = (mesh: Mesh): number => mapNumber(mesh.geometry);
