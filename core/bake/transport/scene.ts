import type { Material, Surfaces } from '../../level';
import { tracedIndices } from './tracedIndices';
import { buildTracer, openTracer, type Cutouts, type Tracer, type Tree } from '../../trace';
import { createPanes, isPane } from './panes';
import { decodeSrgb } from '../../units';

/** sRGB byte to linear. */
const LINEAR = Float32Array.from({ length: 256 }, (_, byte) => decodeSrgb(byte / 255));

/** A level with what is needed to follow light in it. */
export interface Scene {
  surfaces: Surfaces;
  tracer: Tracer;
  /**
   * What of light came through panes on the way of the ray that was asked last, as factors on its RGB: 1 where there were none. For
   * a ray that met something they may be over 1: they make up for those that were stopped.
   */
  passed: Float64Array;
  hasPanes: boolean;
  /** Geometric unit normal of a triangle, on the side its corners run anticlockwise on, into `out`. */
  faceNormal(triangle: number, out: Float64Array): void;
  /** Interpolated unit normal, on the same side as the geometric one, into `out`. */
  normal(triangle: number, u: number, v: number, out: Float64Array): void;
  /** Point on a triangle, into `out`. */
  point(triangle: number, u: number, v: number, out: Float64Array): void;
  /** Diffuse reflectance, linear RGB 0..1, into `out`. */
  albedo(triangle: number, u: number, v: number, out: Float64Array): void;
  /** Emitted radiance, linear RGB cd/m2, into `out`; false where there is none. */
  emission(triangle: number, u: number, v: number, out: Float64Array): boolean;
  doubleSided(triangle: number): boolean;
  /** {@link Scene.point}, {@link Scene.normal} and {@link Scene.faceNormal} at once; both normals turned round on the back. */
  stand(triangle: number, u: number, v: number, back: boolean, position: Float64Array, normal: Float64Array, face: Float64Array): void;
}

/** How far a ray starts off the surface it leaves, in metres: well over the rounding of 32-bit positions of this size. */
export function startOffset(x: number, y: number, z: number): number {
  return 2e-4 + 2e-6 * Math.max(Math.abs(x), Math.abs(y), Math.abs(z));
}

/** Prepares a level for tracing: the look-ups of materials, and its tree unless that is built already. */
export function createScene(surfaces: Surfaces, tree?: Tree): Scene {
  const { positions, normals, uv, colors, indices, materialOf, materials, textures } = surfaces;
  const texel = new Float64Array(4);
  const faces = faceNormals(surfaces);

  const interpolated = (data: Float32Array, size: number, c: number, triangle: number, u: number, v: number) => {
    const t = triangle * 3;
    const a = data[indices[t]! * size + c]!;
    return a + (data[indices[t + 1]! * size + c]! - a) * u + (data[indices[t + 2]! * size + c]! - a) * v;
  };

  /** Nearest texel, repeated over the plane: linear RGB and alpha into `texel`. */
  function lookUp(texture: number, material: Material, triangle: number, u: number, v: number): void {
    const { width, height, data } = textures[texture]!;
    const m = material.textureTransform;
    const a = indices[triangle * 3]! * 2;
    const b = indices[triangle * 3 + 1]! * 2;
    const c = indices[triangle * 3 + 2]! * 2;
    const w = 1 - u - v;
    const s = w * uv[a]! + u * uv[b]! + v * uv[c]!;
    const t = w * uv[a + 1]! + u * uv[b + 1]! + v * uv[c + 1]!;
    const x = wrap(m[0] * s + m[1] * t + m[2], width);
    const y = wrap(m[3] * s + m[4] * t + m[5], height);
    const at = (y * width + x) * 4;
    texel[0] = LINEAR[data[at]!]!;
    texel[1] = LINEAR[data[at + 1]!]!;
    texel[2] = LINEAR[data[at + 2]!]!;
    texel[3] = data[at + 3]! / 255;
  }

  /** Alpha of a material at a point; its base colour's texture is left in `texel`. */
  function alphaAt(material: Material, triangle: number, u: number, v: number): number {
    if (material.baseColorTexture === null) return material.alpha;
    lookUp(material.baseColorTexture, material, triangle, u, v);
    return texel[3]! * material.alpha;
  }

  const panes = createPanes((triangle, u, v, through) => {
    const material = materials[materialOf[triangle]!]!;
    const alpha = alphaAt(material, triangle, u, v);
    const there = material.blended ? alpha : 1;
    for (let c = 0; c < 3; c++) {
      const color = material.baseColor[c]! * (material.baseColorTexture === null ? 1 : texel[c]!);
      through[c] = 1 - there + there * material.transmission * color;
    }
  });
  const hasPanes = materials.some(isPane);

  function isHole(triangle: number, u: number, v: number): boolean {
    const material = materials[materialOf[triangle]!]!;
    if (material.holeBelowAlpha !== null && alphaAt(material, triangle, u, v) < material.holeBelowAlpha) return true;
    return isPane(material) && panes.isPassed(triangle, u, v);
  }

  const has = mayBeHoles(surfaces);
  const holes: Pick<Cutouts, 'isHole' | 'through'> = hasPanes ? { isHole, through: panes.through } : { isHole };
  const own = tree
    ? openTracer(tree, holes)
    : buildTracer(positions, tracedIndices(surfaces), has.includes(1) ? ({ has, ...holes } satisfies Cutouts) : undefined);
  const scene: Scene = {
    surfaces,
    tracer: hasPanes ? panes.over(own, (triangle, u, v, out) => scene.point(triangle, u, v, out)) : own,
    passed: panes.passed,
    hasPanes,
    faceNormal(triangle, out) {
      for (let c = 0; c < 3; c++) out[c] = faces[triangle * 3 + c]!;
    },
    normal(triangle, u, v, out) {
      for (let c = 0; c < 3; c++) out[c] = interpolated(normals, 3, c, triangle, u, v);
      outwards(out, faces, triangle * 3);
    },
    stand(triangle, u, v, back, position, normal, face) {
      const a = indices[triangle * 3]! * 3;
      const b = indices[triangle * 3 + 1]! * 3;
      const c = indices[triangle * 3 + 2]! * 3;
      const w = 1 - u - v;
      for (let k = 0; k < 3; k++) {
        position[k] = w * positions[a + k]! + u * positions[b + k]! + v * positions[c + k]!;
        normal[k] = w * normals[a + k]! + u * normals[b + k]! + v * normals[c + k]!;
        face[k] = faces[triangle * 3 + k]!;
      }
      outwards(normal, faces, triangle * 3);
      if (!back) return;
      for (let k = 0; k < 3; k++) {
        normal[k] = -normal[k]!;
        face[k] = -face[k]!;
      }
    },
    point(triangle, u, v, out) {
      for (let c = 0; c < 3; c++) out[c] = interpolated(positions, 3, c, triangle, u, v);
    },
    albedo(triangle, u, v, out) {
      const material = materials[materialOf[triangle]!]!;
      const { baseColor, baseColorTexture } = material;
      const a = indices[triangle * 3]! * 3;
      const b = indices[triangle * 3 + 1]! * 3;
      const c = indices[triangle * 3 + 2]! * 3;
      const w = 1 - u - v;
      if (baseColorTexture !== null) lookUp(baseColorTexture, material, triangle, u, v);
      for (let k = 0; k < 3; k++) {
        const value = baseColor[k]! * (w * colors[a + k]! + u * colors[b + k]! + v * colors[c + k]!);
        out[k] = Math.min(1, Math.max(0, baseColorTexture === null ? value : value * texel[k]!));
      }
      if (material.transmission > 0) reflectedOfPane(out, material.transmission);
    },
    emission(triangle, u, v, out) {
      const material = materials[materialOf[triangle]!]!;
      const [r, g, b] = material.emission;
      if (r === 0 && g === 0 && b === 0) return false;
      out.set(material.emission);
      if (material.emissionTexture !== null) {
        lookUp(material.emissionTexture, material, triangle, u, v);
        for (let c = 0; c < 3; c++) out[c]! *= texel[c]!;
      }
      return true;
    },
    doubleSided: (triangle) => materials[materialOf[triangle]!]!.doubleSided,
  };
  return scene;
}

