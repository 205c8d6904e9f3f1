import { Document, type Node } from '@gltf-transform/core';
import type { Vec3 } from '../units';
import { readInstances } from './instances';
import { levelIo, prepareLevel, readLevel, readSurfaces } from './index';
import { withoutNumber } from './finenesses';

const layout = { texelsPerM: 6, maxMapSize: 512 };

/** A hill of n x n fields on a square of 4 m about a place. */
function hill(document: Document, name: string, n: number, [x0, z0]: [number, number] = [0, 0]): Node {
  const at = (i: number, j: number): Vec3 => {
    const [x, z] = [(i / n) * 4 - 2, (j / n) * 4 - 2];
    return [x0 + x, Math.cos((x * Math.PI) / 4) * Math.cos((z * Math.PI) / 4), z0 + z];
  };
  const positions = new Float32Array(Array.from({ length: (n + 1) ** 2 }, (_, k) => at(k % (n + 1), Math.floor(k / (n + 1)))).flat());
  const corner = (i: number, j: number) => j * (n + 1) + i;
  const fields = Array.from({ length: n * n }, (_, k) => [k % n, Math.floor(k / n)] as const);
  const indices = new Uint16Array(
    fields.flatMap(([i, j]) => [
      ...[corner(i, j), corner(i, j + 1), corner(i + 1, j)],
      ...[corner(i + 1, j), corner(i, j + 1), corner(i + 1, j + 1)],
    ]),
  );
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(positions).setBuffer(buffer))
    .setIndices(document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(buffer));
  return document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive));
}

/** Hills in a scene, the finest of the first one in 16 x 16 fields. */
function hills(...things: [name: string, n: number, at?: [number, number]][]): Document {
  const document = new Document();
  const scene = document.createScene();
  for (const [name, n, at] of things) scene.addChild(hill(document, name, n, at));
  return document;
}

async function prepared(document: Document) {
  const out = await prepareLevel(await readLevel(await (await levelIo()).writeBinary(document)), layout);
  const again = await readLevel(out.glb);
  return { ...out, surfaces: await readSurfaces(again), all: (await readInstances(again)).instances };
}

/** How far the finest form's surface, at the lightmap coordinates of a coarser one's corners, is from those corners: the mean and the most, in metres. */
function strays({ all }: Awaited<ReturnType<typeof prepared>>, finest: string, coarse: string): { mean: number; most: number } {
  const own = all.filter((i) => i.name === finest);
  const apart: number[] = [];
  for (const { uv2, worldPositions, map } of all.filter((i) => i.name === coarse)) {
    for (let v = 0; v < uv2!.length / 2; v++) {
      let nearest = Infinity;
      for (const fine of own.filter((i) => i.map === map)) {
        for (let t = 0; t < fine.indices.length; t += 3) {
          const at = [0, 1, 2].map((k) => fine.indices[t + k]!);
          const [a, b, c] = at.map((k) => [fine.uv2![k * 2]!, fine.uv2![k * 2 + 1]!] as const) as unknown as [number[], number[], number[]];
          const det = (b![0]! - a![0]!) * (c![1]! - a![1]!) - (c![0]! - a![0]!) * (b![1]! - a![1]!);
          const [du, dv] = [uv2![v * 2]! - a![0]!, uv2![v * 2 + 1]! - a![1]!];
          const s = (du * (c![1]! - a![1]!) - (c![0]! - a![0]!) * dv) / det;
          const r = ((b![0]! - a![0]!) * dv - du * (b![1]! - a![1]!)) / det;
          if (s < -0.01 || r < -0.01 || s + r > 1.01) continue;
          const point = [0, 1, 2].map(
            (k) =>
              (1 - s - r) * fine.worldPositions[at[0]! * 3 + k]! +
              s * fine.worldPositions[at[1]! * 3 + k]! +
              r * fine.worldPositions[at[2]! * 3 + k]!,
          );
          nearest = Math.min(nearest, Math.hypot(...point.map((p, k) => p - worldPositions[v * 3 + k]!)));
        }
      }
      apart.push(nearest);
    }
  }
  return { mean: apart.reduce((sum, v) => sum + v, 0) / apart.length, most: Math.max(...apart) };
}

