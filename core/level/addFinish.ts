import { PropertyType, type Document, type Material, type Mesh, type Node, type Primitive, type Texture } from '@gltf-transform/core';
import { KHRMaterialsVariants, type MappingList, type Variant } from '@gltf-transform/extensions';
import { copyToDocument, createDefaultPropertyResolver } from '@gltf-transform/functions';
import type { FileLight } from '../lamps';
import { AS_GLTF, Failure, movedPoint, type Placing } from '../units';
import { readLights } from './fileLights';
import { VARIANTS } from './instances';

/** What another finished version of a level shows otherwise: its surfaces stand where the level's do. */
export interface FinishDifferences {
  /** Surfaces that have another material: name of the object, and of both materials. */
  materials: { object: string; from: string; to: string }[];
  lights: {
    /** Those that the level has not, and those that it alone has. */
    added: FileLight[];
    removed: FileLight[];
    /** Those that stand in the same place and shine otherwise. */
    changed: { from: FileLight; to: FileLight }[];
  };
}

/** Places that differ by less are the same, metres. */
const SAME_M = 0.001;
/** Objects that are named where the two do not go together. */
const TOLD = 5;

const nearby = (a: readonly number[], b: readonly number[]) => a.every((v, i) => Math.abs(v - b[i]!) < SAME_M);

/** Every node that places a mesh, by its name and how many of that name came before it. */
function placedNodes(document: Document): Map<string, Node> {
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const found = new Map<string, Node>();
  const seen = new Map<string, number>();
  scene?.traverse((node) => {
    const mesh = node.getMesh();
    if (!mesh) return;
    const name = node.getName() || mesh.getName();
    const n = (seen.get(name) ?? 0) + 1;
    seen.set(name, n);
    found.set(n === 1 ? name : `${name} (${n})`, node);
  });
  return found;
}

/** Whether two primitives have as many triangles, in the same box. */
function sameShape(a: Primitive, b: Primitive): boolean {
  const [p, q] = [a.getAttribute('POSITION'), b.getAttribute('POSITION')];
  if (!p || !q) return p === q;
  const corners = (own: Primitive) => own.getIndices()?.getCount() ?? own.getAttribute('POSITION')!.getCount();
  return corners(a) === corners(b) && nearby(p.getMin([]), q.getMin([])) && nearby(p.getMax([]), q.getMax([]));
}

const isSame = (a: Node, b: Node): boolean => {
  const [own, other] = [a, b].map((n) => n.getMesh()!.listPrimitives()) as [Primitive[], Primitive[]];
  return nearby(a.getWorldMatrix(), b.getWorldMatrix()) && own.length === other.length && own.every((p, i) => sameShape(p, other[i]!));
};

/** Pairs of nodes of both levels. Throws a `bad-input` {@link Failure} that names objects of one that are not, or not so, in the other. */
function pairs(level: Document, other: Document): [name: string, own: Node, other: Node][] {
  const [mine, theirs] = [placedNodes(level), placedNodes(other)];
  const refuse = (names: string[], what: string): void => {
    if (names.length === 0) return;
    const told = names
      .slice(0, TOLD)
      .map((n) => `"${n}"`)
      .join(', ');
    throw new Failure(
      'bad-input',
      `The two versions are not of one geometry: ${told}${names.length > TOLD ? ` and ${names.length - TOLD} more` : ''} ${what}.`,
      'Export both from the same scene, with the same objects at the same places; only lights and materials may differ.',
    );
  };
  refuse(
    [...mine.keys()].filter((n) => !theirs.has(n)),
    'in the level alone',
  );
  refuse(
    [...theirs.keys()].filter((n) => !mine.has(n)),
    'in the other version alone',
  );
  const all = [...mine].map(([name, own]): [string, Node, Node] => [name, own, theirs.get(name)!]);
  refuse(
    all.filter(([, a, b]) => !isSame(a, b)).map(([name]) => name),
    'of another shape or at another place',
  );
  return all;
}

/** The lights of a file as they lie in the level that is made of it: the file itself is as it came. */
const placedLights = (document: Document, placing: Placing): FileLight[] =>
  readLights(document, placing).map((light) => ({
    ...light,
    at: movedPoint(light.at, AS_GLTF, placing),
    direction: movedPoint(light.direction, AS_GLTF, { ...placing, metresPerUnit: 1 }),
  }));

function lightDifferences(level: Document, other: Document, placing: Placing): FinishDifferences['lights'] {
  const [mine, theirs] = [level, other].map((d) => placedLights(d, placing)) as [FileLight[], FileLight[]];
  const twinOf = (light: FileLight, list: FileLight[]) =>
    list.find((l) => l.name === light.name && l.kind === light.kind && nearby(l.at, light.at));
  const isAlike = (a: FileLight, b: FileLight) =>
    a.color === b.color &&
    Math.abs(a.strength - b.strength) <= a.strength / 1000 &&
    nearby(a.direction, b.direction) &&
    a.reachM === b.reachM;
  return {
    added: theirs.filter((l) => !twinOf(l, mine)),
    removed: mine.filter((l) => !twinOf(l, theirs)),
    changed: theirs.flatMap((to) => {
      const from = twinOf(to, mine);
      return from && !isAlike(from, to) ? [{ from, to }] : [];
    }),
  };
}

