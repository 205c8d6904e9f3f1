import { turnBy, type Turn, type Vec3 } from '../units';
import { NO_MAP, type Material, type Surfaces } from './types';

/** Geometry that stands in a level besides its own: a part of it once more, or a model of its own. */
export interface PlacedModel extends Turn {
  surfaces: Surfaces;
  /** Object of `surfaces` to take; null for all of them. */
  object: string | null;
  /** The point of `surfaces` that comes to stand at `at`. */
  pivot: Vec3;
  at: Vec3;
}

/** The triangles of one object, or all. */
function trianglesOf({ objects, objectOf }: Surfaces, object: string | null): number[] {
  const wanted = object === null ? -1 : objects.indexOf(object);
  const own: number[] = [];
  objectOf.forEach((o, t) => {
    if (object === null || o === wanted) own.push(t);
  });
  return own;
}

const grown = <T extends Float32Array | Uint32Array | Uint16Array>(array: T, by: number): T => {
  const out = new (array.constructor as new (length: number) => T)(array.length + by);
  out.set(array);
  return out;
};

/**
 * A level with models standing in it. They cast shadows and reflect light, but have no lightmap of their own; the level's own
 * triangles keep their numbers.
 */
export function addModels(level: Surfaces, models: readonly PlacedModel[]): Surfaces {
  if (models.length === 0) return level;
  const parts = models.map((model) => ({ model, triangles: trianglesOf(model.surfaces, model.object) }));
  const added = parts.reduce((sum, p) => sum + p.triangles.length, 0);
  const out: Surfaces = {
    positions: grown(level.positions, added * 9),
    normals: grown(level.normals, added * 9),
    uv: grown(level.uv, added * 6),
    lightmapUv: grown(level.lightmapUv, added * 6),
    colors: grown(level.colors, added * 9),
    indices: grown(level.indices, added * 3),
    materialOf: grown(level.materialOf, added),
    mapOf: grown(level.mapOf, added),
    objectOf: grown(level.objectOf, added),
    objects: [...level.objects, 'models of fixtures'],
    groups: [...level.groups, []],
    traced: null,
    materials: [...level.materials],
    textures: [...level.textures],
    maps: level.maps,
  };
  const firstMaterial = new Map<Material[], number>([[level.materials, 0]]);
  let triangle = level.materialOf.length;
  let vertex = level.positions.length / 3;
  for (const { model, triangles } of parts) {
    const { surfaces, pivot, at } = model;
    if (!firstMaterial.has(surfaces.materials)) {
      firstMaterial.set(surfaces.materials, out.materials.length);
      const shift = (texture: number | null) => (texture === null ? null : texture + out.textures.length);
      out.materials.push(
        ...surfaces.materials.map((m) => ({
          ...m,
          baseColorTexture: shift(m.baseColorTexture),
          emissionTexture: shift(m.emissionTexture),
        })),
      );
      out.textures.push(...surfaces.textures);
    }
    for (const t of triangles) {
      for (let k = 0; k < 3; k++, vertex++) {
        const v = surfaces.indices[t * 3 + k]!;
        const p = surfaces.positions.subarray(v * 3, v * 3 + 3);
        const moved = turnBy([p[0]! - pivot[0], p[1]! - pivot[1], p[2]! - pivot[2]], model);
        const n = surfaces.normals.subarray(v * 3, v * 3 + 3);
        out.positions.set([moved[0] + at[0], moved[1] + at[1], moved[2] + at[2]], vertex * 3);
        out.normals.set(turnBy([n[0]!, n[1]!, n[2]!], model), vertex * 3);
        out.uv.set(surfaces.uv.subarray(v * 2, v * 2 + 2), vertex * 2);
        out.colors.set(surfaces.colors.subarray(v * 3, v * 3 + 3), vertex * 3);
        out.indices[triangle * 3 + k] = vertex;
      }
      out.materialOf[triangle] = firstMaterial.get(surfaces.materials)! + surfaces.materialOf[t]!;
      out.mapOf[triangle] = NO_MAP;
      out.objectOf[triangle] = level.objects.length;
      triangle++;
    }
  }
  return out;
}
