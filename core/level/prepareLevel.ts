import type { Accessor, Document, Mesh, Primitive } from '@gltf-transform/core';
import { dedup, prune } from '@gltf-transform/functions';
import sharp from 'sharp';
import { MAX_PIXELS } from '../image';
import { hasLightmap } from '../roles';
import { AS_GLTF, type Placing, type Vec3 } from '../units';
import { pick, readInstances, safeName, uvArea, worldArea, type Instance, type LeftBehind } from './instances';
import type { FileLight } from '../lamps';
import { readLights } from './fileLights';
import { placeLevel, seemsPlaced } from './placing';
import { proposeLayout } from './proposeLayout';
import type { Charted } from './atlas';
import { layOut, type Layout, type LayoutOptions } from './layOut';
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
  /** How the file seems to lie, where that is otherwise than glTF says and nobody has chosen yet. */
  seems?: Placing | null;
  /** Lights of the file, which light nothing by themselves. */
  lights?: FileLight[];
  /** Where a person would stand; null where there is no floor. */
  opening?: { eye: Vec3; target: Vec3; fovDeg: number } | null;
  /** What of the file was left behind; summaries from before that was told have none. */
  left?: LeftBehind & { textures: { texture: string; fault: string }[] };
}

export interface PreparedLevel {
  /** The level as binary glTF: `TEXCOORD_1` is the lightmap's, each primitive's extras say which map it lies in. */
  glb: Uint8Array;
  summary: LevelSummary;
  /** How it was laid out: as was asked for, or as is proposed. */
  layout: LayoutOptions;
}

/** Extensions that a prepared level has no more: what compression hid is plain, and lights are told of beside it. */
const DONE_WITH = new Set([
  'KHR_lights_punctual','KHR_draco_mesh_compression', 'EXT_meshopt_compression', 'KHR_meshopt_compression', 'KHR_mesh_quantization']);

/** The triangles of one lightmap, with only the vertices they use. */
function partOfMap(layout: Charted, map: number): Charted {
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

/** Accessors of primitives that were written, so that copies with the same charts hold their geometry once. */
class SharedGeometry {
  private readonly written = new Map<object, { source: Uint32Array; indices: Uint32Array; primitive: Primitive }[]>();

  constructor(private readonly write: (instance: Instance, part: Charted) => Primitive) {}

  /** A primitive of its own lightmap coordinates, whose other attributes an equal one may share. */
  of(instance: Instance, part: Charted, own: Accessor): Primitive {
    const { source, indices } = part;
    const before = this.written.get(instance.primitive) ?? [];
    const same = before.find((b) => equal(b.source, source) && equal(b.indices, indices));
    const primitive = same ? same.primitive.clone() : this.write(instance, part);
    if (!same) this.written.set(instance.primitive, [...before, { source, indices, primitive }]);
    return primitive.setAttribute('TEXCOORD_1', own);
  }
}

const equal = (a: Uint32Array, b: Uint32Array) => a.length === b.length && a.every((v, i) => v === b[i]);

function writeInstances(document: Document, instances: Instance[], layout: Layout): void {
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const meshes = new Map<Instance['node'], { mesh: Mesh; name: string }>();
  const attribute = (type: 'VEC2' | 'VEC3' | 'VEC4', array: Float32Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const shared = new SharedGeometry((instance, { source, indices }) => {
    const primitive = document
      .createPrimitive()
      .setMaterial(instance.material)
      .setIndices(
        document
          .createAccessor()
          .setType('SCALAR')
          .setArray(indices as Uint32Array<ArrayBuffer>)
          .setBuffer(buffer),
      )
      .setAttribute('POSITION', attribute('VEC3', pick(source, instance.positions, 3)))
      .setAttribute('NORMAL', attribute('VEC3', pick(source, instance.normals, 3)))
      .setAttribute('TEXCOORD_0', attribute('VEC2', pick(source, instance.uv, 2)));
    if (instance.colors) primitive.setAttribute('COLOR_0', attribute('VEC4', pick(source, instance.colors, 4)));
    return primitive;
  });
  instances.forEach((instance, i) => {
    let own = meshes.get(instance.node);
    if (!own) {
      own = { mesh: document.createMesh(instance.node.getMesh()!.getName()), name: instance.name };
      meshes.set(instance.node, own);
    }
    const whole = layout.instances[i]!;
    const maps = new Set(whole.mapOf);
    for (const map of maps) {
      const part = maps.size === 1 ? whole : partOfMap(whole, map);
      own.mesh.addPrimitive(shared.of(instance, part, attribute('VEC2', part.uv)).setExtras({ basil: { map } }));
    }
  });
  // What was left behind is in no mesh any more.
  for (const node of document.getRoot().listNodes()) if (node.getMesh() && !meshes.has(node)) node.setMesh(null);
  const taken = new Set<string>();
  for (const [node, { mesh, name }] of meshes) node.setMesh(mesh).setSkin(null).setName(freeName(name, taken));
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
      faults: layout.faults.flatMap((fault, i) => (fault && fault !== 'missing' ? [{ object: instances[i]!.name, fault }] : [])),
    },
  };
}

