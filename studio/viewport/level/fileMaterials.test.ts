import { Group, Mesh, MeshStandardMaterial } from 'three';
import type { GLTF } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { FileMaterials } from './fileMaterials';

const named = (name: string) => Object.assign(new MeshStandardMaterial(), { name });
const [dark, lit, wall, snow] = ['Bulb', 'Bulb lit', 'Wall', 'Snow'].map(named) as [
  MeshStandardMaterial,
  MeshStandardMaterial,
  MeshStandardMaterial,
  MeshStandardMaterial,
];

/** A file of a bulb, which has another material in two variants, and of a wall, which has another in one. */
function file() {
  const materials = [dark, lit, wall, snow];
  const mesh = (material: MeshStandardMaterial, mappings: object[]) => {
    const one = new Mesh(undefined, material);
    one.userData.gltfExtensions = { KHR_materials_variants: { mappings } };
    return one;
  };
  const bulb = mesh(dark, [{ material: 1, variants: [0, 1] }]);
  const house = mesh(wall, [{ material: 3, variants: [1] }]);
  const plain = new Mesh(undefined, wall);
  const gltf = {
    scene: new Group().add(bulb, house, plain),
    parser: { json: { materials }, getDependency: (_: string, i: number) => Promise.resolve(materials[i]) },
    userData: { gltfExtensions: { KHR_materials_variants: { variants: [{ name: 'Night' }, { name: 'Winter' }] } } },
  } as unknown as GLTF;
  return { gltf, bulb, house, plain };
}

const SHOWN = { variant: '', looks: {} };

describe('materials of a file', () => {
  it('are what meshes have without a variant, and in one that says nothing of them', async () => {
    const { gltf, bulb, house, plain } = file();
    const materials = await FileMaterials.of(gltf);
    expect(materials.variants).toEqual(['Night', 'Winter']);
    expect(materials.names).toEqual(['Bulb', 'Bulb lit', 'Wall', 'Snow']);
    expect([bulb, house, plain].map((m) => materials.shownOn(m, SHOWN))).toEqual([dark, wall, wall]);
    expect([bulb, house, plain].map((m) => materials.shownOn(m, { ...SHOWN, variant: 'Night' }))).toEqual([lit, wall, wall]);
    expect([bulb, house, plain].map((m) => materials.shownOn(m, { ...SHOWN, variant: 'Winter' }))).toEqual([lit, snow, wall]);
  });

  it('are shown in place of one another by name, over what the variant has', async () => {
    const { gltf, bulb, house } = file();
    const materials = await FileMaterials.of(gltf);
    expect(materials.shownOn(bulb, { ...SHOWN, looks: { Bulb: 'Bulb lit' } })).toBe(lit);
    expect(materials.shownOn(house, { variant: 'Winter', looks: { Wall: 'Bulb', Snow: 'Wall' } })).toBe(wall);
  });

  it('stay where a variant or a material is named that the file has not', async () => {
    const { gltf, bulb } = file();
    const materials = await FileMaterials.of(gltf);
    expect(materials.shownOn(bulb, { variant: 'Autumn', looks: { Bulb: 'Bulb of another file' } })).toBe(dark);
  });

  it('are all the meshes have where a file has no variants', async () => {
    const { gltf, plain } = file();
    Object.assign(gltf, { userData: {} });
    const materials = await FileMaterials.of(gltf);
    expect(materials.variants).toEqual([]);
    expect(materials.shownOn(plain, { ...SHOWN, variant: 'Night' })).toBe(wall);
  });
});
