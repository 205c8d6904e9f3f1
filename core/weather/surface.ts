import { smoothstep, type Rgb, type Vec3 } from '../units';
import type { Ground } from './ground';
import type { MaterialShares } from './materials';
import { WATER_INDEX, wetAlbedo } from './water';

/** Share of light that fresh snow reflects, and dry dust, linear RGB. */
export const SNOW_ALBEDO: Rgb = [0.83, 0.85, 0.88];
export const DUST_ALBEDO: Rgb = [0.52, 0.4, 0.27];

/** A surface that weather may lie on. */
export interface OpenSurface {
  /** In the level, metres, and the unit normal there. */
  place: Readonly<Vec3>;
  normal: Readonly<Vec3>;
  /** Diffuse reflectance when dry, linear RGB. */
  albedo: Readonly<Rgb>;
  /** Share in which it lies under the open sky: 0 under a roof. */
  open: number;
  /** What its material takes. */
  shares: MaterialShares;
}

/** A surface with what lies on it. */
export interface WeatheredSurface {
  albedo: Rgb;
  /** Share in which it mirrors as water does, before Fresnel's law. */
  mirror: number;
  /** Of what mirrors: upright where a puddle stands. */
  normal: Vec3;
}

/** A number of 0..1 for a cell of a grid: the same in TypeScript and GLSL, for it is made of whole numbers alone. */
function cellHash(x: number, y: number): number {
  let h = Math.imul(x, 0x85ebca6b) ^ Math.imul(y, 0xc2b2ae35);
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d);
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b);
  h ^= h >>> 16;
  return (h >>> 8) / 0x1000000;
}

/** Value noise over a plane, 0..1, a cell for each unit. */
export function groundNoise(x: number, y: number): number {
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const ease = (t: number) => t * t * (3 - 2 * t);
  const [fx, fy] = [ease(x - i), ease(y - j)];
  const row = (k: number) => cellHash(i, k) + (cellHash(i + 1, k) - cellHash(i, k)) * fx;
  return row(j) + (row(j + 1) - row(j)) * fy;
}

const mix = (a: number, b: number, t: number) => a + (b - a) * t;

/**
 * What rain, snow and dust have made of a surface: a film of water darkens it (Angstrom 1925), hollows fill first, snow covers what faces up, and
 * all above the snow line. The picture has the same in GLSL ({@link WEATHERED_GLSL}).
 *
 * @param snowLine height over which snow lies, and the height over which it begins there, metres
 */
export function weatheredSurface(
  { place, normal, albedo, open, shares }: OpenSurface,
  ground: Ground,
  snowLine: { heightM: number; softM: number } | null,
): WeatheredSurface {
  const rise = normal[1];
  const [x, y] = [place[0] + place[1] * 0.31, place[2] + place[1] * 0.57];
  const coarse = groundNoise(x * 0.45, y * 0.45) * 0.65 + groundNoise(x * 1.7, y * 1.7) * 0.35;
  const fine = groundNoise(x * 5, y * 5) * 0.6 + groundNoise(x * 13, y * 13) * 0.4;
  const wet = shares.wet * open * ground.wet * mix(0.35, 1, smoothstep(-0.3, 0.5, rise)) * smoothstep(-0.75, -0.35, rise);
  const stands = ground.puddles * shares.puddles * open;
  const hollow = 1 - stands * 0.62;
  const puddle = stands <= 0 ? 0 : smoothstep(hollow, hollow + 0.06, coarse + 0.06 * fine) * smoothstep(0.94, 0.985, rise);
  const above = snowLine ? smoothstep(snowLine.heightM, snowLine.heightM + snowLine.softM, place[1] + 2 * (coarse - 0.5)) : 0;
  const lies = Math.max(ground.snow, above) * shares.snow * open;
  const cover = coarse * 0.55 + fine * 0.45;
  const snow = lies <= 0 ? 0 : smoothstep(1 - 1.15 * lies, 1.22 - 1.15 * lies, cover) * smoothstep(0.25, 0.7, rise + 0.25 * (fine - 0.5));
  const dusty = 0.85 * ground.dust * shares.dust * open * smoothstep(0, 0.8, rise + 0.35 * (cover - 0.3));
  const damp = Math.max(wet, puddle) * (1 - snow);
  const outcome = albedo.map((own, c) => {
    const dry = mix(own, DUST_ALBEDO[c]!, dusty);
    return mix(mix(dry, wetAlbedo(dry), damp), SNOW_ALBEDO[c]!, snow);
  }) as Rgb;
  const tilted: Vec3 = [normal[0] * (1 - puddle), mix(normal[1], 1, puddle), normal[2] * (1 - puddle)];
  const length = Math.hypot(...tilted);
  return {
    albedo: outcome,
    mirror: (puddle + (1 - puddle) * 0.35 * wet * wet) * (1 - snow),
    normal: tilted.map((v) => v / length) as Vec3,
  };
}

