import { type Document, type Material, type Node, type Primitive, type vec2 } from '@gltf-transform/core';
import type { MappingList } from '@gltf-transform/extensions';
import { convertPrimitiveToTriangles, uninstance } from '@gltf-transform/functions';
import { Failure } from '../units';
import { NO_MAP } from './types';

/** One primitive as one node places it, as plain arrays. */
export interface Instance {
  node: Node;
  primitive: Primitive;
  /** The node's name, its mesh's, or a number. */
  name: string;
  /** Names of the nodes that it lies under. */
  groups: string[];
  material: Material | null;
  /** The materials that it has in variants of the file (KHR_materials_variants). */
  variants: MappingList | null;
  /** Level space, metres; 3 per vertex. */
  worldPositions: Float32Array;
  /** The node's own space. */
  positions: Float32Array;
  normals: Float32Array;
  /** Coordinates of the base colour texture; zeros where there are none. */
  uv: Float32Array;
  /** Second UV set, or null where the file has none. */
  uv2: Float32Array | null;
  /** Linear RGBA vertex colours, 4 per vertex, or null. */
  colors: Float32Array | null;
  indices: Uint32Array;
  /** Factor on the level's texel density, from the node's extras `{ "basil": { "density": 0.25 } }`; 1 by default. */
  density: number;
  /** Triangles without area that were left out. */
  flat: number;
  /** Lightmap that a level already laid out by Basil says this primitive lies in; {@link NO_MAP} for none. */
  map: number;
}

/** Materials that a file offers besides those it shows. */
export const VARIANTS = 'KHR_materials_variants';

const TRIANGLES = 4;

/** All elements of an attribute as floats (normalised integers decoded), or null where the primitive has none. */
function floats(primitive: Primitive, semantic: string, size: number): Float32Array | null {
  const accessor = primitive.getAttribute(semantic);
  if (!accessor) return null;
  const out = new Float32Array(accessor.getCount() * size);
  const element: number[] = [];
  for (let i = 0; i < accessor.getCount(); i++) {
    accessor.getElement(i, element);
    for (let c = 0; c < size; c++) out[i * size + c] = element[c] ?? 1;
  }
  return out;
}

function transformed(positions: Float32Array, m: readonly number[]): Float32Array {
  const out = new Float32Array(positions.length);
  for (let i = 0; i < positions.length; i += 3) {
    const [x, y, z] = [positions[i]!, positions[i + 1]!, positions[i + 2]!];
    for (let c = 0; c < 3; c++) out[i + c] = m[c]! * x + m[4 + c]! * y + m[8 + c]! * z + m[12 + c]!;
  }
  return out;
}

/** glTF 2.0, 3.7.2.1: without normals each triangle is flat, so its corners must be its own. */
function withFlatNormals(instance: Instance): Instance {
  const spread = (source: Float32Array, size: number) => {
    const out = new Float32Array(instance.indices.length * size);
    instance.indices.forEach((v, k) => out.set(source.subarray(v * size, v * size + size), k * size));
    return out;
  };
  const positions = spread(instance.positions, 3);
  const normals = new Float32Array(positions.length);
  for (let k = 0; k < positions.length; k += 9) {
    const p = positions.subarray(k, k + 9);
    const a = [p[3]! - p[0]!, p[4]! - p[1]!, p[5]! - p[2]!];
    const b = [p[6]! - p[0]!, p[7]! - p[1]!, p[8]! - p[2]!];
    const n = [a[1]! * b[2]! - a[2]! * b[1]!, a[2]! * b[0]! - a[0]! * b[2]!, a[0]! * b[1]! - a[1]! * b[0]!];
    const length = Math.hypot(n[0]!, n[1]!, n[2]!) || 1;
    for (let c = 0; c < 9; c++) normals[k + c] = n[c % 3]! / length;
  }
  return {
    ...instance,
    positions,
    normals,
    worldPositions: spread(instance.worldPositions, 3),
    uv: spread(instance.uv, 2),
    uv2: instance.uv2 && spread(instance.uv2, 2),
    colors: instance.colors && spread(instance.colors, 4),
    indices: Uint32Array.from({ length: instance.indices.length }, (_, i) => i),
  };
}

/** Plain numbers under "basil" in the extras of a node or primitive. */
export function basilExtras(extras: Record<string, unknown>): Record<string, unknown> {
  const own = extras.basil;
  return typeof own === 'object' && own !== null ? (own as Record<string, unknown>) : {};
}

const fail = (message: string): never => {
  throw new Failure('bad-input', message, 'Mend that object and export the level again.');
};

/** Furthest that a corner may lie from the origin along an axis, metres. */
const FARTHEST_M = 1e7;

/** Twice the area under which a triangle has none, square metres: it carries no light, and no chart can be made for it. */
const FLAT_M2 = 2e-10;

/** Corners of those triangles that have an area. */
function withArea(p: Float32Array, indices: Uint32Array): Uint32Array {
  let kept = 0;
  const out = new Uint32Array(indices.length);
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
    const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    if (!(Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) > FLAT_M2)) continue;
    out.set(indices.subarray(t, t + 3), kept);
    kept += 3;
  }
  return kept === indices.length ? indices : out.slice(0, kept);
}

/** Names of the nodes over a node, the nearest first. */
function groupsOf(node: Node): string[] {
  const names: string[] = [];
  for (let parent = node.getParentNode(); parent; parent = parent.getParentNode()) if (parent.getName()) names.push(parent.getName());
  return names;
}

