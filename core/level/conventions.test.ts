import type { Document } from '@gltf-transform/core';
import { KHRLightsPunctual, KHRMaterialsTransmission, KHRMaterialsUnlit, KHRMaterialsVariants, Light } from '@gltf-transform/extensions';
import { quadDocument, type Quad } from '../../tests/lib/level';
import { AS_GLTF, DEG, movedPoint, type Placing, type Vec3 } from '../units';
import { levelIo, prepareLevel, readLevel, readSurfaces } from './index';

const layout = { texelsPerM: 1, maxMapSize: 256 };

/** A yard of 30 x 20 m with a low wall about it and five crates: what lies flat is most of it, and its objects are of a common size. */
const yard: Quad[] = [
  { name: 'ground', corner: [-15, 0, -10], along: [0, 0, 20], up: [30, 0, 0] },
  { name: 'north wall', corner: [-15, 0, -10], along: [30, 0, 0], up: [0, 3, 0] },
  { name: 'south wall', corner: [15, 0, 10], along: [-30, 0, 0], up: [0, 3, 0] },
  { name: 'west wall', corner: [-15, 0, 10], along: [0, 0, -20], up: [0, 3, 0] },
  { name: 'east wall', corner: [15, 0, -10], along: [0, 0, 20], up: [0, 3, 0] },
  ...[0, 1, 2, 3, 4].map((i): Quad => ({ name: `crate ${i}`, corner: [i * 2, 1, 0], along: [0, 0, 1], up: [1, 0, 0] })),
];

/** A document as another tool would write it: all its points moved from metres with Y up. */
function written(quads: readonly Quad[], as: Placing): Document {
  const to = (v: Vec3) => movedPoint(v, AS_GLTF, { metresPerUnit: 1 / as.metresPerUnit, up: 'y' });
  // From Y up to Z up, which is the way back of reading it.
  const turn = (v: Vec3): Vec3 => to(as.up === 'z' ? [v[0], -v[2], v[1]] : v);
  return quadDocument(quads.map((q) => ({ ...q, corner: turn(q.corner), along: turn(q.along), up: turn(q.up) })));
}

const bytesOf = async (document: Document) => (await levelIo()).writeBinary(document);

async function read(document: Document, options: Parameters<typeof prepareLevel>[1] = layout) {
  const prepared = await prepareLevel(await readLevel(await bytesOf(document)), options);
  const surfaces = await readSurfaces(await readLevel(prepared.glb));
  return { ...prepared, surfaces };
}

/** Lowest and highest corner, and the normal of a surface that is known by name. */
const shape = ({ summary, surfaces }: Awaited<ReturnType<typeof read>>, name: string) => {
  const triangle = surfaces.objectOf.indexOf(surfaces.objects.indexOf(name));
  const vertex = surfaces.indices[triangle * 3]!;
  return { min: summary.min, max: summary.max, normal: [...surfaces.normals.subarray(vertex * 3, vertex * 3 + 3)] };
};

const close = (values: readonly number[]) => values.map((v) => expect.closeTo(v, 3) as number);
const asItIs = { min: close([-15, 0, -10]), max: close([15, 3, 10]), normal: close([0, 1, 0]) };

describe('a level in other units, or with another axis up', () => {
  it('is taken as it is where it is as glTF says, also under a node that turns it', async () => {
    const plain = await read(quadDocument(yard));
    expect(shape(plain, 'ground')).toEqual(asItIs);
    expect(plain.summary.seems).toEqual([]);
    const turned = written(yard, { metresPerUnit: 0.01, up: 'z' });
    const [scene] = turned.getRoot().listScenes();
    const root = turned.createNode('root').setRotation([-Math.SQRT1_2, 0, 0, Math.SQRT1_2]).setScale([0.01, 0.01, 0.01]);
    for (const child of scene!.listChildren()) {
      scene!.removeChild(child);
      root.addChild(child);
    }
    scene!.addChild(root);
    const under = await read(turned);
    expect(shape(under, 'ground')).toEqual(asItIs);
    expect(under.summary.seems).toEqual([]);
  });

  it.each<[string, Placing]>([
    ['centimetres', { metresPerUnit: 0.01, up: 'y' }],
    ['Z up', { metresPerUnit: 1, up: 'z' }],
    ['centimetres with Z up', { metresPerUnit: 0.01, up: 'z' }],
    ['inches with Z up', { metresPerUnit: 0.0254, up: 'z' }],
    ['millimetres', { metresPerUnit: 0.001, up: 'y' }],
  ])('is told by size and shape, and read right when it is said: %s', async (_, as) => {
    const document = written(yard, as);
    const { seems } = (await read(document, { ...layout, texelsPerM: 0.05, propose: true })).summary;
    // A single size does not tell centimetres from inches: what fits is offered.
    const offered = seems!.find(({ placing }) => placing.metresPerUnit === as.metresPerUnit);
    expect(offered?.placing).toEqual(as);
    expect(offered?.texelsPerM).toBe(0.05);
    expect(seems!.length).toBeLessThan(4);
    const placed = await read(written(yard, as), { ...layout, placing: as });
    expect(shape(placed, 'ground')).toEqual(asItIs);
    expect(placed.summary.seems).toEqual([]);
    expect(placed.surfaces.groups.every((g) => g.length === 0)).toBe(true);
  });

  it('is no other unit where it is wide land', async () => {
    const land = [0, 1, 2, 3, 4, 5].map((i): Quad => ({
      name: `land ${i}`,
      corner: [i * 2000, i, 0],
      along: [0, 5, 9000],
      up: [2000, 0, 0],
    }));
    expect((await read(quadDocument(land), { ...layout, propose: true })).summary.seems).toEqual([]);
  });
});

