import type { Document, Material as GltfMaterial, Texture as GltfTexture, TextureInfo } from '@gltf-transform/core';
import type { EmissiveStrength, Transform, Transmission } from '@gltf-transform/extensions';
import { decodeImage } from '../image';
import type { Rgb } from '../units';
import { isCoarser } from './finenesses';
import { basilExtras, isMirrored, readInstances } from './instances';
import type { MapSize, Material, Surfaces, Texture } from './types';

const PLAIN: Material = {
  name: 'plain',
  baseColor: [1, 1, 1],
  baseColorTexture: null,
  textureTransform: [1, 0, 0, 0, 1, 0],
  emission: [0, 0, 0],
  emissionTexture: null,
  holeBelowAlpha: null,
  alpha: 1,
  blended: false,
  transmission: 0,
  doubleSided: false,
};

/** KHR_texture_transform: translation times rotation times scale, as the rows of a 2 x 3 matrix. */
function textureTransform(info: TextureInfo | null): Material['textureTransform'] {
  const transform = info?.getExtension<Transform>('KHR_texture_transform');
  if (!transform) return PLAIN.textureTransform;
  const [[tx, ty], [sx, sy], angle] = [transform.getOffset(), transform.getScale(), transform.getRotation()];
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return [cos * sx, sin * sy, tx, -sin * sx, cos * sy, ty];
}

function readMaterial(material: GltfMaterial, textureOf: (t: GltfTexture | null) => number | null): Material {
  const strength = material.getExtension<EmissiveStrength>('KHR_materials_emissive_strength')?.getEmissiveStrength() ?? 1;
  const [r, g, b, alpha] = material.getBaseColorFactor();
  return {
    name: material.getName(),
    baseColor: [r, g, b],
    baseColorTexture: textureOf(material.getBaseColorTexture()),
    textureTransform: textureTransform(material.getBaseColorTextureInfo()),
    emission: material.getEmissiveFactor().map((v) => v * strength) as Rgb,
    emissionTexture: textureOf(material.getEmissiveTexture()),
    holeBelowAlpha: material.getAlphaMode() === 'MASK' ? material.getAlphaCutoff() : null,
    alpha,
    blended: material.getAlphaMode() === 'BLEND' && (alpha < 1 || material.getBaseColorTexture() !== null),
    transmission: material.getExtension<Transmission>('KHR_materials_transmission')?.getTransmissionFactor() ?? 0,
    doubleSided: material.getDoubleSided(),
  };
}

/** The lightmaps that a level says it was laid out for; none where Basil has not laid it out. */
export function readMaps(document: Document): MapSize[] {
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const { maps } = basilExtras(scene?.getExtras() ?? {});
  return Array.isArray(maps) ? (maps as MapSize[]) : [];
}

/**
 * Flattens a prepared level into the arrays that light is traced on. Metals reflect their base colour diffusely; what light goes through is thin, and
 * does not bend it.
 */
export async function readSurfaces(document: Document): Promise<Surfaces> {
  const { instances: all } = await readInstances(document);
  // Coarser forms of an object are drawn alone: they have the light of the finest.
  const instances = all.filter(({ node }) => !isCoarser(node));
  const gltfTextures: GltfTexture[] = [];
  const textureOf = (texture: GltfTexture | null) => {
    if (!texture) return null;
    if (!gltfTextures.includes(texture)) gltfTextures.push(texture);
    return gltfTextures.indexOf(texture);
  };
  const gltfMaterials = document.getRoot().listMaterials();
  const materials = [...gltfMaterials.map((m) => readMaterial(m, textureOf)), PLAIN];
  const textures: Texture[] = [];
  for (const texture of gltfTextures) {
    textures.push(
      await decodeImage(texture.getImage() ?? new Uint8Array(), `texture "${texture.getName() || texture.getURI() || textures.length}"`),
    );
  }

  const vertices = instances.reduce((sum, i) => sum + i.positions.length / 3, 0);
  const triangles = instances.reduce((sum, i) => sum + i.indices.length / 3, 0);
  const out: Surfaces = {
    positions: new Float32Array(vertices * 3),
    normals: new Float32Array(vertices * 3),
    uv: new Float32Array(vertices * 2),
    lightmapUv: new Float32Array(vertices * 2),
    colors: new Float32Array(vertices * 3).fill(1),
    indices: new Uint32Array(triangles * 3),
    materialOf: new Uint16Array(triangles),
    mapOf: new Uint16Array(triangles),
    objectOf: new Uint32Array(triangles),
    objects: [],
    groups: [],
    traced: null,
    materials,
    textures,
    maps: readMaps(document),
  };
  const numberOf = new Map<string, number>();
  let vertex = 0;
  let triangle = 0;
  for (const instance of instances) {
    const matrix = instance.node.getWorldMatrix();
    const mirrored = isMirrored(matrix);
    out.positions.set(instance.worldPositions, vertex * 3);
    writeWorldNormals(instance.normals, matrix, out.normals, vertex * 3);
    out.uv.set(instance.uv, vertex * 2);
    if (instance.uv2) out.lightmapUv.set(instance.uv2, vertex * 2);
    for (let v = 0; instance.colors && v < instance.colors.length / 4; v++) {
      out.colors.set(instance.colors.subarray(v * 4, v * 4 + 3), (vertex + v) * 3);
    }
    if (!numberOf.has(instance.name)) {
      numberOf.set(instance.name, out.objects.push(instance.name) - 1);
      out.groups.push(instance.groups);
    }
    const object = numberOf.get(instance.name)!;
    const material = instance.material ? gltfMaterials.indexOf(instance.material) : materials.length - 1;
    for (let t = 0; t < instance.indices.length; t += 3) {
      const corners = [instance.indices[t]!, instance.indices[t + 1]!, instance.indices[t + 2]!];
      if (mirrored) corners.reverse();
      out.indices.set(
        corners.map((v) => v + vertex),
        triangle * 3,
      );
      out.materialOf[triangle] = material;
      out.mapOf[triangle] = instance.map;
      out.objectOf[triangle] = object;
      triangle++;
    }
    vertex += instance.positions.length / 3;
  }
  return out;
}

/** Normals by the inverse transpose of the upper 3 x 3, written as cofactors so that flat scales keep a direction. */
function writeWorldNormals(normals: Float32Array, m: readonly number[], out: Float32Array, offset: number): void {
  const [a, b, c, d, e, f, g, h, i] = [m[0]!, m[1]!, m[2]!, m[4]!, m[5]!, m[6]!, m[8]!, m[9]!, m[10]!];
  const cofactors = [
    e * i - f * h,
    f * g - d * i,
    d * h - e * g,
    c * h - b * i,
    a * i - c * g,
    b * g - a * h,
    b * f - c * e,
    c * d - a * f,
    a * e - b * d,
  ];
  const sign = isMirrored(m) ? -1 : 1;
  for (let k = 0; k < normals.length; k += 3) {
    const [x, y, z] = [normals[k]!, normals[k + 1]!, normals[k + 2]!];
    const n = [0, 1, 2].map((r) => sign * (cofactors[r]! * x + cofactors[3 + r]! * y + cofactors[6 + r]! * z));
    const length = Math.hypot(n[0]!, n[1]!, n[2]!) || 1;
    for (let r = 0; r < 3; r++) out[offset + k + r] = n[r]! / length;
  }
}
