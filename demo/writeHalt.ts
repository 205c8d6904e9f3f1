import { Document, Logger, type Material, type Node, type Texture } from '@gltf-transform/core';
import { EXTMeshoptCompression } from '@gltf-transform/extensions';
import { dedup, reorder, weld } from '@gltf-transform/functions';
import { MeshoptEncoder } from 'meshoptimizer';
import type { BufferGeometry } from 'three';
import { levelIo } from '../core/level';
import { rgbFromHex } from '../core/units';
import { tamariskHalt } from './halt';
import { FINISHES, TEXTURES, type Finish, type FinishName } from './materials';

interface Flat {
  positions: Float32Array;
  normals: Float32Array;
  uv: Float32Array;
  /** Linear RGB of each corner; null where the material says it all. */
  colors: Float32Array | null;
}

/** Triangles of a part in one list, with the geometry's own texture coordinates or such as are projected along the main axis of each face. */
function flatten(shapes: BufferGeometry[], { tileM, own }: Finish): Flat {
  const positions: number[] = [];
  const normals: number[] = [];
  const uv: number[] = [];
  const colors: number[] = [];
  for (const shape of shapes) {
    if (!shape.getAttribute('normal')) shape.computeVertexNormals();
    const flat = shape.index ? shape.toNonIndexed() : shape;
    const [p, n] = [flat.getAttribute('position').array, flat.getAttribute('normal').array];
    const ownUv = own && flat.getAttribute('uv');
    const color = flat.hasAttribute('color') ? flat.getAttribute('color').array : null;
    for (let t = 0; t < p.length; t += 9) {
      const u = [p[t + 3]! - p[t]!, p[t + 4]! - p[t + 1]!, p[t + 5]! - p[t + 2]!];
      const v = [p[t + 6]! - p[t]!, p[t + 7]! - p[t + 1]!, p[t + 8]! - p[t + 2]!];
      const face = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!].map(Math.abs);
      if (Math.hypot(...face) < 1e-9) continue;
      const axis = face.indexOf(Math.max(...face));
      for (let k = 0; k < 9; k += 3) {
        const [x, y, z] = [p[t + k]!, p[t + k + 1]!, p[t + k + 2]!];
        positions.push(x, y, z);
        normals.push(n[t + k]!, n[t + k + 1]!, n[t + k + 2]!);
        if (color) colors.push(color[t + k]!, color[t + k + 1]!, color[t + k + 2]!);
        if (ownUv) uv.push(ownUv.getX((t + k) / 3), 1 - ownUv.getY((t + k) / 3));
        else uv.push((axis === 0 ? z : x) / tileM, (axis === 1 ? z : -y) / tileM);
      }
    }
  }
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    uv: Float32Array.from(uv),
    colors: colors.length > 0 ? Float32Array.from(colors) : null,
  };
}

/** Writes Tamarisk Halt as compressed binary glTF: named objects, metres, no lightmap coordinates of its own. */
export async function writeHalt(): Promise<Uint8Array> {
  const document = new Document().setLogger(new Logger(Logger.Verbosity.SILENT));
  const buffer = document.createBuffer();
  const scene = document.createScene('Tamarisk Halt');
  const textures = new Map<string, Texture>();
  for (const [name, make] of Object.entries(TEXTURES))
    textures.set(
      name,
      document
        .createTexture(name)
        .setMimeType('image/jpeg')
        .setImage(await make()),
    );
  const materials = new Map<FinishName, Material>();
  const materialOf = (name: FinishName) => {
    const finish: Finish = FINISHES[name];
    const known = materials.get(name);
    if (known) return known;
    const material = document
      .createMaterial(name)
      .setBaseColorFactor([...rgbFromHex(finish.tint ?? '#ffffff'), 1])
      .setBaseColorTexture(finish.texture ? textures.get(finish.texture)! : null)
      .setMetallicFactor(0)
      .setRoughnessFactor(finish.roughness ?? 0.9);
    materials.set(name, material);
    return material;
  };
  const groups = new Map<string, Node>();
  const under = (group: string): Node => {
    let node = groups.get(group);
    if (!node) {
      groups.set(group, (node = document.createNode(group)));
      scene.addChild(node);
    }
    return node;
  };
  for (const { name, finish, shapes, density, group } of tamariskHalt().list) {
    const { positions, normals, uv, colors } = flatten(shapes, FINISHES[finish]);
    const accessor = (type: 'VEC2' | 'VEC3', array: Float32Array) =>
      document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
    const primitive = document
      .createPrimitive()
      .setMaterial(materialOf(finish))
      .setAttribute('POSITION', accessor('VEC3', positions))
      .setAttribute('NORMAL', accessor('VEC3', normals))
      .setAttribute('TEXCOORD_0', accessor('VEC2', uv));
    if (colors) primitive.setAttribute('COLOR_0', accessor('VEC3', colors));
    const node = document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive));
    if (density !== 1) node.setExtras({ basil: { density } });
    if (group) under(group).addChild(node);
    else scene.addChild(node);
  }
  await MeshoptEncoder.ready;
  await document.transform(weld(), dedup(), reorder({ encoder: MeshoptEncoder }));
  document
    .createExtension(EXTMeshoptCompression)
    .setRequired(true)
    .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
  return (await levelIo()).writeBinary(document);
}
