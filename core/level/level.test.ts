import { Logger } from '@gltf-transform/core';
import { EXTMeshoptCompression, KHRDracoMeshCompression, KHRTextureTransform } from '@gltf-transform/extensions';
import sharp from 'sharp';
import { quadDocument, quadLevel, room, type Quad } from '../../tests/lib/level';
import { NO_MAP, levelIo, prepareLevel, readLevel, readSurfaces, type LayoutOptions } from './index';
import { proposeLayout } from './proposeLayout';

const layout = { texelsPerM: 4, maxMapSize: 256 };
const box = room(0, 2, { albedo: 0.5 });
const floor: Quad = { name: 'floor', corner: [0, 0, 0], along: [0, 0, 2], up: [2, 0, 0] };

const surfacesOf = async (glb: Uint8Array) => readSurfaces(await readLevel((await prepareLevel(await readLevel(glb), layout)).glb));
const write = async (document: ReturnType<typeof quadDocument>) =>
  (await levelIo()).writeBinary(document.setLogger(new Logger(Logger.Verbosity.SILENT)));

/** Positions of all triangles, rounded and sorted: the same however they are stored. */
const shapeOf = ({ positions, indices }: Awaited<ReturnType<typeof surfacesOf>>, digits = 3) =>
  Array.from({ length: indices.length / 3 }, (_, t) =>
    [0, 1, 2]
      .map((k) => [0, 1, 2].map((c) => (positions[indices[t * 3 + k]! * 3 + c]! + 0).toFixed(digits).replace(/^-(0\.?0*)$/, '$1')).join())
      .sort()
      .join(' '),
  ).sort();

describe('reading a level', () => {
  it('takes the same geometry from plain, meshopt and Draco files', async () => {
    const plain = await surfacesOf(await quadLevel(box));
    const meshopt = quadDocument(box);
    meshopt
      .createExtension(EXTMeshoptCompression)
      .setRequired(true)
      .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
    const draco = quadDocument(box);
    draco.createExtension(KHRDracoMeshCompression).setRequired(true);
    expect(shapeOf(await surfacesOf(await write(meshopt)))).toEqual(shapeOf(plain));
    expect(shapeOf(await surfacesOf(await write(draco)), 2)).toEqual(shapeOf(plain, 2));
  });

  it('takes a .gltf with embedded data by its bytes, whatever its name', async () => {
    const { json, resources } = await (await levelIo()).writeJSON(quadDocument(box));
    for (const buffer of json.buffers!)
      buffer.uri = `data:application/octet-stream;base64,${Buffer.from(resources[buffer.uri!]!).toString('base64')}`;
    const surfaces = await surfacesOf(new TextEncoder().encode(JSON.stringify(json)));
    expect(surfaces.indices.length / 3).toBe(12);
  });

  it('applies transforms, and keeps the outside out where a node mirrors', async () => {
    const document = quadDocument([floor]);
    document.getRoot().listNodes()[0]!.setTranslation([10, 1, 0]).setScale([-2, 1, 1]);
    const { positions, normals } = await surfacesOf(await write(document));
    expect(Math.min(...positions.filter((_, i) => i % 3 === 0))).toBeCloseTo(6, 6);
    expect(positions[1]).toBeCloseTo(1, 6);
    for (let v = 0; v < normals.length; v += 3) expect(normals[v + 1]).toBeCloseTo(1, 6);
  });

  it('reads base colour, emission with its strength, cutout and sides', async () => {
    const document = quadDocument([{ ...floor, color: [0.2, 0.4, 0.6], glow: 250, doubleSided: true }]);
    document.getRoot().listMaterials()[0]!.setAlphaMode('MASK').setAlphaCutoff(0.3);
    const [material] = (await surfacesOf(await write(document))).materials;
    material!.baseColor.forEach((v, c) => expect(v).toBeCloseTo([0.2, 0.4, 0.6][c]!, 6));
    material!.emission.forEach((v) => expect(v).toBeCloseTo(250, 3));
    expect(material).toMatchObject({ holeBelowAlpha: expect.closeTo(0.3, 6), doubleSided: true });
  });

  it('carries a texture and its transform', async () => {
    const document = quadDocument([floor]);
    const png = await sharp({ create: { width: 2, height: 2, channels: 3, background: { r: 255, g: 128, b: 0 } } })
      .png()
      .toBuffer();
    const material = document
      .getRoot()
      .listMaterials()[0]!
      .setBaseColorTexture(document.createTexture('t').setImage(png).setMimeType('image/png'));
    const uv = document
      .createAccessor()
      .setType('VEC2')
      .setArray(new Float32Array([0, 0, 1, 0, 1, 1, 0, 1]))
      .setBuffer(document.getRoot().listBuffers()[0]!);
    document.getRoot().listMeshes()[0]!.listPrimitives()[0]!.setAttribute('TEXCOORD_0', uv);
    material
      .getBaseColorTextureInfo()!
      .setExtension(
        'KHR_texture_transform',
        document.createExtension(KHRTextureTransform).createTransform().setScale([3, 2]).setOffset([0.5, 0]),
      );
    const { textures, materials } = await surfacesOf(await write(document));
    expect(textures[0]).toMatchObject({ width: 2, height: 2 });
    expect([...textures[0]!.data.subarray(0, 4)]).toEqual([255, 128, 0, 255]);
    expect(materials[0]!.textureTransform.map((v) => v + 0)).toEqual([3, 0, 0.5, 0, 2, 0]);
  });

  const glb = () => quadLevel(box);
  it.each<[string, () => Promise<Uint8Array>, RegExp]>([
    ['an empty file', async () => new Uint8Array(), /is empty/],
    ['a PNG', async () => new Uint8Array([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]), /PNG image, not a level/],
    ['a damaged archive', async () => new TextEncoder().encode('PK\x03\x04rest'), /damaged zip archive/],
    ['a file cut short', async () => (await glb()).subarray(0, 900), /cut short: it says \d+ bytes and has 900/],
    [
      'binary glTF 1',
      async () => {
        const b = Uint8Array.from(await glb());
        b[4] = 1;
        return b;
      },
      /version 1/,
    ],
    ['JSON that is no glTF', async () => new TextEncoder().encode('{}'), /no "asset"/],
    ['text', async () => new TextEncoder().encode('solid cube'), /neither binary glTF nor readable JSON/],
    [
      'noise after the header',
      async () => {
        const b = Uint8Array.from(await glb());
        b.fill(0xee, 20, 200);
        return b;
      },
      /JSON|damaged/,
    ],
  ])('refuses %s with a word on what it is', async (_, bytes, words) => {
    await expect(bytes().then(readLevel)).rejects.toThrow(words);
  });

  it('refuses a level without triangles, and one with a vertex at no finite place', async () => {
    await expect(surfacesOf(await quadLevel([]))).rejects.toThrow('no triangles');
    const broken = quadDocument([floor]);
    broken.getRoot().listAccessors()[0]!.setElement(2, [NaN, 0, 0]);
    await expect(surfacesOf(await write(broken))).rejects.toThrow(/"floor" has a vertex \(number 2\)/);
  });
});

