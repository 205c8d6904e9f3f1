import type { GLTF } from '@gltf-transform/core';
import { Failure } from '../units';
import { WrongTypes } from './checkTypes';

/** What a level may declare at the most: what a workstation of 8 GB can still light. */
const MOST = { vertices: 30_000_000, triangles: 20_000_000, nodes: 2_000_000 };
const BYTES: Readonly<Record<number, number>> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const NUMBERS: Readonly<Record<string, number>> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
const TRIANGLES = 4;
/** Bytes that attributes may declare without having them: they are all zeros. */
const EMPTY_BYTES = 1_000_000;

const DAMAGED = 'Export the level again; the file is damaged.';

function refuse(message: string, remedy = DAMAGED): never {
  throw new Failure('bad-input', message, remedy);
}

const large = (count: number) => count.toLocaleString('en').replace(/,/g, ' ');

/** What EXT_meshopt_compression says of a buffer view: where its bytes are, and how many elements they hold. */
interface Compression {
  buffer: number;
  byteOffset?: number;
  byteLength: number;
  byteStride: number;
  count: number;
}
const compressionOf = ({ extensions = {} }: GLTF.IBufferView): Compression | undefined => {
  const packed = Object.entries(extensions).find(([name]) => name.endsWith('meshopt_compression'))?.[1] as Compression | undefined;
  if (packed && [packed.buffer, packed.byteLength, packed.byteStride, packed.count].includes(undefined as never))
    throw new WrongTypes('a packed buffer view says too little');
  return packed;
};

/** Whether a list that a file declares has an item of a number. */
const has = (list: readonly unknown[] | undefined, index: number | undefined) => index === undefined || (list?.[index] ?? null) !== null;

/**
 * Checks what a glTF declares against what it holds, before anything is allocated for it: bounds of buffers and accessors, how many vertices
 * are promised and how many triangles are placed, and that nodes form a tree.
 *
 * @param bufferBytes sizes of the buffers that are at hand
 *
 * Throws a `bad-input` {@link Failure} that says what does not fit.
 */
export function checkDeclared(json: GLTF.IGLTF, bufferBytes: readonly number[]): void {
  (json.bufferViews ?? []).forEach((view, i) => {
    const { buffer, byteOffset = 0, byteLength } = compressionOf(view) ?? view;
    const size = bufferBytes[buffer];
    if (size === undefined) refuse(`Buffer view ${i} is of buffer ${buffer}, which is not there.`);
    if (!(byteOffset >= 0 && byteLength >= 0 && byteOffset + byteLength <= size))
      refuse(`Buffer view ${i} ends at byte ${byteOffset + byteLength} of ${size}.`);
  });
  const packed = new Set(
    (json.meshes ?? []).flatMap((mesh) =>
      mesh.primitives.flatMap((p) =>
        p.extensions && 'KHR_draco_mesh_compression' in p.extensions ? [...Object.values(p.attributes), p.indices] : [],
      ),
    ),
  );
  let empty = 0;
  (json.accessors ?? []).forEach((accessor, i) => {
    const { count, type, componentType, bufferView, byteOffset = 0, sparse } = accessor;
    // A type may be called as what every object has.
    const numbers = Object.hasOwn(NUMBERS, type) ? NUMBERS[type] : undefined;
    const bytes = BYTES[componentType];
    if (!numbers || !bytes || !Number.isInteger(count) || count < 0) refuse(`Accessor ${i} is of ${count} elements of no known type.`);
    if (count > MOST.vertices * 3) refuse(`Accessor ${i} declares ${large(count)} elements, more than any level that can be lit.`);
    if (bufferView === undefined) {
      if (!packed.has(i) && !sparse) empty += count * numbers * bytes;
      if (sparse && sparse.count > count) refuse(`Accessor ${i} replaces ${large(sparse.count)} of ${large(count)} elements.`);
      return;
    }
    const view = json.bufferViews?.[bufferView];
    if (!view) refuse(`Accessor ${i} is of buffer view ${bufferView}, which is not there.`);
    const compressed = compressionOf(view);
    const length = compressed ? compressed.count * compressed.byteStride : view.byteLength;
    const element = numbers * bytes;
    const stride = view.byteStride ?? compressed?.byteStride ?? element;
    if (count > 0 && byteOffset + stride * (count - 1) + element > length)
      refuse(
        `Accessor ${i} declares ${large(count)} elements, and its buffer view holds ${large(Math.max(0, Math.floor((length - byteOffset - element) / stride) + 1))}.`,
      );
  });
  if (empty > EMPTY_BYTES) refuse(`The level declares ${large(Math.round(empty / 1e6))} MB of attributes and brings no data for them.`);
  checkPlaced(json);
}

