import { KHRLightsPunctual, type MappingList } from '@gltf-transform/extensions';
import { quadDocument, room } from '../../tests/lib/level';
import sharp from 'sharp';
import { addFinish, levelIo, prepareLevel, readLevel, writeLevel } from './index';

type Version = ReturnType<typeof quadDocument>;
const box = () => quadDocument(room(0, 2, { albedo: 0.5 }));

function withLight(document: Version, name: string, at: [number, number, number], candela: number): Version {
  const light = document.createExtension(KHRLightsPunctual).createLight(name).setType('point').setIntensity(candela);
  document.getRoot().listScenes()[0]!.addChild(document.createNode(name).setTranslation(at).setExtension('KHR_lights_punctual', light));
  return document;
}

/** Gives a quad of a version another material. */
function painted(document: Version, quad: string, name: string, color: [number, number, number, number]): Version {
  const mesh = document
    .getRoot()
    .listMeshes()
    .find((m) => m.getName() === quad)!;
  mesh.listPrimitives()[0]!.setMaterial(document.createMaterial(name).setBaseColorFactor(color));
  return document;
}

/** What each object of a level has in a variant. */
const inVariant = (document: Version, variant: string) =>
  Object.fromEntries(
    document
      .getRoot()
      .listMeshes()
      .flatMap((mesh) =>
        mesh
          .listPrimitives()
          .flatMap((p) =>
            (p.getExtension<MappingList>('KHR_materials_variants')?.listMappings() ?? []).flatMap((m) =>
              m.listVariants().some((v) => v.getName() === variant) ? [[mesh.getName(), m.getMaterial()!.getName()]] : [],
            ),
          ),
      ),
  );

