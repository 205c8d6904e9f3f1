import { Box3, DoubleSide, FrontSide, Ray, Vector3, type Matrix4 } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import type { LevelMesh } from './objectIndex';

interface Placed {
  mesh: LevelMesh;
  inverse: Matrix4;
  /** Least and greatest corner in the level. */
  min: Vector3;
  max: Vector3;
}

/** Meshes that stand still, to be asked for the nearest surface in a direction: those whose boxes are missed, or lie farther, are not looked at. */
export class NearestSurface {
  private readonly placed: Placed[];
  private readonly ray = new Ray();
  private readonly point = new Vector3();

  constructor(meshes: readonly LevelMesh[]) {
    this.placed = meshes.map((mesh) => {
      const { min, max } = new Box3().setFromObject(mesh);
      return { mesh, inverse: mesh.matrixWorld.clone().invert(), min, max };
    });
  }

  /** How far it is, metres, and whether it is met from behind; null where there is none. Meshes that are not prepared to be picked are left out. */
  from(origin: Vector3, direction: Vector3): { distanceM: number; back: boolean } | null {
    let found: { distanceM: number; back: boolean } | null = null;
    for (const { mesh, inverse, min, max } of this.placed) {
      if (entryM(origin, direction, min, max) >= (found?.distanceM ?? Infinity)) continue;
      this.ray.origin.copy(origin).applyMatrix4(inverse);
      this.ray.direction.copy(direction).transformDirection(inverse);
      const hit = (mesh.geometry.boundsTree as MeshBVH | undefined)?.raycastFirst(this.ray, DoubleSide);
      if (!hit?.face) continue;
      const distanceM = this.point.copy(hit.point).applyMatrix4(mesh.matrixWorld).distanceTo(origin);
      if (found && distanceM >= found.distanceM) continue;
      found = { distanceM, back: mesh.material.side === FrontSide && hit.face.normal.dot(this.ray.direction) > 0 };
    }
    return found;
  }
}

/** Where a ray comes into a box, metres along a unit direction; 0 inside of it, Infinity where it misses. */
function entryM(origin: Vector3, direction: Vector3, min: Vector3, max: Vector3): number {
  let [near, far] = [0, Infinity];
  for (const axis of ['x', 'y', 'z'] as const) {
    const along = direction[axis];
    if (along === 0) {
      if (origin[axis] < min[axis] || origin[axis] > max[axis]) return Infinity;
      continue;
    }
    const [a, b] = [(min[axis] - origin[axis]) / along, (max[axis] - origin[axis]) / along];
    near = Math.max(near, Math.min(a, b));
    far = Math.min(far, Math.max(a, b));
  }
  return near <= far ? near : Infinity;
}