/** Checks that nodes form a tree, and what they place. */
function checkPlaced({ nodes = [], meshes = [], accessors = [], scenes = [] }: GLTF.IGLTF): void {
  if (nodes.length > MOST.nodes)
    refuse(`The level has ${large(nodes.length)} nodes; Basil takes up to ${large(MOST.nodes)}.`, 'Split the level.');
  for (const { primitives } of meshes) {
    for (const { attributes, indices } of primitives) {
      const missing = [...Object.values(attributes), indices].find((a) => !has(accessors, a));
      if (missing !== undefined) refuse(`A mesh refers to accessor ${missing} of ${accessors.length}.`);
    }
  }
  const parents = new Uint32Array(nodes.length);
  for (const root of new Set(scenes.flatMap((scene) => scene.nodes ?? []))) if (root < nodes.length) parents[root]!++;
  nodes.forEach(({ children = [], mesh }, i) => {
    if (!has(meshes, mesh)) refuse(`Node ${i} places mesh ${mesh} of ${meshes.length}.`);
    for (const child of children) {
      if (!nodes[child]) refuse(`Node ${i} has child ${child} of ${nodes.length}.`);
      if (++parents[child]! > 1) refuse(`Node ${child} has more than one parent.`);
    }
  });
  const trianglesOf = meshes.map(({ primitives }) =>
    primitives.reduce((sum, { mode = TRIANGLES, indices, attributes }) => {
      const corners = accessors[indices ?? attributes.POSITION ?? -1]?.count ?? 0;
      return sum + (mode === TRIANGLES ? corners / 3 : mode > TRIANGLES ? Math.max(0, corners - 2) : 0);
    }, 0),
  );
  const positions = new Set(meshes.flatMap(({ primitives }) => primitives.map((p) => p.attributes.POSITION)));
  const vertices = accessors.reduce((sum, { count }, i) => sum + (positions.has(i) ? count : 0), 0);
  if (vertices > MOST.vertices)
    refuse(
      `The level declares ${large(vertices)} vertices; Basil takes up to ${large(MOST.vertices)}.`,
      'Split the level, or export less of it.',
    );
  const reached = new Set<number>();
  const pending = scenes.flatMap((scene) => scene.nodes ?? []);
  let triangles = 0;
  while (pending.length > 0) {
    const at = pending.pop()!;
    const node = nodes[at];
    if (!node) refuse(`A scene holds node ${at} of ${nodes.length}.`);
    if (reached.has(at)) continue;
    reached.add(at);
    pending.push(...(node.children ?? []));
    const instancing = node.extensions?.EXT_mesh_gpu_instancing as { attributes?: Record<string, number> } | undefined;
    const copies = instancing ? Math.max(0, ...Object.values(instancing.attributes ?? {}).map((a) => accessors[a]?.count ?? 0)) : 1;
    triangles += node.mesh === undefined ? 0 : copies * trianglesOf[node.mesh]!;
  }
  if (triangles > MOST.triangles)
    refuse(
      `The level places ${large(Math.round(triangles))} triangles; Basil takes up to ${large(MOST.triangles)}.`,
      'Export fewer copies, or coarser ones.',
    );
}