describe('another finished version of a level', () => {
  it('adds its materials as a variant, those that look alike being the level’s own', () => {
    const level = box();
    const other = painted(painted(box(), 'floor', 'Ash', [0.1, 0.1, 0.1, 1]), 'north', 'Ash', [0.1, 0.1, 0.1, 1]);
    painted(other, 'south', 'Called otherwise', [0.5, 0.5, 0.5, 1]);
    const { materials, lights } = addFinish(level, other, 'Burnt');
    expect(materials).toEqual([
      { object: 'floor', from: 'floor', to: 'Ash' },
      { object: 'north', from: 'north', to: 'Ash' },
    ]);
    expect(lights).toEqual({ added: [], removed: [], changed: [] });
    expect(inVariant(level, 'Burnt')).toEqual({ floor: 'Ash', north: 'Ash' });
    expect(
      level
        .getRoot()
        .listMaterials()
        .map((m) => m.getName())
        .filter((name) => name === 'Ash'),
    ).toHaveLength(1);
  });

  it('takes pictures of the same bytes for the same, whatever they are called, and others for others', async () => {
    const picture = (shade: number) =>
      sharp({ create: { width: 2, height: 2, channels: 3, background: { r: shade, g: 0, b: 0 } } })
        .png()
        .toBuffer();
    const textured = async (name: string, shade: number) => {
      const document = box();
      const texture = document
        .createTexture(name)
        .setURI(`${name}.png`)
        .setMimeType('image/png')
        .setImage(new Uint8Array(await picture(shade)));
      document.getRoot().listMaterials()[0]!.setBaseColorTexture(texture);
      return document;
    };
    const level = await textured('Tile', 200);
    expect(addFinish(level, await textured('Tile copy', 200), 'Same').materials).toEqual([]);
    expect(addFinish(level, await textured('Tile', 90), 'Worn').materials).toEqual([{ object: 'floor', from: 'floor', to: 'floor' }]);
  });

  it('comes from files of several buffers too, and is written as one', async () => {
    const other = painted(box(), 'floor', 'Ash', [0.1, 0.1, 0.1, 1]);
    const level = box();
    const accessor = level.getRoot().listAccessors()[0]!;
    accessor.setBuffer(level.createBuffer('more'));
    addFinish(level, other, 'Burnt');
    const read = await readLevel(await writeLevel(level));
    expect(read.getRoot().listBuffers()).toHaveLength(1);
    expect(inVariant(read, 'Burnt')).toEqual({ floor: 'Ash' });
  });

  it('has a material of the same name beside the level’s, under another name', () => {
    const level = box();
    addFinish(level, painted(box(), 'floor', 'floor', [0.9, 0, 0, 1]), 'Red');
    expect(inVariant(level, 'Red')).toEqual({ floor: 'floor (Red)' });
  });

  it('goes through being prepared, and beside a variant that was there', async () => {
    const level = box();
    addFinish(level, painted(box(), 'floor', 'Ash', [0.1, 0.1, 0.1, 1]), 'Burnt');
    addFinish(level, painted(box(), 'floor', 'Snow', [0.9, 0.9, 0.9, 1]), 'Winter');
    const bytes = await (await levelIo()).writeBinary(level);
    const { glb } = await prepareLevel(await readLevel(bytes), { texelsPerM: 4, maxMapSize: 256 });
    const prepared = await readLevel(glb);
    expect([inVariant(prepared, 'Burnt'), inVariant(prepared, 'Winter')]).toEqual([{ floor: 'Ash' }, { floor: 'Snow' }]);
    expect(() => addFinish(prepared, box(), 'Winter')).toThrow('has a variant "Winter" already');
  });

  it('gives objects that share a mesh a material each', () => {
    const twice = (color: [number, number, number, number] | null) => {
      const document = box();
      const [first] = document.getRoot().listMeshes();
      const scene = document.getRoot().listScenes()[0]!;
      const mesh = color ? document.createMesh('again').addPrimitive(first!.listPrimitives()[0]!.clone()) : first!;
      if (color) mesh.listPrimitives()[0]!.setMaterial(document.createMaterial('Ash').setBaseColorFactor(color));
      scene.addChild(document.createNode('floor again').setTranslation([9, 0, 0]).setMesh(mesh));
      return document;
    };
    const level = twice(null);
    expect(addFinish(level, twice([0.1, 0.1, 0.1, 1]), 'Burnt').materials).toEqual([{ object: 'floor again', from: 'floor', to: 'Ash' }]);
    const meshes = level
      .getRoot()
      .listNodes()
      .filter((n) => n.getName().startsWith('floor'))
      .map((n) => n.getMesh()!);
    expect(new Set(meshes).size).toBe(2);
    expect(meshes.map((m) => m.listPrimitives()[0]!.getExtension('KHR_materials_variants') !== null)).toEqual([false, true]);
  });

  it('tells of lights that it has more, has not, and has otherwise', () => {
    const level = withLight(withLight(box(), 'Lamp', [1, 1.5, 1], 100), 'Torch', [0.5, 1, 0.5], 30);
    const other = withLight(withLight(box(), 'Lamp', [1, 1.5, 1], 200), 'Fire', [1, 0.2, 1], 60);
    const { lights } = addFinish(level, other, 'Night');
    expect(lights.added.map((l) => l.name)).toEqual(['Fire']);
    expect(lights.removed.map((l) => l.name)).toEqual(['Torch']);
    expect(lights.changed.map(({ from, to }) => [from.name, to.strength / from.strength])).toEqual([['Lamp', 2]]);
  });

  it('tells where lights stand in the level, however its files lie', () => {
    const other = withLight(box(), 'Fire', [100, -200, 300], 60);
    const { lights } = addFinish(box(), other, 'Night', { metresPerUnit: 0.01, up: 'z' });
    lights.added[0]!.at.forEach((v, c) => expect(v).toBeCloseTo([1, 3, 2][c]!, 9));
    // A point shines down its node's -Z, which is level space's -Y where the file's Z is up.
    lights.added[0]!.direction.forEach((v, c) => expect(v).toBeCloseTo([0, -1, 0][c]!, 9));
  });

  it.each([
    ['is in one alone', () => quadDocument(room(0, 2, { albedo: 0.5 }).slice(1)), /"floor" in the level alone/],
    ['has another shape', () => quadDocument(room(0, 3, { albedo: 0.5 })), /of another shape or at another place/],
    [
      'stands elsewhere',
      () => {
        const moved = box();
        moved.getRoot().listNodes()[0]!.setTranslation([0, 0.2, 0]);
        return moved;
      },
      /"floor" of another shape or at another place/,
    ],
  ])('is refused where an object %s, and nothing is added', (_, other, message) => {
    const level = box();
    const before = level.getRoot().listMaterials().length;
    expect(() => addFinish(level, other(), 'Other')).toThrow(message);
    expect(level.getRoot().listMaterials()).toHaveLength(before);
    expect(inVariant(level, 'Other')).toEqual({});
  });
});