/**
 * What a pane that lets light through in its base colour reflects of what it stops: of a ray that met it, as light is passed on by the strongest
 * of its three shares.
 */
function reflectedOfPane(color: Float64Array, transmission: number): void {
  const stopped = 1 - transmission * Math.max(color[0]!, color[1]!, color[2]!);
  for (let c = 0; c < 3; c++) color[c] = stopped > 0 ? Math.min(1, ((1 - transmission) * color[c]!) / stopped) : 0;
}

/** 1 for each triangle that rays may pass, at some points or by chance. */
export const mayBeHoles = ({ materials, materialOf }: Surfaces): Uint8Array => {
  const may = materials.map((m) => (m.holeBelowAlpha !== null || isPane(m) ? 1 : 0));
  return Uint8Array.from(materialOf, (m) => may[m]!);
};

/** Flat unit normals, 3 per triangle. */
function faceNormals({ positions, indices }: Surfaces): Float64Array {
  const out = new Float64Array(indices.length);
  const own = new Float64Array(3);
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
    const [ux, uy, uz] = [0, 1, 2].map((k) => positions[b + k]! - positions[a + k]!) as [number, number, number];
    const [vx, vy, vz] = [0, 1, 2].map((k) => positions[c + k]! - positions[a + k]!) as [number, number, number];
    own[0] = uy * vz - uz * vy;
    own[1] = uz * vx - ux * vz;
    own[2] = ux * vy - uy * vx;
    toUnit(own);
    out.set(own, t);
  }
  return out;
}

/** Brings a normal to unit length, on the side of the flat one at a place of `faces`. */
function outwards(normal: Float64Array, faces: Float64Array, at: number): void {
  toUnit(normal);
  const side = normal[0]! * faces[at]! + normal[1]! * faces[at + 1]! + normal[2]! * faces[at + 2]!;
  if (side > 0) return;
  for (let c = 0; c < 3; c++) normal[c] = side < 0 ? -normal[c]! : faces[at + c]!;
}

function wrap(coordinate: number, size: number): number {
  const cell = Math.floor((coordinate - Math.floor(coordinate)) * size);
  return cell < size ? cell : size - 1;
}

function toUnit(v: Float64Array): void {
  // Math.hypot guards against overflow, which lengths in metres do not need, and is many times slower.
  const length = Math.sqrt(v[0]! * v[0]! + v[1]! * v[1]! + v[2]! * v[2]!);
  if (!(length > 0)) return;
  v[0]! /= length;
  v[1]! /= length;
  v[2]! /= length;
}
