import type { Document } from '@gltf-transform/core';
import { dedup, prune } from '@gltf-transform/functions';
import { pick, readInstances, uvArea, worldArea, type Instance } from './instances';
import { layOut, type InstanceLayout, type Layout, type LayoutOptions } from './layOut';
import { secondUvFault } from './secondUv';
import { levelIo } from './readLevel';
import { readMaps } from './surfaces';

/** What a level holds, in the words shown beside it. */
export interface LevelSummary {
  objects: number;
  triangles: number;
  materials: number;
  textures: number;
  /** Lowest and highest corner, metres. */
  min: [number, number, number];
  max: [number, number, number];
  areaM2: number;
  lightmaps: {
    maps: { width: number; height: number }[];
    origin: Layout['origin'];
    /** Texels per metre that the layout came to, averaged over the area; below what was asked where the cap held it. */
    texelsPerM: number;
    /** Objects whose own second UV set could not be used, and why. */
    faults: { object: string; fault: string }[];
  };
}

export interface PreparedLevel {
  /** The level as binary glTF: `TEXCOORD_1` is the lightmap's, each primitive's extras say which map it lies in. */
  glb: Uint8Array;
  summary: LevelSummary;
}

/** The extension names that only compress; what they hid is plain now. */
const COMPRESSION = new Set(['KHR_draco_mesh_compression', 'EXT_meshopt_compression', 'KHR_meshopt_compression', 'KHR_mesh_quantization']);

/** The triangles of one lightmap, with only the vertices they use. */
function partOfMap(layout: InstanceLayout, map: number): InstanceLayout {
  const renumbered = new Map<number, number>();
  const indices: number[] = [];
  for (let t = 0; t < layout.mapOf.length; t++) {
    if (layout.mapOf[t] !== map) continue;
    for (let k = 0; k < 3; k++) {
      const v = layout.indices[t * 3 + k]!;
      if (!renumbered.has(v)) renumbered.set(v, renumbered.size);
      indices.push(renumbered.get(v)!);
    }
  }
  const kept = Uint32Array.from(renumbered.keys());
  return {
    source: kept.map((v) => layout.source[v]!),
    uv: pick(kept, layout.uv, 2),
    indices: Uint32Array.from(indices),
    mapOf: new Uint16Array(indices.length / 3).fill(map),
  };
}

/** Objects are known by their names, so each gets one that no other has. */
function freeName(wanted: string, taken: Set<string>): string {
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = `${wanted} (${n})`;
  taken.add(name);
  return name;
}

function writeInstances(document: Document, instances: Instance[], layout: Layout): void {
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const meshes = new Map<Instance['node'], ReturnType<Document['createMesh']>>();
  const attribute = (type: 'VEC2' | 'VEC3' | 'VEC4', array: Float32Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  instances.forEach((instance, i) => {
    let mesh = meshes.get(instance.node);
    if (!mesh) {
      mesh = document.createMesh(instance.node.getMesh()!.getName());
      meshes.set(instance.node, mesh);
    }
    const whole = layout.instances[i]!;
    for (const map of new Set(whole.mapOf)) {
      const { source, uv, indices } = partOfMap(whole, map);
      const primitive = document
        .createPrimitive()
        .setMaterial(instance.material)
        .setExtras({ basil: { map } })
        .setIndices(document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(buffer))
        .setAttribute('POSITION', attribute('VEC3', pick(source, instance.positions, 3)))
        .setAttribute('NORMAL', attribute('VEC3', pick(source, instance.normals, 3)))
        .setAttribute('TEXCOORD_0', attribute('VEC2', pick(source, instance.uv, 2)))
        .setAttribute('TEXCOORD_1', attribute('VEC2', uv));
      if (instance.colors) primitive.setAttribute('COLOR_0', attribute('VEC4', pick(source, instance.colors, 4)));
      mesh.addPrimitive(primitive);
    }
  });
  const taken = new Set<string>();
  for (const [node, mesh] of meshes)
    node
      .setMesh(mesh)
      .setSkin(null)
      .setName(freeName(instances.find((i) => i.node === node)!.name, taken));
}

/** The base colour now reads `TEXCOORD_0` whatever set it came from. */
function useFirstUv(document: Document): void {
  for (const material of document.getRoot().listMaterials()) material.getBaseColorTextureInfo()?.setTexCoord(0);
}

function summarize(document: Document, instances: Instance[], layout: Layout): LevelSummary {
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  let areaM2 = 0;
  let bakedM2 = 0;
  let texels = 0;
  instances.forEach((instance, i) => {
    const p = instance.worldPositions;
    for (const v of instance.indices) {
      for (let c = 0; c < 3; c++) {
        min[c] = Math.min(min[c]!, p[v * 3 + c]!);
        max[c] = Math.max(max[c]!, p[v * 3 + c]!);
      }
    }
    areaM2 += worldArea(instance);
    const placed = layout.instances[i]!;
    if (instance.density === 0) return;
    bakedM2 += worldArea(instance);
    const { width, height } = layout.maps[placed.mapOf[0] ?? 0]!;
    texels += uvArea(placed.uv, placed.indices) * width * height;
  });
  const root = document.getRoot();
  return {
    objects: new Set(instances.map((i) => i.node)).size,
    triangles: instances.reduce((sum, i) => sum + i.indices.length / 3, 0),
    materials: root.listMaterials().length,
    textures: root.listTextures().length,
    min,
    max,
    areaM2,
    lightmaps: {
      maps: layout.maps,
      origin: layout.origin,
      texelsPerM: bakedM2 > 0 ? Math.sqrt(texels / bakedM2) : 0,
      faults: instances.flatMap((i) => {
        const fault = i.density > 0 ? secondUvFault(i) : null;
        return fault && fault !== 'missing' ? [{ object: i.name, fault }] : [];
      }),
    },
  };
}

/**
 * Makes a level fit to bake: every placed primitive gets its own geometry with valid lightmap coordinates, and all
 * compression is undone. Hierarchy, transforms and materials stay; names too, but for a number
 * after those that several objects have.
 *
 * @param progress told the share done, 0..1
 *
 * Changes `document`. Throws a `bad-input` Failure for damaged geometry or a level without triangles.
 */
export async function prepareLevel(
  document: Document,
  options: LayoutOptions,
  progress: (share: number) => void = () => undefined,
): Promise<PreparedLevel> {
  const instances = (await readInstances(document)).map((i) => ({ ...i, density: i.density * (options.densities?.[i.name] ?? 1) }));
  progress(0.1);
  const layout = await layOut(instances, options, readMaps(document), (share) => progress(0.1 + 0.8 * share));
  progress(0.9);
  const summary = summarize(document, instances, layout);
  writeInstances(document, instances, layout);
  useFirstUv(document);
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0]!;
  scene.setExtras({ ...scene.getExtras(), basil: { maps: layout.maps } });
  for (const extension of root.listExtensionsUsed()) if (COMPRESSION.has(extension.extensionName)) extension.dispose();
  await document.transform(
    dedup({ propertyTypes: ['Texture', 'Material'] as never[], keepUniqueNames: true }),
    prune({ keepAttributes: true, keepLeaves: true, keepSolidTextures: true }),
  );
  return { glb: await (await levelIo()).writeBinary(document), summary };
}
