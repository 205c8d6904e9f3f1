import type { Rgb } from '../units';

/** A texture as the transport reads it: linear RGB and alpha, 0..1, four floats a texel, top row first. */
export interface Texture {
  width: number;
  height: number;
  /** sRGB bytes, RGBA; decoded when looked up, to keep large levels small. */
  data: Uint8Array;
}

/** What light does at a surface. */
export interface Material {
  name: string;
  /** Diffuse reflectance factor, linear RGB 0..1. */
  baseColor: Rgb;
  baseColorTexture: number | null;
  /** Row-major 2 x 3 matrix on the texture coordinate (KHR_texture_transform). */
  textureTransform: [number, number, number, number, number, number];
  /** Radiance emitted, linear RGB in cd/m2 (emissive factor times KHR_materials_emissive_strength). */
  emission: Rgb;
  emissionTexture: number | null;
  /** The light of a bake that its emission goes into, where it is not that of all that glows by itself. */
  lightId?: string;
  /** Alpha under which the surface is not there (a mask), or null where it has no such holes. */
  holeBelowAlpha: number | null;
  alpha: number;
  /** Lets through the share of light that its alpha leaves. */
  blended: boolean;
  /** Share of the light that is not let through by alpha which goes through in the base colour (KHR_materials_transmission), 0..1. */
  transmission: number;
  doubleSided: boolean;
}

/** Stands for a lightmap where there is none: triangles that cast shadows and reflect light, and keep none of their own. */
export const NO_MAP = 0xffff;

/** One lightmap of a level, in texels. */
export interface MapSize {
  width: number;
  height: number;
}

/**
 * A level as flat arrays in level space (metres, Y up). Vertices are not shared between charts, so the vertices that
 * triangles share say which of them lie in one chart.
 */
export interface Surfaces {
  /** 3 per vertex. */
  positions: Float32Array;
  /** 3 per vertex, unit length. */
  normals: Float32Array;
  /** 2 per vertex: the coordinate of the base colour texture. */
  uv: Float32Array;
  /** 2 per vertex: the lightmap coordinate, 0..1, v = 0 at the top row. */
  lightmapUv: Float32Array;
  /** 3 per vertex: linear RGB factor on the base colour. */
  colors: Float32Array;
  /** 3 per triangle. */
  indices: Uint32Array;
  /** 1 per triangle. */
  materialOf: Uint16Array;
  /** 1 per triangle: which lightmap it lies in; {@link NO_MAP} for none. */
  mapOf: Uint16Array;
  /** 1 per triangle: which of `objects` it is part of. */
  objectOf: Uint32Array;
  /** Names of the level's objects, each once. */
  objects: string[];
  /** For each object: names of the nodes that it lies under. */
  groups: string[][];
  /** 1 per triangle: 0 where light passes it by its role; null where all are traced. */
  traced: Uint8Array | null;
  materials: Material[];
  textures: Texture[];
  maps: MapSize[];
}
