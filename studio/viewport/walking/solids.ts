import { Box3, Vector3, type Matrix4 } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import type { Vec3 } from '../../../core/units';
import type { LevelMesh } from '../level/objectIndex';

interface Placed {
  mesh: LevelMesh;
  inverse: Matrix4;
  box: Box3;
}

/** Meshes that stand still, to be asked for the triangles within a box. */
export class Solids {
  private readonly placed: Placed[];
  private readonly box = new Box3();
  private readonly local = new Box3();
  private readonly corner = new Vector3();

  constructor(meshes: readonly LevelMesh[]) {
    this.placed = meshes.map((mesh) => ({ mesh, inverse: mesh.matrixWorld.clone().invert(), box: new Box3().setFromObject(mesh) }));
  }

  /**
   * Corners of the triangles that reach into a box, in the level, nine numbers each; some that only come near it are among them.
   *
   * @param isSolid which meshes count
   */
  near(min: Readonly<Vec3>, max: Readonly<Vec3>, isSolid: (mesh: LevelMesh) => boolean): number[] {
    this.box.min.set(...min);
    this.box.max.set(...max);
    const corners: number[] = [];
    for (const { mesh, inverse, box } of this.placed) {
      if (!box.intersectsBox(this.box) || !isSolid(mesh)) continue;
      this.local.copy(this.box).applyMatrix4(inverse);
      (mesh.geometry.boundsTree as MeshBVH | undefined)?.shapecast({
        intersectsBounds: (bounds) => bounds.intersectsBox(this.local),
        intersectsTriangle: ({ a, b, c }) => {
          for (const point of [a, b, c]) {
            this.corner.copy(point).applyMatrix4(mesh.matrixWorld);
            corners.push(this.corner.x, this.corner.y, this.corner.z);
          }
          return false;
        },
      });
    }
    return corners;
  }
}
