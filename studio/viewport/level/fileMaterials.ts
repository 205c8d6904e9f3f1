import { Mesh, type Material, type MeshStandardMaterial } from 'three';
import type { GLTF } from 'three/examples/jsm/loaders/GLTFLoader.js';
import type { ShownMaterials } from '../../../core/rig';
import { disposeMaterial } from './levelMaterials';

/** KHR_materials_variants as it stands in a file: the names at its root, and for each primitive which material a variant has. */
interface Variants {
  variants: { name: string }[];
}
interface Mappings {
  mappings: { material: number; variants: number[] }[];
}
type Extended<T> = { gltfExtensions?: { KHR_materials_variants?: T } };

/** The materials of a level's file: those that its meshes have, and those that they may be shown with in their place. */
export class FileMaterials {
  private readonly byName = new Map<string, MeshStandardMaterial>();
  private readonly own = new Map<Mesh, MeshStandardMaterial>();
  private readonly inVariant = new Map<Mesh, ReadonlyMap<string, MeshStandardMaterial>>();

  private constructor(
    /** Names of the variants, in the order of the file. */
    readonly variants: readonly string[],
    materials: readonly Material[],
    gltf: GLTF,
  ) {
    for (const material of materials) if (!this.byName.has(material.name)) this.byName.set(material.name, material as MeshStandardMaterial);
    gltf.scene.traverse((mesh) => {
      if (!(mesh instanceof Mesh)) return;
      this.own.set(mesh, mesh.material as MeshStandardMaterial);
      const { mappings = [] } = (mesh.userData as Extended<Mappings>).gltfExtensions?.KHR_materials_variants ?? {};
      if (mappings.length === 0) return;
      const named = mappings.flatMap(({ material, variants: of }) => of.map((i) => [variants[i], materials[material]] as const));
      this.inVariant.set(mesh, new Map(named.flatMap(([name, m]) => (name !== undefined && m ? [[name, m as MeshStandardMaterial]] : []))));
    });
  }

  /** Loads all of a file's materials, those that no mesh has at first among them. */
  static async of(gltf: GLTF): Promise<FileMaterials> {
    const { parser, userData } = gltf;
    const count = ((parser.json as { materials?: unknown[] }).materials ?? []).length;
    const materials = (await Promise.all(Array.from({ length: count }, (_, i) => parser.getDependency('material', i)))) as Material[];
    const variants = (userData as Extended<Variants>).gltfExtensions?.KHR_materials_variants?.variants ?? [];
    return new FileMaterials(
      variants.map((v) => v.name),
      materials,
      gltf,
    );
  }

  get names(): string[] {
    return [...this.byName.keys()].filter(Boolean);
  }

  /** The material that a mesh has in the file. */
  ownOf(mesh: Mesh): MeshStandardMaterial {
    return this.own.get(mesh)!;
  }

  /** What a mesh is shown with: its material in the variant, or what is shown in place of that; a name that the file has not changes nothing. */
  shownOn(mesh: Mesh, { variant, looks }: ShownMaterials): MeshStandardMaterial {
    const own = this.inVariant.get(mesh)?.get(variant) ?? this.ownOf(mesh);
    const other = looks[own.name];
    return (other !== undefined && this.byName.get(other)) || own;
  }

  dispose(): void {
    for (const material of new Set([...this.byName.values(), ...this.own.values()])) disposeMaterial(material);
  }
}