const vec3 = (rgb: Readonly<Rgb>) => `vec3(${rgb.map((v) => v.toFixed(3)).join(', ')})`;

/** `float waterReflectance(float cosine)`: Fresnel's law for water, as `waterReflectance` of this room. */
export const WATER_REFLECTANCE_GLSL = /* glsl */ `
float waterReflectance(float cosine) {
  float c = clamp(cosine, 0.0, 1.0);
  float below = sqrt(1.0 - (1.0 - c * c) / ${(WATER_INDEX * WATER_INDEX).toFixed(6)});
  float s = (c - ${WATER_INDEX} * below) / (c + ${WATER_INDEX} * below);
  float p = (${WATER_INDEX} * c - below) / (${WATER_INDEX} * c + below);
  return 0.5 * (s * s + p * p);
}`;

/** `float groundNoise(vec2)`, as {@link groundNoise}. */
export const NOISE_GLSL = /* glsl */ `
float groundHash(ivec2 cell) {
  uint h = uint(cell.x) * 0x85ebca6bu ^ uint(cell.y) * 0xc2b2ae35u;
  h = (h ^ (h >> 16)) * 0x7feb352du;
  h = (h ^ (h >> 15)) * 0x846ca68bu;
  h ^= h >> 16;
  return float(h >> 8) / 16777216.0;
}
float groundNoise(vec2 p) {
  ivec2 i = ivec2(floor(p));
  vec2 f = fract(p);
  f = f * f * (3.0 - 2.0 * f);
  return mix(mix(groundHash(i), groundHash(i + ivec2(1, 0)), f.x), mix(groundHash(i + ivec2(0, 1)), groundHash(i + ivec2(1, 1)), f.x), f.y);
}`;

/**
 * `void weathered(vec3 place, float open, inout vec3 color, inout vec3 normal, out float mirror)`, as {@link weatheredSurface}. Shares and ground are wet,
 * puddles, snow and dust; the snow line is its height, its soft height, 0, and whether there is one. Stands after {@link NOISE_GLSL}.
 */
export const WEATHERED_GLSL = /* glsl */ `
uniform vec4 weatherShares;
uniform vec4 weatherGround;
uniform vec4 weatherSnowLine;
void weathered(vec3 place, float open, inout vec3 color, inout vec3 normal, out float mirror) {
  float rise = normal.y;
  vec4 taken = weatherShares * open;
  // Sampled on the surface itself: walls too have their streaks.
  vec2 over = place.xz + place.y * vec2(0.31, 0.57);
  float coarse = groundNoise(over * 0.45) * 0.65 + groundNoise(over * 1.7) * 0.35;
  float fine = groundNoise(over * 5.0) * 0.6 + groundNoise(over * 13.0) * 0.4;
  float wet = taken.x * weatherGround.x * mix(0.35, 1.0, smoothstep(-0.3, 0.5, rise)) * smoothstep(-0.75, -0.35, rise);
  float hollow = 1.0 - weatherGround.y * taken.y * 0.62;
  float puddle = weatherGround.y * taken.y <= 0.0 ? 0.0
    : smoothstep(hollow, hollow + 0.06, coarse + 0.06 * fine) * smoothstep(0.94, 0.985, rise);
  float above = weatherSnowLine.w * smoothstep(weatherSnowLine.x, weatherSnowLine.x + weatherSnowLine.y, place.y + 2.0 * (coarse - 0.5));
  float lies = max(weatherGround.z, above) * taken.z;
  float cover = coarse * 0.55 + fine * 0.45;
  float snow = lies <= 0.0 ? 0.0 : smoothstep(1.0 - 1.15 * lies, 1.0 - 1.15 * lies + 0.22, cover) * smoothstep(0.25, 0.7, rise + 0.25 * (fine - 0.5));
  float dusty = weatherGround.w * taken.w * smoothstep(0.0, 0.8, rise + 0.35 * (cover - 0.3));
  color = mix(color, ${vec3(DUST_ALBEDO)}, 0.85 * dusty);
  float damp = max(wet, puddle) * (1.0 - snow);
  color = mix(color, color / (${(WATER_INDEX * WATER_INDEX).toFixed(6)} * (1.0 - color) + color), damp);
  color = mix(color, ${vec3(SNOW_ALBEDO)}, snow);
  mirror = (puddle + (1.0 - puddle) * 0.35 * wet * wet) * (1.0 - snow);
  normal = normalize(mix(normal, vec3(0.0, 1.0, 0.0), puddle));
}`;
