import type { Accessor, Document, Mesh, Node, Primitive } from '@gltf-transform/core';
import { dedup, prune } from '@gltf-transform/functions';
import sharp from 'sharp';
import { MAX_PIXELS } from '../image';
import { lightmapFinder } from '../roles';
import { AS_GLTF, type Placing, type Vec3 } from '../units';
import { borrowCharts, type LaidOut } from './borrowCharts';
import { findByName, placeListed, type Coarser } from './finenesses';
import { VARIANTS, basilExtras, pick, readInstances, safeName, uvArea, worldArea, type Instance, type LeftBehind } from './instances';
import type { FileLight } from '../lamps';
import { readLights } from './fileLights';
import { placeLevel, seemsPlaced } from './placing';
import { proposeLayout } from './proposeLayout';
import type { Charted } from './atlas';
import { keepUnchanged } from './keepUnchanged';
import { layOut, layOutBeside, type Layout, type LayoutOptions } from './layOut';
import { readLevel, writeLevel } from './readLevel';
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
  /** How the file may lie, where that seems otherwise than glTF says and nobody has chosen yet: the likeliest first, each with the densities proposed for it. */
  seems?: SeemingPlacing[];
  /** Objects of which the file has coarser forms, and how many of these there are. */
  finenesses?: { objects: number; forms: number };
  /** Materials that the file shows without light; they are lit here as others are. */
  unlit?: string[];
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
  /**
   * Where it is laid out beside the version before: names of the objects that are not as they were there, or not at their place. They lie on maps of their own, from
   * `firstMap` on.
   */
  beside: { changed: string[]; firstMap: number } | null;
}

/** Extensions that a prepared level has no more: what compression hid is plain, and lights are told of beside it. */
const DONE_WITH = new Set([
  'KHR_lights_punctual',
  'MSFT_lod',
  'KHR_materials_unlit',
  'KHR_draco_mesh_compression',
  'EXT_meshopt_compression',
  'KHR_meshopt_compression',
  'KHR_mesh_quantization',
]);

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

/** Writes the geometry of all objects; answers the names that they have now. Those of `names` keep the name that is said there. */
function writeInstances(
  document: Document,
  instances: readonly Instance[],
  charted: readonly Charted[],
  names: ReadonlyMap<Node, string> = new Map(),
): Map<Node, string> {
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const meshes = new Map<Node, { mesh: Mesh; name: string }>();
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
    // The other materials that it may be shown with.
    return instance.variants ? primitive.setExtension(VARIANTS, instance.variants) : primitive;
  });
  instances.forEach((instance, i) => {
    let own = meshes.get(instance.node);
    if (!own) {
      own = { mesh: document.createMesh(instance.node.getMesh()!.getName()), name: instance.name };
      meshes.set(instance.node, own);
    }
    const whole = charted[i]!;
    const maps = new Set(whole.mapOf);
    for (const map of maps) {
      const part = maps.size === 1 ? whole : partOfMap(whole, map);
      own.mesh.addPrimitive(shared.of(instance, part, attribute('VEC2', part.uv)).setExtras({ basil: { map } }));
    }
  });
  // What was left behind is in no mesh any more.
  for (const node of document.getRoot().listNodes()) if (node.getMesh() && !meshes.has(node)) node.setMesh(null);
  const taken = new Set(names.values());
  const named = new Map<Node, string>();
  for (const [node, { mesh, name }] of meshes) {
    const own = names.get(node) ?? freeName(name, taken);
    node.setMesh(mesh).setSkin(null).setName(own);
    named.set(node, own);
  }
  return named;
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

/** Names of the materials that are to be shown without light (KHR_materials_unlit). */
const unlitMaterials = (document: Document): string[] =>
  document
    .getRoot()
    .listMaterials()
    .filter((m) => m.getExtension('KHR_materials_unlit'))
    .map((m) => m.getName());

/** The coarser forms of objects: those that the file lists, and those that are known by their names and places. */
function coarserForms(all: readonly Instance[], listed: ReadonlyMap<Node, Coarser>): Map<Node, Coarser> {
  const found = new Map([...listed, ...findByName(all, listed)]);
  const nodes = new Set(all.map((i) => i.node));
  // A form whose finest one is not there, or is a form of another, stands for itself.
  return new Map([...found].filter(([node, { of }]) => nodes.has(node) && nodes.has(of) && !found.has(of)));
}

