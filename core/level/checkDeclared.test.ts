import { Logger } from '@gltf-transform/core';
import { quadDocument, type Quad } from '../../tests/lib/level';
import { levelIo, prepareLevel, readLevel } from './index';

const floor: Quad = { name: 'floor', corner: [0, 0, 0], along: [0, 0, 2], up: [2, 0, 0] };
const wall: Quad = { name: 'wall', corner: [0, 0, 0], along: [2, 0, 0], up: [0, 2, 0] };
const SILENT = new Logger(Logger.Verbosity.SILENT);
const layout = { texelsPerM: 4, maxMapSize: 256 };

/** What a level's description holds, as far as it is changed here. */
interface Json {
  nodes: { mesh?: number; children?: number[]; matrix?: (number | null)[]; name?: string; extensions?: object }[];
  meshes: { primitives: { attributes: Record<string, number>; indices: number; mode?: number }[] }[];
  accessors: { count: number; bufferView?: number; type: string; componentType: number; byteOffset?: number }[];
  bufferViews: { buffer: number; byteLength: number }[];
  scenes: { nodes: number[] }[];
}

/** A level of two quads whose description was changed by hand. */
async function damaged(change: (json: Json) => void): Promise<Uint8Array> {
  const { json, resources } = await (await levelIo()).writeJSON(quadDocument([floor, wall]));
  for (const buffer of json.buffers!)
    buffer.uri = `data:application/octet-stream;base64,${Buffer.from(resources[buffer.uri!]!).toString('base64')}`;
  change(json as unknown as Json);
  return new TextEncoder().encode(JSON.stringify(json));
}

describe('what a level declares', () => {
  it.each<[string, (json: Json) => void, RegExp]>([
    [
      'vertices without data',
      (j) => j.accessors.push({ count: 20_000_000, type: 'VEC3', componentType: 5126 }),
      /240 MB of attributes and brings no data/,
    ],
    ['more elements than its view holds', (j) => void (j.accessors[0]!.count = 900), /declares 900 elements, and its buffer view holds/],
    ['elements without end', (j) => void (j.accessors[0]!.count = 4e9), /more than any level/],
    ['a view past its buffer', (j) => void (j.bufferViews[0]!.byteLength = 1e9), /Buffer view 0 ends at byte/],
    ['a view of no buffer', (j) => void (j.bufferViews[0]!.buffer = 7), /buffer 7, which is not there/],
    ['a view that is not there', (j) => void (j.accessors[0]!.bufferView = 99), /buffer view 99, which is not there/],
    ['elements of no type that there is', (j) => void (j.accessors[0]!.type = '__proto__'), /no known type/],
    ['a primitive of no kind that there is', (j) => void (j.meshes[0]!.primitives[0]!.mode = 4294967296), /primitives.*mode|mode/i],
    ['an accessor that is not there', (j) => void (j.meshes[0]!.primitives[0]!.attributes.POSITION = 77), /refers to accessor 77/],
    ['a mesh that is not there', (j) => void (j.nodes[0]!.mesh = 12), /places mesh 12/],
    ['a node within itself', (j) => void (j.nodes[0]!.children = [0, 1]), /more than one parent/],
    ['a node under two others', (j) => j.nodes.push({ children: [0] }, { children: [0] }), /more than one parent/],
    ['an element of no type', (j) => void (j.accessors[0]!.type = 'VEC9'), /no known type/],
    [
      'copies without end',
      (j) => {
        const at = j.accessors.length;
        j.accessors.push({ ...j.accessors[0]!, count: 4 });
        j.nodes[0]!.extensions = { EXT_mesh_gpu_instancing: { attributes: { TRANSLATION: at } } };
        j.accessors[at]!.count = 12_000_000;
        delete j.accessors[at]!.bufferView;
      },
      /no data|up to 20 000 000/,
    ],
  ])('is checked before anything is read: %s', async (_, change, words) => {
    const before = process.memoryUsage().arrayBuffers;
    await expect(damaged(change).then(readLevel)).rejects.toThrow(words);
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(50e6);
  });

  it('that is damaged in one object is read without it, and said', async () => {
    const bytes = await damaged((json) => {
      json.nodes[0]!.matrix = [null, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
      json.nodes[1]!.name = '__proto__';
    });
    const { summary, glb } = await prepareLevel(await readLevel(bytes), layout);
    expect(summary.left!.damaged).toEqual([{ object: 'floor', fault: expect.stringContaining('not finite') as string }]);
    expect(summary).toMatchObject({ objects: 1, triangles: 2 });
    const names = (await readLevel(glb)).getRoot().listNodes();
    expect(names.filter((n) => n.getMesh()).map((n) => n.getName())).toEqual(['__proto__ (2)']);
    // Nothing else is left: then it is refused, with what is wrong.
    const all = await damaged((json) => json.nodes.forEach((n) => void (n.matrix = [null, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1])));
    await expect(readLevel(all).then((d) => prepareLevel(d, layout))).rejects.toThrow(
      '"floor" is placed by a transform that is not finite',
    );
  });

  it('has what lies beyond all measure left out, and said', async () => {
    const document = quadDocument([floor, wall]).setLogger(SILENT);
    document.getRoot().listAccessors()[0]!.setElement(2, [4e27, 0, 7e31]);
    const { summary } = await prepareLevel(document, layout);
    expect(summary.left!.damaged).toEqual([{ object: 'floor', fault: '"floor" reaches further than 10000 km from the level\'s origin.' }]);
    expect(summary.triangles).toBe(2);
  });

  it('leaves triangles without area behind, counted', async () => {
    const document = quadDocument([floor, wall]).setLogger(SILENT);
    const [primitive] = document.getRoot().listMeshes()[0]!.listPrimitives();
    primitive!.getIndices()!.setArray(new Uint16Array([0, 1, 2, 0, 2, 3, 0, 0, 1, 2, 2, 2]));
    const { summary } = await prepareLevel(document, layout);
    expect(summary.triangles).toBe(4);
    expect(summary.left!.flat).toEqual({ triangles: 2, objects: 1 });
  });

  it('has a damaged texture taken out, and said: the level comes in with its plain colour', async () => {
    const document = quadDocument([floor]).setLogger(SILENT);
    const texture = document
      .createTexture('Plaster')
      .setImage(new Uint8Array([0x89, 0x50, 0x4e, 0x47, 1, 2, 3]))
      .setMimeType('image/png');
    document.getRoot().listMaterials()[0]!.setBaseColorTexture(texture);
    const { summary } = await prepareLevel(document, layout);
    expect(summary.left!.textures[0]!.fault).toContain('The image of the texture Plaster is damaged');
    expect(summary.textures).toBe(0);
  });
});