/** Makes room for a layout of the level's extent, where the one that is asked for would not be baked on a common machine. */
export interface PrepareOptions extends LayoutOptions {
  /** Whether the density may be lowered. */
  propose?: boolean;
}

/** Takes textures out whose images cannot be read: what had them has its plain colour. Answers what is wrong with each, in a sentence. */
async function dropBrokenTextures(document: Document): Promise<{ texture: string; fault: string }[]> {
  const checked = await Promise.all(
    document
      .getRoot()
      .listTextures()
      .map(async (texture, i) => ({
        texture,
        fault: await imageFault(texture.getImage(), texture.getName() || texture.getURI() || `number ${i + 1}`),
      })),
  );
  return checked.flatMap(({ texture, fault }) => {
    if (!fault) return [];
    texture.dispose();
    return [fault];
  });
}

async function imageFault(image: Uint8Array | null, texture: string): Promise<{ texture: string; fault: string } | null> {
  try {
    await sharp(image ?? new Uint8Array(), { failOn: 'error', limitInputPixels: MAX_PIXELS }).stats();
    return null;
  } catch {
    return { texture, fault: `The image of the texture ${texture} is damaged or of no known kind: what had it has a plain colour.` };
  }
}

/** Areas of objects as they lie in the level, square metres, by the densities that they have by themselves. */
function areasOf(instances: readonly Instance[], { densities = {}, groupDensities = {} }: LayoutOptions): Map<string, number> {
  const areas = new Map<string, number>();
  for (const instance of instances) {
    const { name, groups, density } = instance;
    const own = Object.hasOwn(densities, name) ? 1 : densityFactor({ name, groups }, { groupDensities });
    areas.set(name, (areas.get(name) ?? 0) + worldArea(instance) * (density * own) ** 2);
  }
  return areas;
}

/** Factor on the density of an object: its own, that of the nearest group that has one, or 1. */
export function densityFactor(
  { name, groups }: { name: string; groups: readonly string[] },
  { densities = {}, groupDensities = {} }: Pick<LayoutOptions, 'densities' | 'groupDensities'>,
): number {
  if (Object.hasOwn(densities, name)) return densities[name]!;
  const group = groups.find((g) => Object.hasOwn(groupDensities, g));
  return group === undefined ? 1 : groupDensities[group]!;
}

/**
 * Makes a level fit to bake: every placed primitive gets its own geometry with valid lightmap coordinates, and all
 * compression is undone. Hierarchy, transforms and materials stay; names too, but for a number
 * after those that several objects have. What is damaged is left behind and listed.
 *
 * @param progress told the share done, 0..1
 *
 * Changes `document`. Throws a `bad-input` Failure for a level without a triangle that can be lit.
 */
export async function prepareLevel(
  document: Document,
  { propose = false, ...options }: PrepareOptions,
  progress: (share: number) => void = () => undefined,
): Promise<PreparedLevel> {
  for (const material of document.getRoot().listMaterials()) material.setName(safeName(material.getName()));
  const textures = await dropBrokenTextures(document);
  const { placing = AS_GLTF } = options;
  placeLevel(document, placing);
  const { instances: read, left } = await readInstances(document);
  const seems = options.placing ? null : seemsPlaced(read);
  const asked = propose ? proposeLayout(options, areasOf(read, options)) : options;
  const { mapped = [] } = asked;
  const factorOf = ({ name, groups, material }: Instance) =>
    hasLightmap(mapped, { object: name, groups, material: material?.getName() ?? '' }) ? densityFactor({ name, groups }, asked) : 0;
  const instances = read.map((i) => ({ ...i, density: i.density * factorOf(i) }));
  progress(0.1);
  const layout = await layOut(instances, asked, readMaps(document), (share) => progress(0.1 + 0.8 * share));
  progress(0.9);
  const summary = { ...summarize(document, instances, layout), left: { ...left, textures }, seems, lights: readLights(document, placing) };
  writeInstances(document, instances, layout);
  useFirstUv(document);
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0]!;
  scene.setExtras({ ...scene.getExtras(), basil: { maps: layout.maps } });
  for (const extension of root.listExtensionsUsed()) if (DONE_WITH.has(extension.extensionName)) extension.dispose();
  await document.transform(
    dedup({ propertyTypes: ['Texture', 'Material'] as never[], keepUniqueNames: true }),
    prune({ keepAttributes: true, keepLeaves: true, keepSolidTextures: true }),
  );
  return { glb: await (await levelIo()).writeBinary(document), summary, layout: asked };
}