describe('an object in several finenesses', () => {
  it('is known by its name, place and size: the finest alone is traced, and the others lie on its charts', async () => {
    const level = await prepared(hills(['Hill_LOD0', 16], ['Hill_LOD2', 2], ['Hill_LOD1', 5], ['Other_LOD1', 4, [20, 0]]));
    expect(level.surfaces.objects).toEqual(['Hill_LOD0', 'Other_LOD1']);
    expect(level.summary).toMatchObject({ triangles: 512 + 32, finenesses: { objects: 1, forms: 2 } });
    const steps = level.all.map((i) => [i.name, (i.node.getExtras().basil as { coarser?: object } | undefined)?.coarser]);
    expect(Object.fromEntries(steps)).toMatchObject({
      Hill_LOD1: { of: 'Hill_LOD0', step: 1, below: 0.25 },
      Hill_LOD2: { of: 'Hill_LOD0', step: 2, below: 0.08 },
    });
    // The corners of all forms lie on the same hill: the finest is met there, but where a triangle reaches over the edge of its chart.
    const lod1 = strays(level, 'Hill_LOD0', 'Hill_LOD1');
    expect(lod1.mean).toBeLessThan(0.01);
    expect(lod1.most).toBeLessThan(0.05);
    const lod2 = strays(level, 'Hill_LOD0', 'Hill_LOD2');
    expect(lod2.most).toBeLessThan(0.05);
    // It takes no texel of its own.
    const alone = await prepared(hills(['Hill_LOD0', 16], ['Other_LOD1', 4, [20, 0]]));
    expect(level.summary.lightmaps.maps).toEqual(alone.summary.lightmaps.maps);
  });

  it('is read from MSFT_lod, whose coarser nodes are in no scene, with the shares that it says', async () => {
    const document = hills(['Rock', 16]);
    for (const [name, n] of [
      ['Rock far', 4],
      ['Rock farther', 2],
    ] as const)
      hill(document, name, n);
    const { json, resources } = await (await levelIo()).writeJSON(document);
    json.nodes![0]!.extensions = { MSFT_lod: { ids: [1, 2] } };
    json.nodes![0]!.extras = { MSFT_screencoverage: [0.4, 0.1, 0.01] };
    json.extensionsUsed = ['MSFT_lod'];
    for (const buffer of json.buffers!)
      buffer.uri = `data:application/octet-stream;base64,${Buffer.from(resources[buffer.uri!]!).toString('base64')}`;
    const { glb, summary } = await prepareLevel(await readLevel(new TextEncoder().encode(JSON.stringify(json))), layout);
    expect(summary.finenesses).toEqual({ objects: 1, forms: 2 });
    const again = await readLevel(glb);
    expect((await readSurfaces(again)).objects).toEqual(['Rock']);
    const [far] = (await readInstances(again)).instances.filter((i) => i.name === 'Rock far');
    expect(far!.node.getExtras().basil).toEqual({ coarser: { of: 'Rock', step: 1, below: 0.4 } });
    expect(again.getRoot().listExtensionsUsed()).toEqual([]);
  });

  it('is none where things stand elsewhere, have other sizes, or as many triangles', async () => {
    const level = await prepared(hills(['Hill 1', 8], ['Hill 2', 8], ['Hill 3', 4, [9, 0]], ['Mound', 2]));
    expect(level.surfaces.objects).toEqual(['Hill 1', 'Hill 2', 'Hill 3', 'Mound']);
    expect(level.summary.finenesses).toEqual({ objects: 0, forms: 0 });
  });

  it.each([
    ['Barrel_LOD0', 'Barrel'],
    ['barrel.lod2', 'barrel'],
    ['Barrel-3', 'Barrel'],
    ['Barrel LOD 1', 'Barrel'],
    ['Barrel', null],
  ])('has a name that ends in a number: %s', (name, stem) => expect(withoutNumber(name)).toBe(stem));
});
