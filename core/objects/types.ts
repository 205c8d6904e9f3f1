import type { Vec3 } from '../units';

/** What is known of an object of a level as it is chosen by. */
export interface ObjectFacts {
  name: string;
  /** Nodes of the file that it lies under. */
  groups: readonly string[];
  materials: readonly string[];
  /** Corners of the box about it, metres. */
  min: Vec3;
  max: Vec3;
  triangles: number;
}