describe('lights of a file', () => {
  function lit(up: Placing) {
    const document = written(yard, up);
    const lights = document.createExtension(KHRLightsPunctual);
    const [scene] = document.getRoot().listScenes();
    const hang = (name: string, light: Light, at: Vec3, turn?: [number, number, number, number]) => {
      const node = document.createNode(name).setTranslation(at).setExtension('KHR_lights_punctual', light);
      if (turn) node.setRotation(turn);
      scene!.addChild(node);
    };
    const point = lights.createLight('bulb').setType(Light.Type.POINT!).setIntensity(60).setColor([1, 1, 1]).setRange(800);
    const spot = lights.createLight('beam').setType(Light.Type.SPOT!).setIntensity(1000).setColor([1, 0.5, 0.25]);
    spot.setInnerConeAngle(10 * DEG).setOuterConeAngle(30 * DEG);
    const sun = lights.createLight('sun').setType(Light.Type.DIRECTIONAL!).setIntensity(90_000);
    hang('hall bulb', point, [100, 200, 300]);
    // A quarter turn about X: from -Z to -Y.
    hang('beam', spot, [0, 0, 0], [-Math.SQRT1_2, 0, 0, Math.SQRT1_2]);
    hang('sun', sun, [0, 0, 0]);
    hang('off', lights.createLight('off').setType(Light.Type.POINT!).setIntensity(0), [0, 0, 0]);
    return document;
  }

  it('are told with place, direction, photometric strength and range; they are not in the prepared level', async () => {
    const as: Placing = { metresPerUnit: 0.01, up: 'z' };
    const { summary, glb } = await read(lit(as), { ...layout, placing: as });
    const [bulb, beam, sun] = summary.lights!;
    expect(summary.lights).toHaveLength(3);
    expect(bulb).toMatchObject({ name: 'hall bulb', kind: 'point', strength: expect.closeTo(60, 4), color: '#ffffff', cone: null });
    expect(bulb!.at).toEqual(close([1, 3, -2]));
    expect(bulb!.reachM).toBeCloseTo(8, 6);
    // Rec. 709 luminance of its colour.
    expect(beam!.strength).toBeCloseTo(1000 * (0.2126 + 0.7152 * 0.5 + 0.0722 * 0.25), 0);
    expect(beam!.cone).toEqual({ innerDeg: expect.closeTo(10, 4), outerDeg: expect.closeTo(30, 4) });
    // In the file it shines along -Y, which is +Z when its Z is up.
    expect(beam!.direction).toEqual(close([0, 0, 1]));
    expect(sun).toMatchObject({ kind: 'directional', strength: expect.closeTo(90_000, 1), reachM: null });
    expect(sun!.direction).toEqual(close([0, -1, 0]));
    expect(
      (await readLevel(glb))
        .getRoot()
        .listExtensionsUsed()
        .map((e) => e.extensionName),
    ).not.toContain('KHR_lights_punctual');
  });
});

describe('variants of materials', () => {
  it('are left at the material that the file shows first', async () => {
    const document = quadDocument([yard[0]!]);
    const variants = document.createExtension(KHRMaterialsVariants);
    const other = document.createMaterial('snow').setBaseColorFactor([0.9, 0.9, 0.9, 1]);
    const mapping = variants.createMapping().setMaterial(other).addVariant(variants.createVariant('winter'));
    document
      .getRoot()
      .listMeshes()[0]!
      .listPrimitives()[0]!
      .setExtension('KHR_materials_variants', variants.createMappingList().addMapping(mapping));
    const { surfaces } = await read(document);
    expect(surfaces.materials[surfaces.materialOf[0]!]!.baseColor).toEqual(close([0.5, 0.5, 0.5]));
  });
});

describe('materials that other tools write', () => {
  it('keep what they let through; those that are to be shown without light are told of, and lit', async () => {
    const document = quadDocument([yard[0]!, yard[1]!, yard[2]!]);
    const [blend, glass, flat] = document.getRoot().listMaterials();
    blend!.setAlphaMode('BLEND').setBaseColorFactor([1, 1, 1, 0.3]);
    glass!.setExtension(
      'KHR_materials_transmission',
      document.createExtension(KHRMaterialsTransmission).createTransmission().setTransmissionFactor(0.8),
    );
    flat!.setExtension('KHR_materials_unlit', document.createExtension(KHRMaterialsUnlit).createUnlit());
    const { surfaces, summary, glb } = await read(document);
    const of = (name: string) => surfaces.materials.find((m) => m.name === name);
    expect(of('ground')).toMatchObject({ blended: true, transmission: 0, holeBelowAlpha: null, alpha: expect.closeTo(0.3, 6) as number });
    expect(of('north wall')).toMatchObject({ blended: false, transmission: expect.closeTo(0.8, 6) as number });
    expect(of('south wall')).toMatchObject({ blended: false, transmission: 0 });
    expect(summary.unlit).toEqual(['south wall']);
    const extensions = (await readLevel(glb)).getRoot().listExtensionsUsed();
    expect(extensions.map((e) => e.extensionName)).not.toContain('KHR_materials_unlit');
  });
});
