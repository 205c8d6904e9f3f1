import type { Document } from '@gltf-transform/core';
import { KHRMaterialsVariants } from '@gltf-transform/extensions';
import { quadDocument, room } from '../../tests/lib/level';
import { levelIo, prepareLevel, readLevel, readSurfaces } from './index';

/** A room whose floor and walls have another material in a variant. */
async function roomWithVariants(): Promise<Uint8Array> {
  const document = quadDocument(room(0, 2, { albedo: 0.5 }));
  const extension = document.createExtension(KHRMaterialsVariants);
  const [snow, night] = ['Snow', 'Night'].map((name) => extension.createVariant(name));
  const [white, lit] = ['White', 'Lit'].map((name) => document.createMaterial(name));
  for (const mesh of document.getRoot().listMeshes()) {
    const inSnow = extension.createMapping().setMaterial(white!).addVariant(snow!);
    const atNight = extension.createMapping().setMaterial(lit!).addVariant(night!);
    const list = extension.createMappingList().addMapping(inSnow);
    if (mesh.getName() === 'floor') list.addMapping(atNight);
    mesh.listPrimitives()[0]!.setExtension('KHR_materials_variants', list);
  }
  return (await levelIo()).writeBinary(document);
}

/** How many surfaces of a level have another material in some variant. */
const withVariants = (level: Document) =>
  level
    .getRoot()
    .listMeshes()
    .flatMap((m) => m.listPrimitives())
    .filter((p) => p.getExtension('KHR_materials_variants')).length;

const layout = { texelsPerM: 4, maxMapSize: 256 };

it('variants of materials stay with their surfaces when a level is prepared, and light meets what the file shows without one', async () => {
  const { glb } = await prepareLevel(await readLevel(await roomWithVariants()), layout);
  const prepared = await readLevel(glb);
  const json = (await (await levelIo()).writeJSON(prepared)).json as {
    materials: { name: string }[];
    meshes: {
      name: string;
      primitives: { extensions?: { KHR_materials_variants?: { mappings: { material: number; variants: number[] }[] } } }[];
    }[];
    extensions?: { KHR_materials_variants?: { variants: { name: string }[] } };
  };
  const names = json.extensions!.KHR_materials_variants!.variants.map((v) => v.name);
  expect(new Set(names)).toEqual(new Set(['Snow', 'Night']));
  for (const { name, primitives } of json.meshes)
    for (const { extensions } of primitives) {
      const { mappings } = extensions!.KHR_materials_variants!;
      const told = mappings.flatMap(({ material, variants }) => variants.map((v) => `${names[v]}: ${json.materials[material]!.name}`));
      expect(told.sort()).toEqual(name === 'floor' ? ['Night: Lit', 'Snow: White'] : ['Snow: White']);
    }
  const traced = (await readSurfaces(prepared)).materials.map((m) => m.name);
  expect(traced).toEqual(expect.arrayContaining(['floor', 'ceiling', 'north']));
});

it('a level beside the version before takes the variants of its own file', async () => {
  const plain = await (await levelIo()).writeBinary(quadDocument(room(0, 2, { albedo: 0.5 })));
  const { glb: before } = await prepareLevel(await readLevel(plain), layout);
  const { glb, beside } = await prepareLevel(await readLevel(await roomWithVariants()), { ...layout, before });
  expect(beside!.changed).toEqual([]);
  expect(withVariants(await readLevel(glb))).toBe(6);
  // And a file without any takes those of the version before away.
  const bare = await prepareLevel(await readLevel(plain), { ...layout, before: glb });
  expect(withVariants(await readLevel(bare.glb))).toBe(0);
});