describe('laying out lightmaps', () => {
  /** Smallest distance of two triangles' texels that are not of one quad would be the gutter; here: no overlaps at all. */
  async function overlapShare(glb: Uint8Array): Promise<number> {
    const { maps, mapOf, indices, lightmapUv } = await surfacesOf(glb);
    let twice = 0;
    let all = 0;
    maps.forEach(({ width, height }, map) => {
      const hits = new Uint8Array(width * height * 4);
      mapOf.forEach((m, t) => {
        if (m !== map) return;
        const p = [0, 1, 2].map((k) => [
          lightmapUv[indices[t * 3 + k]! * 2]! * width * 2,
          lightmapUv[indices[t * 3 + k]! * 2 + 1]! * height * 2,
        ]);
        const [a, b, c] = p as [number[], number[], number[]];
        const area = (b[0]! - a[0]!) * (c[1]! - a[1]!) - (b[1]! - a[1]!) * (c[0]! - a[0]!);
        for (let y = 0; y < height * 2; y++) {
          for (let x = 0; x < width * 2; x++) {
            const u = ((x + 0.503 - a[0]!) * (c[1]! - a[1]!) - (y + 0.497 - a[1]!) * (c[0]! - a[0]!)) / area;
            const v = ((b[0]! - a[0]!) * (y + 0.497 - a[1]!) - (b[1]! - a[1]!) * (x + 0.503 - a[0]!)) / area;
            if (u > 0 && v > 0 && u + v < 1) hits[y * width * 2 + x]!++;
          }
        }
      });
      for (const n of hits) {
        if (n > 0) all++;
        if (n > 1) twice++;
      }
    });
    expect(all).toBeGreaterThan(100);
    return twice / all;
  }

  it('gives every texel to one place of the surface, at the density asked for', async () => {
    const glb = await quadLevel(box);
    const { summary } = await prepareLevel(await readLevel(glb), layout);
    expect(summary.lightmaps.origin).toBe('made');
    expect(summary.lightmaps.texelsPerM).toBeCloseTo(4, 0);
    expect(await overlapShare(glb)).toBe(0);
  });

  it('takes more maps when one is not enough', async () => {
    const { summary } = await prepareLevel(await readLevel(await quadLevel(room(0, 10, { albedo: 0.5 }))), {
      texelsPerM: 8,
      maxMapSize: 128,
    });
    expect(summary.lightmaps.maps.length).toBeGreaterThan(3);
    for (const { width, height } of summary.lightmaps.maps) expect(Math.max(width, height)).toBeLessThanOrEqual(128);
  });

  it('uses second UVs that are valid, and makes new ones with the reason where they are not', async () => {
    const withUv2 = async (uv: number[]) => {
      const document = quadDocument([floor]);
      const accessor = document
        .createAccessor()
        .setType('VEC2')
        .setArray(new Float32Array(uv))
        .setBuffer(document.getRoot().listBuffers()[0]!);
      document.getRoot().listMeshes()[0]!.listPrimitives()[0]!.setAttribute('TEXCOORD_1', accessor);
      return (await prepareLevel(await readLevel(await write(document)), layout)).summary.lightmaps;
    };
    expect(await withUv2([0.1, 0.1, 0.9, 0.1, 0.9, 0.9, 0.1, 0.9])).toMatchObject({ origin: 'file', faults: [] });
    expect(await withUv2([0, 0, 5, 0, 5, 5, 0, 5])).toMatchObject({ origin: 'made', faults: [{ object: 'floor', fault: 'out of range' }] });
    expect(await withUv2([0, 0, 0, 0, 0, 0, 0, 0])).toMatchObject({ faults: [{ fault: 'no area' }] });
    expect(await withUv2([0, 0, 1, 0, 1, 1, 1, 0])).toMatchObject({ faults: [{ fault: 'overlapping' }] });
  });

  it('prepares what it prepared before without changing it', async () => {
    const { glb } = await prepareLevel(await readLevel(await quadLevel(box)), layout);
    const first = await readSurfaces(await readLevel(glb));
    const second = await surfacesOf(glb);
    expect(shapeOf(second)).toEqual(shapeOf(first));
    // Sizes are whole blocks of four texels.
    expect(Math.abs(second.maps[0]!.width - first.maps[0]!.width)).toBeLessThanOrEqual(4);
    expect(Math.abs(second.maps[0]!.height - first.maps[0]!.height)).toBeLessThanOrEqual(4);
  });

  it('gives no place to objects that are left out, which stay where they are, and the density asked for to the others', async () => {
    const bytes = await quadLevel(box);
    const all = await prepareLevel(await readLevel(bytes), layout);
    const some = await prepareLevel(await readLevel(bytes), { ...layout, densities: { floor: 0, ceiling: 0 } });
    const surfaces = await readSurfaces(await readLevel(some.glb));
    const left = surfaces.objects.flatMap((name, o) => (surfaces.mapOf[surfaces.objectOf.indexOf(o)] === NO_MAP ? [name] : []));
    expect(left.sort()).toEqual(['ceiling', 'floor']);
    expect(shapeOf(surfaces)).toEqual(shapeOf(await readSurfaces(await readLevel(all.glb))));
    expect(some.summary.lightmaps.texelsPerM / all.summary.lightmaps.texelsPerM).toBeCloseTo(1, 1);
    expect(some.summary.areaM2).toBeCloseTo(all.summary.areaM2, 6);
    const texels = ({ summary }: typeof all) => summary.lightmaps.maps.reduce((sum, m) => sum + m.width * m.height, 0);
    expect(texels(some)).toBeLessThan(texels(all));
    // What was left out once is laid out again when it is wanted.
    const again = await prepareLevel(await readLevel(some.glb), layout);
    expect([...(await readSurfaces(await readLevel(again.glb))).mapOf]).not.toContain(NO_MAP);
  });

  it('gives all of a group a density, the nearest group first, and an object its own before that', async () => {
    const document = quadDocument([floor, { ...floor, name: 'shelf', corner: [0, 2, 0] }, { ...floor, name: 'box', corner: [0, 4, 0] }]);
    const [scene] = document.getRoot().listScenes();
    const [, shelf, box] = document.getRoot().listNodes();
    const props = document.createNode('Props').addChild(shelf!).addChild(document.createNode('Small').addChild(box!));
    scene!.addChild(props);
    const glb = await write(document);
    const perM = async (options: Partial<LayoutOptions>) => {
      const { objects, objectOf, indices, lightmapUv, mapOf, maps } = await readSurfaces(
        await readLevel((await prepareLevel(await readLevel(glb), { ...layout, ...options })).glb),
      );
      return Object.fromEntries(
        objects.map((name, object) => {
          let texels = 0;
          for (let t = 0; t < objectOf.length; t++) {
            const map = maps[mapOf[t]!];
            if (objectOf[t] !== object || !map) continue;
            const [a, b, c] = [0, 1, 2].map((k) => [0, 1].map((n) => lightmapUv[indices[t * 3 + k]! * 2 + n]!)) as [
              number[],
              number[],
              number[],
            ];
            texels += (Math.abs((b[0]! - a[0]!) * (c[1]! - a[1]!) - (c[0]! - a[0]!) * (b[1]! - a[1]!)) / 2) * map.width * map.height;
          }
          return [name, Math.sqrt(texels / 4)];
        }),
      );
    };
    const plain = await perM({});
    const grouped = await perM({ groupDensities: { Props: 2, Small: 0 } });
    expect(grouped.shelf! / plain.shelf!).toBeCloseTo(2, 0);
    expect(grouped.floor! / plain.floor!).toBeCloseTo(1, 0);
    expect(grouped.box).toBe(0);
    expect((await perM({ groupDensities: { Props: 2, Small: 0 }, densities: { box: 1 } })).box! / plain.box!).toBeCloseTo(1, 0);
  });

  it('refuses to leave everything out', async () => {
    const densities = Object.fromEntries(box.map(({ name }) => [name, 0]));
    await expect(prepareLevel(await readLevel(await quadLevel(box)), { ...layout, densities })).rejects.toThrow('Every object is left out');
  });
});