function readInstance(node: Node, primitive: Primitive, name: string): Instance {
  if (primitive.getMode() !== TRIANGLES) convertPrimitiveToTriangles(primitive);
  const positions = floats(primitive, 'POSITION', 3) ?? new Float32Array();
  const count = positions.length / 3;
  const indices = primitive.getIndices()?.getArray();
  const allIndices = indices ? Uint32Array.from(indices) : Uint32Array.from({ length: count - (count % 3) }, (_, i) => i);
  for (const i of allIndices) if (i >= count) fail(`"${name}" refers to vertex ${i} of ${count}.`);
  const bad = positions.findIndex((v) => !Number.isFinite(v));
  if (bad >= 0) fail(`"${name}" has a vertex (number ${Math.floor(bad / 3)}) that is not at a finite place.`);
  const worldPositions = transformed(positions, node.getWorldMatrix());
  if (worldPositions.some((v) => !Number.isFinite(v))) fail(`"${name}" is placed by a transform that is not finite.`);
  if (worldPositions.some((v) => Math.abs(v) > FARTHEST_M))
    fail(`"${name}" reaches further than ${FARTHEST_M / 1000} km from the level's origin.`);
  const kept = withArea(worldPositions, allIndices);
  const material = primitive.getMaterial();
  const texCoord = material?.getBaseColorTextureInfo()?.getTexCoord() ?? 0;
  const { density } = basilExtras(node.getExtras());
  const { map } = basilExtras(primitive.getExtras());
  const stored = floats(primitive, 'NORMAL', 3);
  const normals = stored?.every(Number.isFinite) ? stored : null;
  const instance: Instance = {
    node,
    primitive,
    variants: primitive.getExtension<MappingList>(VARIANTS),
    name,
    groups: groupsOf(node),
    material,
    positions,
    worldPositions,
    normals: normals ?? positions,
    uv: floats(primitive, `TEXCOORD_${texCoord}`, 2) ?? new Float32Array(count * 2),
    uv2: floats(primitive, 'TEXCOORD_1', 2),
    colors: floats(primitive, 'COLOR_0', 4),
    indices: kept,
    flat: (allIndices.length - kept.length) / 3,
    density: typeof density === 'number' && density > 0 && density <= 16 ? density : 1,
    map: typeof map === 'number' && Number.isInteger(map) && ((map >= 0 && map < 4096) || map === NO_MAP) ? map : 0,
  };
  return normals ? instance : withFlatNormals(instance);
}

/** Scales and shears turn normals differently from points; the corner order flips where a node mirrors. */
export function isMirrored(m: readonly number[]): boolean {
  const [a, b, c, d, e, f, g, h, i] = [m[0]!, m[1]!, m[2]!, m[4]!, m[5]!, m[6]!, m[8]!, m[9]!, m[10]!];
  return a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g) < 0;
}

/** What of a level could not be read, or carries no light. */
export interface LeftBehind {
  /** Triangles without area, and how many objects had some. */
  flat: { triangles: number; objects: number };
  /** Objects with damaged geometry, and what is wrong with each, in a sentence. */
  damaged: { object: string; fault: string }[];
}

/** Longest name that is kept. */
const NAME = 300;

/** A name by which an object is known: of a length that can be kept, and none that every object of the language has as a key. */
export const safeName = (name: string): string => (name in Object.prototype ? `${name} (2)` : name.slice(0, NAME));

/**
 * Every triangle primitive of the level's default scene, once for each node that places it. Skins and morph targets
 * keep their rest pose; points and lines carry no light and are passed over; what is damaged is left behind.
 * Throws a `bad-input` {@link Failure} where there is nothing else.
 */
export async function readInstances(document: Document): Promise<{ instances: Instance[]; left: LeftBehind }> {
  await document.transform(uninstance());
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const instances: Instance[] = [];
  const left: LeftBehind = { flat: { triangles: 0, objects: 0 }, damaged: [] };
  scene?.traverse((node) => {
    const mesh = node.getMesh();
    for (const primitive of mesh?.listPrimitives() ?? []) {
      if (primitive.getMode() < TRIANGLES || !primitive.getAttribute('POSITION')) continue;
      const name = safeName(node.getName() || mesh!.getName() || `object ${instances.length + 1}`);
      try {
        const instance = readInstance(node, primitive, name);
        if (instance.flat > 0) {
          left.flat.triangles += instance.flat;
          left.flat.objects++;
        }
        if (instance.indices.length > 0) instances.push(instance);
      } catch (error) {
        if (!(error instanceof Failure)) throw error;
        left.damaged.push({ object: name, fault: error.message });
      }
    }
  });
  if (instances.length === 0) {
    const [first] = left.damaged;
    if (first) fail(first.fault);
    throw new Failure('bad-input', 'The level holds no triangles to light.', 'Export at least one mesh in its default scene.');
  }
  return { instances, left };
}

/** The elements of `data` (of `size` numbers each) that `source` names, in its order. */
export function pick(source: Uint32Array, data: Float32Array, size: number): Float32Array {
  const out = new Float32Array(source.length * size);
  source.forEach((from, to) => {
    for (let c = 0; c < size; c++) out[to * size + c] = data[from * size + c]!;
  });
  return out;
}

/** Area in square metres of each triangle's instance as it lies in the level. */
export function worldArea({ worldPositions: p, indices }: Instance): number {
  let sum = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
    const u = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const v = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    sum += Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!) / 2;
  }
  return sum;
}

/** Signed-free area that an instance takes up in a UV set, in UV units squared. */
export function uvArea(uv: Float32Array, indices: Uint32Array): number {
  let sum = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const corner = (k: number): vec2 => [uv[indices[t + k]! * 2]!, uv[indices[t + k]! * 2 + 1]!];
    const [a, b, c] = [corner(0), corner(1), corner(2)];
    sum += Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 2;
  }
  return sum;
}
