import { Document, type Material } from '@gltf-transform/core';
import { KHRMaterialsEmissiveStrength } from '@gltf-transform/extensions';
import { levelIo, prepareLevel, readLevel, readSurfaces, type LayoutOptions, type Surfaces } from '../../core/level';

/** A flat rectangle: a corner and two edges; it faces along their cross product. */
export interface Quad {
  name: string;
  corner: [number, number, number];
  along: [number, number, number];
  up: [number, number, number];
  /** Diffuse reflectance of all three channels. */
  albedo?: number;
  color?: [number, number, number];
  /** Radiance emitted, cd/m2 in all three channels. */
  glow?: number;
  doubleSided?: boolean;
}

/** A closed room seen from inside: six quads that face inwards, from `min` to `max`. */
export function room(min: number, max: number, finish: Pick<Quad, 'albedo' | 'glow'>): Quad[] {
  const s = max - min;
  const quad = (name: string, corner: Quad['corner'], along: Quad['along'], up: Quad['up']): Quad => ({
    name,
    corner,
    along,
    up,
    ...finish,
  });
  return [
    quad('floor', [min, min, min], [0, 0, s], [s, 0, 0]),
    quad('ceiling', [min, max, min], [s, 0, 0], [0, 0, s]),
    quad('north', [min, min, min], [s, 0, 0], [0, s, 0]),
    quad('south', [min, min, max], [0, s, 0], [s, 0, 0]),
    quad('west', [min, min, min], [0, s, 0], [0, 0, s]),
    quad('east', [max, min, min], [0, 0, s], [0, s, 0]),
  ];
}

/** Quads that lie askew, beside a strip thinner than a texel. */
export const askew: Quad[] = [
  { name: 'slope', corner: [0, 0, 0], along: [3, 1, 0.5], up: [-0.6, 0.3, 3.3] },
  { name: 'strip', corner: [9, 0, 0], along: [0, 0, 6], up: [0.01, 0, 0] },
  { name: 'floor', corner: [20, 0, 0], along: [0, 0, 5], up: [5, 0, 0] },
];

/** A level of quads as a glTF document, without second UVs. */
export function quadDocument(quads: Quad[]): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  const emissive = document.createExtension(KHRMaterialsEmissiveStrength);
  for (const { name, corner, along, up, albedo = 0.5, color, glow = 0, doubleSided = false } of quads) {
    const at = (s: number, t: number) => [0, 1, 2].map((c) => corner[c]! + along[c]! * s + up[c]! * t);
    const positions = new Float32Array([...at(0, 0), ...at(1, 0), ...at(1, 1), ...at(0, 1)]);
    const material: Material = document
      .createMaterial(name)
      .setBaseColorFactor([...(color ?? [albedo, albedo, albedo]), 1] as [number, number, number, number])
      .setDoubleSided(doubleSided);
    if (glow > 0)
      material
        .setEmissiveFactor([1, 1, 1])
        .setExtension('KHR_materials_emissive_strength', emissive.createEmissiveStrength().setEmissiveStrength(glow));
    const primitive = document
      .createPrimitive()
      .setMaterial(material)
      .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(positions).setBuffer(buffer))
      .setIndices(
        document
          .createAccessor()
          .setType('SCALAR')
          .setArray(new Uint16Array([0, 1, 2, 0, 2, 3]))
          .setBuffer(buffer),
      );
    scene.addChild(document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive)));
  }
  return document;
}

/** A level of quads as binary glTF. */
export async function quadLevel(quads: Quad[]): Promise<Uint8Array> {
  return (await levelIo()).writeBinary(quadDocument(quads));
}

/** A level of quads, laid out and flattened, ready to be traced. */
export async function quadSurfaces(quads: Quad[], layout: LayoutOptions): Promise<Surfaces> {
  const { glb } = await prepareLevel(await readLevel(await quadLevel(quads)), layout);
  return readSurfaces(await readLevel(glb));
}
