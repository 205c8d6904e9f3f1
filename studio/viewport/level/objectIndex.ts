import { Box3, Vector3, type BufferGeometry, type Camera, type Mesh, type MeshLambertMaterial } from 'three';
import type { ObjectFacts, Shape } from '../../../core/objects';
import type { Vec3 } from '../../../core/units';
import { isCoarser } from './fineness';
import type { ModelPart } from './fixtureModels';

export type LevelMesh = Mesh<BufferGeometry, MeshLambertMaterial>;

/** A rectangle of the picture, -1..1 each way. */
export interface PictureRect {
  left: number;
  right: number;
  bottom: number;
  top: number;
}

/** Name of the node that a mesh, or the group of its parts, was read from. */
export const objectName = (mesh: Mesh): string => {
  const name = (mesh.userData.name ?? mesh.parent?.userData.name) as string | undefined;
  return name ?? mesh.name;
};

/** Name of the material that a mesh was read with, whatever it is shown with. */
export const sourceOf = ({ material, userData }: Mesh): string =>
  (userData.ownMaterial as string | undefined) ?? ((material as MeshLambertMaterial).userData as { source?: string }).source ?? '';

/** Names of the nodes that a mesh's own node lies under. */
export function groupNames(mesh: Mesh): string[] {
  const own = objectName(mesh);
  const names: string[] = [];
  for (let node = mesh.parent; node; node = node.parent) {
    const name = node.userData.name as string | undefined;
    if (name && name !== own) names.push(name);
  }
  return names;
}

const cornersOf = ({ index, attributes }: BufferGeometry): number => index?.count ?? attributes.position!.count;
const byName = (a: string, b: string) => a.localeCompare(b, undefined, { numeric: true });

/** The objects of a level by their names: what they are made of, where they lie, and which are equal. */
export class ObjectIndex {
  private readonly meshes = new Map<string, LevelMesh[]>();
  private known: ObjectFacts[] | null = null;
  private readonly shapes = new Map<string, Shape>();

  constructor(meshes: readonly LevelMesh[]) {
    for (const mesh of meshes) {
      if (isCoarser(mesh)) continue;
      const name = objectName(mesh);
      const own = this.meshes.get(name);
      if (own) own.push(mesh);
      else this.meshes.set(name, [mesh]);
    }
  }

  /** Names of all objects, in order. */
  names(): string[] {
    return this.facts().map((o) => o.name);
  }

  meshesOf(name: string): readonly LevelMesh[] {
    return this.meshes.get(name) ?? [];
  }

  /** What an object is made of, where it stands; empty where there is none of that name. */
  partsOf(name: string): ModelPart[] {
    return this.meshesOf(name).map(({ geometry, matrixWorld, material }) => ({ geometry, matrix: matrixWorld, material }));
  }

  facts(): readonly ObjectFacts[] {
    this.known ??= [...this.meshes].map(([name, meshes]) => factsOf(name, meshes)).sort((a, b) => byName(a.name, b.name));
    return this.known;
  }

  /** The shapes of the objects that may be equal to some of them: those with as many triangles of the same materials. */
  shapesLike(names: readonly string[]): Map<string, Shape> {
    const wanted = new Set(names.map((name) => madeOf(this.meshesOf(name))));
    const alike = [...this.meshes].filter(([, meshes]) => wanted.has(madeOf(meshes)));
    return new Map(alike.map(([name, meshes]) => [name, this.shapeOf(name, meshes)]));
  }

  private shapeOf(name: string, meshes: readonly LevelMesh[]): Shape {
    const known = this.shapes.get(name);
    if (known) return known;
    const shape = { made: madeOf(meshes), corners: allCorners(meshes), frame: frameOf(meshes[0]!) };
    this.shapes.set(name, shape);
    return shape;
  }

  /** Names of the objects that lie within a rectangle of a camera's picture with all of their boxes. */
  within({ left, right, bottom, top }: PictureRect, camera: Camera, isSeen: (mesh: Mesh) => boolean): string[] {
    const at = new Vector3();
    const isInside = ({ min, max }: ObjectFacts) => {
      for (let k = 0; k < 8; k++) {
        at.set((k & 1 ? max : min)[0], (k & 2 ? max : min)[1], (k & 4 ? max : min)[2]).project(camera);
        if (!(at.z > -1 && at.z < 1 && at.x > left && at.x < right && at.y > bottom && at.y < top)) return false;
      }
      return true;
    };
    return this.facts()
      .filter((object) => isInside(object) && this.meshesOf(object.name).some(isSeen))
      .map((o) => o.name);
  }
}

function factsOf(name: string, meshes: readonly LevelMesh[]): ObjectFacts {
  const box = new Box3();
  for (const mesh of meshes) box.expandByObject(mesh);
  return {
    name,
    groups: [...new Set(meshes.flatMap(groupNames))],
    materials: [...new Set(meshes.map(sourceOf))],
    min: box.min.toArray() as Vec3,
    max: box.max.toArray() as Vec3,
    triangles: meshes.reduce((sum, { geometry }) => sum + cornersOf(geometry) / 3, 0),
  };
}

/** Materials with their corners: charts on several maps part what is of one material. */
function madeOf(meshes: readonly LevelMesh[]): string {
  const corners = new Map<string, number>();
  for (const mesh of meshes) corners.set(sourceOf(mesh), (corners.get(sourceOf(mesh)) ?? 0) + cornersOf(mesh.geometry));
  return [...corners]
    .map(([material, count]) => `${material} ${count}`)
    .sort()
    .join('; ');
}

function frameOf({ matrixWorld: { elements: e } }: LevelMesh): Shape['frame'] {
  const column = (k: number): Vec3 => [e[k * 4]!, e[k * 4 + 1]!, e[k * 4 + 2]!];
  return { axes: [column(0), column(1), column(2)], at: column(3) };
}

function allCorners(meshes: readonly LevelMesh[]): Float32Array {
  const corners = new Float32Array(meshes.reduce((sum, { geometry }) => sum + cornersOf(geometry), 0) * 3);
  const at = new Vector3();
  let next = 0;
  for (const { geometry, matrixWorld } of meshes) {
    const { index } = geometry;
    const position = geometry.attributes.position!;
    for (let i = 0; i < cornersOf(geometry); i++) {
      at.fromBufferAttribute(position, index ? index.getX(i) : i).applyMatrix4(matrixWorld);
      at.toArray(corners, next);
      next += 3;
    }
  }
  return corners;
}
