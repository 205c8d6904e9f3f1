import { Box3, Sphere, type Mesh, type Object3D, type PerspectiveCamera } from 'three';

/** What a prepared level says of a node that is a coarser form of another. */
interface CoarserNode {
  of: string;
  step: number;
  below: number;
}

/** One form of an object: its meshes, and the share of the picture's height under which it is drawn. */
interface Form {
  step: number;
  below: number;
  meshes: Mesh[];
}

interface FormedObject {
  bounds: Sphere;
  /** The finest first. */
  forms: Form[];
  drawn: number;
}

/** The node that a mesh belongs to, as far as it says that it is a coarser form. */
function coarserOf(mesh: Object3D): CoarserNode | null {
  for (const node of [mesh, mesh.parent]) {
    const own = (node?.userData.basil as { coarser?: CoarserNode } | undefined)?.coarser;
    if (own) return own;
  }
  return null;
}

/** Whether a mesh is part of a coarser form of an object. */
export const isCoarser = (mesh: Mesh): boolean => coarserOf(mesh) !== null;

/** The name of the object that a mesh is a coarser form of; null for all others. */
export const finestOf = (mesh: Mesh): string | null => coarserOf(mesh)?.of ?? null;

/** Objects of which a level has several forms: one of each is drawn, by its size in the picture. */
export class Finenesses {
  private readonly objects: FormedObject[] = [];
  private readonly hidden = new Set<Mesh>();

  constructor(meshes: readonly Mesh[], nameOf: (mesh: Mesh) => string) {
    const byName = new Map<string, Map<number, Form>>();
    for (const mesh of meshes) {
      const own = coarserOf(mesh);
      if (!own) continue;
      const forms = byName.get(own.of) ?? new Map<number, Form>();
      byName.set(own.of, forms);
      const form = forms.get(own.step) ?? { step: own.step, below: own.below, meshes: [] };
      forms.set(own.step, form);
      form.meshes.push(mesh);
    }
    for (const [name, forms] of byName) {
      const finest = meshes.filter((mesh) => !isCoarser(mesh) && nameOf(mesh) === name);
      const bounds = finest.reduce((box, mesh) => box.expandByObject(mesh), new Box3()).getBoundingSphere(new Sphere());
      const all = [{ step: 0, below: Infinity, meshes: finest }, ...[...forms.values()].sort((a, b) => a.step - b.step)];
      this.objects.push({ bounds, forms: all, drawn: 0 });
      for (const { meshes: coarse } of all.slice(1)) for (const mesh of coarse) this.hidden.add(mesh);
    }
  }

  /** Whether a mesh is of a form that is not drawn now. */
  isHidden = (mesh: Mesh): boolean => this.hidden.has(mesh);

  /** Chooses the form of each object for a camera; answers whether any is another than before. */
  choose(camera: PerspectiveCamera): boolean {
    let changed = false;
    for (const object of this.objects) {
      const { center, radius } = object.bounds;
      const distance = Math.max(1e-3, camera.position.distanceTo(center));
      const share = radius / (distance * Math.tan((camera.fov * Math.PI) / 360));
      const wanted = object.forms.findLastIndex(({ below }) => share < below);
      if (wanted === object.drawn) continue;
      for (const mesh of object.forms[object.drawn]!.meshes) this.hidden.add(mesh);
      for (const mesh of object.forms[wanted]!.meshes) this.hidden.delete(mesh);
      object.drawn = wanted;
      changed = true;
    }
    return changed;
  }
}