describe('the layout of large levels', () => {
  /** A wavy ground of so many cells a side, over some metres. */
  const waves = (cells: number, sizeM: number, heightM: number) => {
    const document = quadDocument([floor]).setLogger(new Logger(Logger.Verbosity.SILENT));
    const primitive = document.getRoot().listMeshes()[0]!.listPrimitives()[0]!;
    const at = Array.from({ length: (cells + 1) ** 2 }, (_, k) => [k % (cells + 1), Math.floor(k / (cells + 1))] as const);
    const positions = at.flatMap(([i, j]) => [(i / cells) * sizeM, heightM * Math.sin(i * 0.15) * Math.cos(j * 0.12), (j / cells) * sizeM]);
    const indices = Array.from({ length: cells * cells }, (_, q) => {
      const a = Math.floor(q / cells) * (cells + 1) + (q % cells);
      return [a, a + cells + 1, a + 1, a + 1, a + cells + 1, a + cells + 2];
    }).flat();
    primitive.getAttribute('POSITION')!.setArray(new Float32Array(positions));
    primitive.getIndices()!.setArray(new Uint32Array(indices));
    primitive.setAttribute(
      'NORMAL',
      document
        .createAccessor()
        .setType('VEC3')
        .setArray(new Float32Array(at.flatMap(() => [0, 1, 0])))
        .setBuffer(document.getRoot().listBuffers()[0]!),
    );
    return document;
  };
  const texelsOf = ({ lightmapUv, indices, mapOf, maps }: Awaited<ReturnType<typeof surfacesOf>>) => {
    let sum = 0;
    for (let t = 0; t < mapOf.length; t++) {
      const [a, b, c] = [0, 1, 2].map((k) => indices[t * 3 + k]! * 2) as [number, number, number];
      const uv = lightmapUv;
      const cross = (uv[b]! - uv[a]!) * (uv[c + 1]! - uv[a + 1]!) - (uv[b + 1]! - uv[a + 1]!) * (uv[c]! - uv[a]!);
      sum += (Math.abs(cross) / 2) * maps[mapOf[t]!]!.width * maps[mapOf[t]!]!.height;
    }
    return sum;
  };

  it('projects ground whose triangles are finer than texels, at the density asked for and without overlaps', async () => {
    const { glb, summary } = await prepareLevel(waves(64, 8, 0.3), layout);
    expect(summary.triangles).toBe(2 * 64 * 64);
    expect(summary.lightmaps.texelsPerM).toBeGreaterThan(3.8);
    expect(summary.lightmaps.texelsPerM).toBeLessThan(4.6);
    const surfaces = await readSurfaces(await readLevel(glb));
    // As many vertices as the ground has: nothing was cut.
    expect(surfaces.positions.length / 3).toBe(65 * 65);
    const document = await readLevel(glb);
    document.getRoot().listScenes()[0]!.setExtras({});
    // Read again, its own second UV set is found without fault.
    expect((await prepareLevel(document, layout)).summary.lightmaps).toMatchObject({ origin: 'file', faults: [] });
    expect(texelsOf(surfaces) / (summary.areaM2 * 16)).toBeCloseTo(1, 0);
  });

  it('leaves ground that folds over to the chart maker', async () => {
    const { summary, glb } = await prepareLevel(waves(64, 8, 6), layout);
    const document = await readLevel(glb);
    document.getRoot().listScenes()[0]!.setExtras({});
    expect((await prepareLevel(document, layout)).summary.lightmaps.faults).toEqual([]);
    expect(summary.lightmaps.texelsPerM).toBeGreaterThan(3);
  });

  it('holds the geometry of copies once, each with lightmap coordinates of its own', async () => {
    const document = quadDocument(box).setLogger(new Logger(Logger.Verbosity.SILENT));
    const scene = document.getRoot().listScenes()[0]!;
    const [first] = document.getRoot().listNodes();
    for (let i = 1; i <= 40; i++)
      scene.addChild(
        document
          .createNode('Copy')
          .setMesh(first!.getMesh())
          .setTranslation([i * 3, 0, 0]),
      );
    scene.addChild(document.createNode('Large copy').setMesh(first!.getMesh()).setScale([2, 2, 2]).setTranslation([0, 0, 9]));
    const { glb, summary } = await prepareLevel(document, layout);
    expect(summary.objects).toBe(box.length + 41);
    const primitives = (await readLevel(glb))
      .getRoot()
      .listNodes()
      .flatMap((n) => n.getMesh()?.listPrimitives() ?? []);
    const copies = primitives.filter((p) => p.getMaterial()!.getName() === 'floor');
    // One geometry for what is equally large, one for the large copy, whose charts are others.
    expect(new Set(copies.map((p) => p.getAttribute('POSITION'))).size).toBeLessThanOrEqual(2);
    expect(new Set(copies.map((p) => p.getAttribute('TEXCOORD_1'))).size).toBe(42);
    const surfaces = await readSurfaces(await readLevel(glb));
    // No two lie on the same texels.
    const places = new Set<string>();
    for (let t = 0; t < surfaces.mapOf.length; t += 2) {
      const v = surfaces.indices[t * 3]! * 2;
      places.add([surfaces.mapOf[t], surfaces.lightmapUv[v]!.toFixed(4), surfaces.lightmapUv[v + 1]!.toFixed(4)].join());
    }
    expect(places.size).toBe(surfaces.mapOf.length / 2);
  });

  it('proposes the density that is wanted where it fits, coarser land where it does not, and less of all beyond that', () => {
    const wanted = { texelsPerM: 4, maxMapSize: 1024, densities: { kept: 2 } };
    expect(proposeLayout(wanted, new Map([['yard', 90_000]]))).toBe(wanted);
    const wide = proposeLayout(
      wanted,
      new Map([
        ['land', 1_000_000],
        ['house', 400],
      ]),
    );
    expect(wide).toMatchObject({ texelsPerM: 4, densities: { kept: 2, land: 1 / 16 } });
    const vast = proposeLayout(
      wanted,
      new Map([
        ['land', 2.5e9],
        ['house', 400],
        ['kept', 10],
      ]),
    );
    expect(vast.texelsPerM).toBeLessThan(1);
    expect(vast.densities).toEqual({ kept: 2, land: 1 / 16 });
    const texels = 2.5e9 * (vast.texelsPerM / 16) ** 2;
    expect(texels).toBeLessThanOrEqual(6e6);
    // Many equal things are no land: all of them are made coarser.
    const city = proposeLayout(wanted, new Map(Array.from({ length: 900 }, (_, i) => [`house ${i}`, 1500])));
    expect(city.densities).toEqual({ kept: 2 });
    expect(city.texelsPerM).toBe(2);
  });
});
