import { quadDocument, type Quad } from '../../tests/lib/level';
import { levelIo, prepareLevel, readLevel, readSurfaces, type PrepareOptions } from './index';

const layout = { texelsPerM: 4, maxMapSize: 256 };
const yard: Quad[] = [
  { name: 'floor', corner: [0, 0, 0], along: [0, 0, 8], up: [10, 0, 0] },
  { name: 'wall', corner: [0, 0, 0], along: [10, 0, 0], up: [0, 3, 0] },
  { name: 'roof', corner: [0, 4, 0], along: [10, 0, 0], up: [0, 0, 8] },
  { name: 'crate', corner: [2, 1, 2], along: [0, 0, 1], up: [1, 0, 0] },
  { name: 'crate', corner: [5, 1, 2], along: [0, 0, 1], up: [1, 0, 0] },
];
const moved = yard.map((q): Quad => (q.name === 'wall' ? { ...q, corner: [0, 0, 5] } : q));

const bytesOf = async (quads: readonly Quad[]) => (await levelIo()).writeBinary(quadDocument([...quads]));
const prepare = async (quads: readonly Quad[], options: PrepareOptions = layout) =>
  prepareLevel(await readLevel(await bytesOf(quads)), options);

/** Lightmap coordinates and map of each object. */
async function placesOf(glb: Uint8Array) {
  const { objects, objectOf, mapOf, indices, lightmapUv } = await readSurfaces(await readLevel(glb));
  return Object.fromEntries(
    objects.map((name, object) => {
      const own = Array.from(objectOf.keys()).filter((t) => objectOf[t] === object);
      const uv = own.flatMap((t) => [0, 1, 2].flatMap((k) => [0, 1].map((c) => lightmapUv[indices[t * 3 + k]! * 2 + c]!)));
      return [name, { map: mapOf[own[0]!]!, uv }];
    }),
  );
}

describe('a new version of a level', () => {
  it('keeps the place on the lightmaps of what did not change, and lays the rest on maps of its own', async () => {
    const before = await prepare(yard);
    const { glb, summary, beside } = await prepare(moved, { ...layout, before: before.glb });
    expect(beside).toEqual({ changed: ['wall'], firstMap: before.summary.lightmaps.maps.length });
    const [then, now] = [await placesOf(before.glb), await placesOf(glb)];
    for (const name of ['floor', 'roof', 'crate', 'crate (2)']) expect(now[name]).toEqual(then[name]);
    expect(now.wall!.map).toBe(beside!.firstMap);
    expect(summary.lightmaps.maps.slice(0, beside!.firstMap)).toEqual(before.summary.lightmaps.maps);
    expect(summary.lightmaps.maps.length).toBe(beside!.firstMap + 1);
  });

  it('has nothing new where it is the same, whatever the order and the copies', async () => {
    const before = await prepare(yard);
    const { beside, summary } = await prepare([...yard].reverse(), { ...layout, before: before.glb });
    expect(beside).toEqual({ changed: [], firstMap: before.summary.lightmaps.maps.length });
    expect(summary.lightmaps.maps).toEqual(before.summary.lightmaps.maps);
  });

  it('takes another material, or a turned object, for a change', async () => {
    const before = await prepare(yard);
    const other = quadDocument(yard);
    const [floor, , roof] = other.getRoot().listNodes();
    floor!.getMesh()!.listPrimitives()[0]!.getMaterial()!.setName('sand');
    roof!.setRotation([0, 0, 0.1, Math.sqrt(0.99)]);
    const { beside } = await prepareLevel(await readLevel(await (await levelIo()).writeBinary(other)), { ...layout, before: before.glb });
    // Floor and roof are nearly all of it: then all is laid out anew.
    expect(beside).toBeNull();
    const one = quadDocument(yard);
    one.getRoot().listNodes()[3]!.getMesh()!.listPrimitives()[0]!.getMaterial()!.setName('sand');
    const { beside: some } = await prepareLevel(await readLevel(await (await levelIo()).writeBinary(one)), {
      ...layout,
      before: before.glb,
    });
    expect(some?.changed).toEqual(['crate']);
  });

  it('is laid out anew where little of the one before is left', async () => {
    const before = await prepare(yard);
    const { beside } = await prepare([yard[3]!, { ...yard[0]!, name: 'ground', corner: [0, -1, 0] }], { ...layout, before: before.glb });
    expect(beside).toBeNull();
  });
});