/** The pictures of a material, which are compared by themselves. */
const PICTURES = ['BaseColorTexture', 'EmissiveTexture', 'NormalTexture', 'OcclusionTexture', 'MetallicRoughnessTexture'] as const;
/** What of a material, and of a picture, says nothing of how it looks. */
const NO_LOOK = ['name', 'extras', 'uri'];
const OF_MATERIAL = new Set([...NO_LOOK, ...PICTURES.map((name) => `${name[0]!.toLowerCase()}${name.slice(1)}`)]);
const OF_PICTURE = new Set(NO_LOOK);

const samePicture = (a: Texture | null, b: Texture | null): boolean => (a && b ? a.equals(b, OF_PICTURE) : a === b);

type LooksLike = (a: Material | null, b: Material | null) => boolean;

/** Tells whether two materials look alike, whatever they are called. Each two are compared once, as their pictures are compared by their bytes. */
function comparison(): LooksLike {
  const known = new Map<Material, Map<Material, boolean>>();
  return (a, b) => {
    if (!a || !b) return a === b;
    const own = known.get(a) ?? new Map<Material, boolean>();
    known.set(a, own);
    if (!own.has(b)) own.set(b, a.equals(b, OF_MATERIAL) && PICTURES.every((name) => samePicture(a[`get${name}`](), b[`get${name}`]())));
    return own.get(b)!;
  };
}

/** Gives a node a mesh of its own, whose primitives may differ from those of others that shared it. */
function ownMesh(document: Document, node: Node): Mesh {
  const shared = node.getMesh()!;
  if (shared.listParents().filter((p) => p.propertyType === PropertyType.NODE).length === 1) return shared;
  const own = document.createMesh(shared.getName()).setExtras(shared.getExtras());
  for (const primitive of shared.listPrimitives()) {
    const copy = primitive.clone();
    const list = copy.getExtension<MappingList>(VARIANTS);
    own.addPrimitive(list ? copy.setExtension(VARIANTS, list.clone()) : copy);
  }
  node.setMesh(own);
  return own;
}

/**
 * Adds what another finished version of a level shows to it, as a variant of its materials (KHR_materials_variants): the same geometry with other
 * materials. Its lights are told, and not added. Changes `level`.
 *
 * @param name of the variant
 * @param placing how both files lie in the level
 * @returns what differs; without a difference of materials no variant is added
 * @throws `bad-input` {@link Failure} where the geometry is not the same, or a variant of that name is there
 */
export function addFinish(level: Document, other: Document, name: string, placing: Placing = AS_GLTF): FinishDifferences {
  const both = pairs(level, other);
  const materials: FinishDifferences['materials'] = [];
  const extension = level.createExtension(KHRMaterialsVariants);
  const variants = level
    .getRoot()
    .listMeshes()
    .flatMap((m) => m.listPrimitives())
    .flatMap((p) => p.getExtension<MappingList>(VARIANTS)?.listMappings() ?? [])
    .flatMap((m) => m.listVariants());
  if (variants.some((v) => v.getName() === name))
    throw new Failure('bad-input', `The level has a variant "${name}" already.`, 'Give the other version another name.');
  let variant: Variant | null = null;
  const looksLike = comparison();
  const resolve = createDefaultPropertyResolver(level, other);
  const taken = new Map<Material, Material>();
  /** The material in the level: one of its own that looks alike, or a copy under a free name. */
  const materialIn = (theirs: Material): Material => {
    let own = taken.get(theirs);
    if (!own) {
      const all = level.getRoot().listMaterials();
      own = all.find((m) => looksLike(m, theirs));
      if (!own) {
        own = copyToDocument(level, other, [theirs], resolve).get(theirs) as Material;
        if (all.some((m) => m.getName() === own!.getName())) own.setName(`${own.getName()} (${name})`);
      }
      taken.set(theirs, own);
    }
    return own;
  };
  for (const [object, mine, theirs] of both) {
    const found = theirs.getMesh()!.listPrimitives();
    const differing = mine
      .getMesh()!
      .listPrimitives()
      .flatMap((p, i) => (looksLike(p.getMaterial(), found[i]!.getMaterial()) ? [] : [i]));
    if (differing.length === 0) continue;
    const own = ownMesh(level, mine).listPrimitives();
    for (const i of differing) {
      const [from, to] = [own[i]!.getMaterial(), found[i]!.getMaterial()];
      if (!to) continue;
      materials.push({ object, from: from?.getName() ?? '', to: to.getName() });
      variant ??= extension.createVariant(name);
      const list = own[i]!.getExtension<MappingList>(VARIANTS) ?? extension.createMappingList();
      own[i]!.setExtension(VARIANTS, list.addMapping(extension.createMapping().setMaterial(materialIn(to)).addVariant(variant)));
    }
  }
  return { materials, lights: lightDifferences(level, other, placing) };
}
