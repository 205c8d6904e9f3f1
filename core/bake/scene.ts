import type { Material, Surfaces } from '../level';
import { buildTracer, type Cutouts, type Tracer } from '../trace';
import { decodeSrgb } from '../units';

/** sRGB byte to linear. */
const LINEAR = Float32Array.from({ length: 256 }, (_, byte) => decodeSrgb(byte / 255));

/** A level with what is needed to follow light in it. */
export interface Scene {
  surfaces: Surfaces;
  tracer: Tracer;
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
}

/** How far a ray starts off the surface it leaves, in metres: well over the rounding of 32-bit positions of this size. */
export function startOffset(x: number, y: number, z: number): number {
  return 2e-4 + 2e-6 * Math.max(Math.abs(x), Math.abs(y), Math.abs(z));
}

/** Prepares a level for tracing: builds its tree and the look-ups of materials. */
export function createScene(surfaces: Surfaces): Scene {
  const { positions, normals, uv, colors, indices, materialOf, materials, textures } = surfaces;
  const texel = new Float64Array(4);
  const face = new Float64Array(3);

  const interpolated = (data: Float32Array, size: number, c: number, triangle: number, u: number, v: number) => {
    const t = triangle * 3;
    const a = data[indices[t]! * size + c]!;
    return a + (data[indices[t + 1]! * size + c]! - a) * u + (data[indices[t + 2]! * size + c]! - a) * v;
  };

  /** Nearest texel, repeated over the plane: linear RGB and alpha into `texel`. */
  function lookUp(texture: number, material: Material, triangle: number, u: number, v: number): void {
    const { width, height, data } = textures[texture]!;
    const m = material.textureTransform;
    const s = interpolated(uv, 2, 0, triangle, u, v);
    const t = interpolated(uv, 2, 1, triangle, u, v);
    const x = wrap(m[0] * s + m[1] * t + m[2], width);
    const y = wrap(m[3] * s + m[4] * t + m[5], height);
    const at = (y * width + x) * 4;
    texel[0] = LINEAR[data[at]!]!;
    texel[1] = LINEAR[data[at + 1]!]!;
    texel[2] = LINEAR[data[at + 2]!]!;
    texel[3] = data[at + 3]! / 255;
  }

  function isHole(triangle: number, u: number, v: number): boolean {
    const material = materials[materialOf[triangle]!]!;
    if (material.baseColorTexture === null) return material.alpha < material.holeBelowAlpha!;
    lookUp(material.baseColorTexture, material, triangle, u, v);
    return texel[3]! * material.alpha < material.holeBelowAlpha!;
  }

  const cutouts: Cutouts = { has: Uint8Array.from(materialOf, (m) => (materials[m]!.holeBelowAlpha === null ? 0 : 1)), isHole };
  const scene: Scene = {
    surfaces,
    tracer: buildTracer(positions, indices, cutouts.has.includes(1) ? cutouts : undefined),
    faceNormal(triangle, out) {
      const [a, b, c] = [indices[triangle * 3]! * 3, indices[triangle * 3 + 1]! * 3, indices[triangle * 3 + 2]! * 3];
      const ux = positions[b]! - positions[a]!;
      const uy = positions[b + 1]! - positions[a + 1]!;
      const uz = positions[b + 2]! - positions[a + 2]!;
      const vx = positions[c]! - positions[a]!;
      const vy = positions[c + 1]! - positions[a + 1]!;
      const vz = positions[c + 2]! - positions[a + 2]!;
      out[0] = uy * vz - uz * vy;
      out[1] = uz * vx - ux * vz;
      out[2] = ux * vy - uy * vx;
      toUnit(out);
    },
    normal(triangle, u, v, out) {
      scene.faceNormal(triangle, face);
      for (let c = 0; c < 3; c++) out[c] = interpolated(normals, 3, c, triangle, u, v);
      toUnit(out);
      const side = out[0]! * face[0]! + out[1]! * face[1]! + out[2]! * face[2]!;
      if (side < 0) for (let c = 0; c < 3; c++) out[c] = -out[c]!;
      else if (!(side > 0)) out.set(face);
    },
    point(triangle, u, v, out) {
      for (let c = 0; c < 3; c++) out[c] = interpolated(positions, 3, c, triangle, u, v);
    },
    albedo(triangle, u, v, out) {
      const material = materials[materialOf[triangle]!]!;
      for (let c = 0; c < 3; c++) out[c] = material.baseColor[c]! * interpolated(colors, 3, c, triangle, u, v);
      if (material.baseColorTexture !== null) {
        lookUp(material.baseColorTexture, material, triangle, u, v);
        for (let c = 0; c < 3; c++) out[c]! *= texel[c]!;
      }
      for (let c = 0; c < 3; c++) out[c] = Math.min(1, Math.max(0, out[c]!));
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