/** Lays coarser forms on the charts of the finest. */
function layCoarser(
  all: readonly Instance[],
  coarser: ReadonlyMap<Node, Coarser>,
  instances: readonly Instance[],
  layout: Layout,
): LaidOut[] {
  if (coarser.size === 0) return [];
  const finest = new Map([...coarser.values()].map(({ of }) => [of, [] as LaidOut[]]));
  const coarse = new Map([...coarser.keys()].map((node) => [node, [] as Instance[]]));
  instances.forEach((instance, i) => finest.get(instance.node)?.push({ instance, charted: layout.instances[i]! }));
  for (const instance of all) coarse.get(instance.node)?.push(instance);
  return [...coarse].flatMap(([node, own]) =>
    borrowCharts(own, finest.get(coarser.get(node)!.of)!).map((charted, i) => ({ instance: own[i]!, charted })),
  );
}

/** Makes room for a layout of the level's extent, where the one that is asked for would not be baked on a common machine. */
export interface PrepareOptions extends LayoutOptions {
  /** Whether the density may be lowered. */
  propose?: boolean;
  /** The version before, as it was prepared with the same layout: what did not change since keeps its charts and its place on the maps. */
  before?: Uint8Array | null;
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

/** A way that a level may lie, and the layout that is proposed for it. */
export interface SeemingPlacing {
  placing: Placing;
  texelsPerM: number;
  densities: Record<string, number>;
}

function proposedFor(placing: Placing, options: LayoutOptions, areas: ReadonlyMap<string, number>): SeemingPlacing {
  const scaled = new Map([...areas].map(([name, area]) => [name, area * placing.metresPerUnit ** 2]));
  const { texelsPerM, densities = {} } = proposeLayout(options, scaled);
  return { placing, texelsPerM, densities };
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
  { propose = false, before = null, ...options }: PrepareOptions,
  progress: (share: number) => void = () => undefined,
): Promise<PreparedLevel> {
  for (const material of document.getRoot().listMaterials()) material.setName(safeName(material.getName()));
  const textures = await dropBrokenTextures(document);
  const { placing = AS_GLTF } = options;
  const listed = placeListed(document);
  placeLevel(document, placing);
  const { instances: all, left } = await readInstances(document);
  const coarser = coarserForms(all, listed);
  const read = all.filter(({ node }) => !coarser.has(node));
  const areas = areasOf(read, options);
  const seems = (options.placing ? [] : seemsPlaced(read)).map((p) => proposedFor(p, options, areas));
  const asked = propose ? proposeLayout(options, areas) : options;
  const { mapped = [] } = asked;
  const hasLightmap = lightmapFinder(mapped);
  const factorOf = ({ name, groups, material }: Instance) =>
    hasLightmap({ object: name, groups, material: material?.getName() ?? '' }) ? densityFactor({ name, groups }, asked) : 0;
  const kept = before && (await keepUnchanged(read, await readLevel(before)));
  const instances = (kept?.instances ?? read).map((i) => ({ ...i, density: i.density * factorOf(i) }));
  progress(0.1);
  const laidOut = (share: number) => progress(0.1 + 0.8 * share);
  const layout = await (kept
    ? layOutBeside(instances, kept.isKept, kept.maps, asked, laidOut)
    : layOut(instances, asked, readMaps(document), laidOut));
  progress(0.9);
  const summary = {
    ...summarize(document, instances, layout),
    finenesses: { objects: new Set([...coarser.values()].map((c) => c.of)).size, forms: coarser.size },
    left: { ...left, textures },
    seems,
    unlit: unlitMaterials(document),
    lights: readLights(document, placing),
  };
  const coarse = layCoarser(all, coarser, instances, layout);
  const named = writeInstances(
    document,
    [...instances, ...coarse.map((c) => c.instance)],
    [...layout.instances, ...coarse.map((c) => c.charted)],
    kept?.names,
  );
  for (const [node, { of, step, below }] of coarser)
    node.setExtras({ ...node.getExtras(), basil: { ...basilExtras(node.getExtras()), coarser: { of: named.get(of), step, below } } });
  useFirstUv(document);
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0]!;
  scene.setExtras({ ...scene.getExtras(), basil: { maps: layout.maps } });
  for (const extension of root.listExtensionsUsed()) if (DONE_WITH.has(extension.extensionName)) extension.dispose();
  await document.transform(
    dedup({ propertyTypes: ['Texture', 'Material'] as never[], keepUniqueNames: true }),
    prune({ keepAttributes: true, keepLeaves: true, keepSolidTextures: true }),
  );
  const changed = kept && [...named].flatMap(([node, name]) => (kept.names.has(node) || coarser.has(node) ? [] : [name]));
  const beside = kept && { changed: changed!, firstMap: kept.maps.length };
  return { glb: await writeLevel(document), summary, layout: asked, beside };
}
