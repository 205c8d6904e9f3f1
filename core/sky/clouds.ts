import { DEG, smoothstep, type Rgb, type Vec3 } from '../units';

/** A layer of cloud over a place. */
export interface Clouds {
  /** Share of the sky that is covered, 0..1. */
  cover: number;
  /** Optical thickness straight up through a cloud: 1 is a veil, 30 a heavy sky. */
  thickness: number;
  /** Of the layer over the ground, metres. */
  heightM: number;
  /** Size of the larger clouds, metres. */
  scaleM: number;
  /** Wind: speed in m/s, and the azimuth that it blows towards. */
  driftMps: number;
  bearingDeg: number;
  /** Which clouds they are: equal seeds give equal ones. */
  seed: number;
}

/** Texels along each side of a field of clouds; it repeats. */
export const CLOUD_FIELD = 256;
/** How many of the larger clouds lie along a field. */
const PERIOD = 6;
const OCTAVES = 5;
/** Half the width of a cloud's soft edge, as a share of the field. */
export const CLOUD_EDGE = 0.13;
/** Thickness at the edge and in the core of broken clouds, against the whole. */
const CLOUD_THIN = 0.3;
const CLOUD_THICK = 1.5;
/** Share of what a cloud scatters that goes on forward. */
const FORWARD = 0.85;
/** Distances, in sizes of a cloud, between which single clouds run together to an even veil. */
export const CLOUD_FAR = [15, 90] as const;

const fields = new Map<number, Float32Array>();

/**
 * Ranks 0..1 of a cloudy noise over a square that repeats: the share of the square that is less cloudy. So what lies over 1 - cover
 * is just the share `cover`, whatever the noise. Kept for the latest few seeds.
 */
export function cloudField(seed: number): Float32Array {
  const known = fields.get(seed);
  if (known) return known;
  const n = CLOUD_FIELD;
  const values = new Float32Array(n * n);
  for (let o = 0; o < OCTAVES; o++) {
    const cells = PERIOD * 2 ** o;
    const lattice = Float32Array.from({ length: cells * cells }, (_, i) => hash(seed, o, i));
    for (let y = 0; y < n; y++) {
      for (let x = 0; x < n; x++) {
        const [u, v] = [(x / n) * cells, (y / n) * cells];
        const [x0, y0] = [Math.floor(u), Math.floor(v)];
        const [fx, fy] = [ease(u - x0), ease(v - y0)];
        const at = (a: number, b: number) => lattice[(b % cells) * cells + (a % cells)]!;
        const value = (at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx) * (1 - fy) + (at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx) * fy;
        values[y * n + x]! += value / 1.9 ** o;
      }
    }
  }
  const order = Uint32Array.from({ length: n * n }, (_, i) => i).sort((a, b) => values[a]! - values[b]!);
  const ranks = new Float32Array(n * n);
  order.forEach((at, rank) => (ranks[at] = (rank + 0.5) / (n * n)));
  fields.set(seed, ranks);
  if (fields.size > 4) fields.delete(fields.keys().next().value!);
  return ranks;
}

const ease = (t: number) => t * t * t * (t * (t * 6 - 15) + 10);

/** An even number 0..1 from three whole ones. */
function hash(seed: number, octave: number, i: number): number {
  let h = Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(octave + 1, 0xc2b2ae35) ^ Math.imul(i + 1, 0x27d4eb2f);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return ((h ^ (h >>> 15)) >>> 0) / 2 ** 32;
}

/** Clouds as they stand at one moment. */
export interface CloudsNow {
  clouds: Clouds;
  /** Where the wind has carried them, metres east (+X) and south (+Z). */
  drifted: [x: number, z: number];
}

/** How far along its line of sight the layer is met, metres; the layer is bent with the planet. */
export function cloudDistance(heightM: number, sine: number): number {
  const r = 6_360_000;
  return -r * sine + Math.sqrt(r * r * sine * sine + 2 * r * heightM + heightM * heightM);
}

/** How thick the clouds are towards a direction over the horizon, as a share of their thickness: 0 clear, over 1 in a thick core. */
export function cloudDensity({ clouds, drifted }: CloudsNow, [x, y, z]: Readonly<Vec3>): number {
  const { cover, heightM, scaleM, seed } = clouds;
  if (cover <= 0) return 0;
  if (cover >= 1) return 1;
  const away = cloudDistance(heightM, Math.max(0, y));
  const n = CLOUD_FIELD;
  const size = n / PERIOD / scaleM;
  const [u, v] = [(x * away - drifted[0]) * size, (z * away - drifted[1]) * size];
  const [x0, y0] = [Math.floor(u), Math.floor(v)];
  const [fx, fy] = [u - x0, v - y0];
  const field = cloudField(seed);
  const at = (a: number, b: number) => field[(((b % n) + n) % n) * n + (((a % n) + n) % n)]!;
  const rank = (at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx) * (1 - fy) + (at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx) * fy;
  const far = smoothstep(CLOUD_FAR[0], CLOUD_FAR[1], away / scaleM);
  return densityOf(rank, cover) * (1 - far) + densityOf(1 - cover / 2, cover) * cover * far;
}

/** Thickness at a rank: soft edges about the share that is covered, thin near them and thick far inside; a closed sky is even. */
function densityOf(rank: number, cover: number): number {
  const edge = smoothstep(1 - cover - CLOUD_EDGE, 1 - cover + CLOUD_EDGE, rank);
  const inside = Math.min(1, Math.max(0, (rank - 1 + cover) / cover));
  const broken = CLOUD_THIN + (CLOUD_THICK - CLOUD_THIN) * inside;
  const closed = smoothstep(0.85, 1, cover);
  return edge * edge * (broken + (1 - broken) * closed);
}

/** Share of a light from a direction that comes straight through the clouds. */
export function throughClouds(now: CloudsNow, direction: Readonly<Vec3>): number {
  const depth = (now.clouds.thickness * cloudDensity(now, direction)) / Math.max(0.06, direction[1]);
  return Math.exp(-depth);
}

/** Share of light on its top that a cloud lets through, evenly scattered: two streams, nothing absorbed. */
export const cloudDiffuse = (thickness: number) => 1 / (1 + 0.75 * (1 - FORWARD) * thickness);

/** What a layer of cloud is lit by. */
export interface CloudLight {
  /** On level ground under a clear sky: RGB lux. */
  above: Rgb;
  /** The strongest light over it: where it stands, and its light on a plane that faces it. */
  sun: Vec3;
  direct: Rgb;
  /** Reflectance of the ground, which sends light back up against the cloud. */
  ground: Rgb;
}

/** The light of the zenith of a closed layer of a thickness, by the CIE overcast law: E = 7 pi / 9 Lz. */
export function overcastZenith({ above, ground }: Pick<CloudLight, 'above' | 'ground'>, thickness: number): Rgb {
  const through = cloudDiffuse(thickness);
  return [0, 1, 2].map((c) => ((9 / (7 * Math.PI)) * above[c]! * through) / (1 - ground[c]! * (1 - through))) as Rgb;
}

/**
 * Lays clouds over a clear sky's radiance: dimmed by the cloud, the cloud's own light by the CIE overcast law
 * (L = Lz (1 + 2 sin e) / 3, CIE S 003), and the sun's glow scattered once through thin parts (Henyey & Greenstein).
 *
 * @param clear radiance behind the clouds; it is changed in place
 */
export function layClouds(now: CloudsNow, light: CloudLight, direction: Readonly<Vec3>, clear: Float64Array | Rgb): void {
  const [, y] = direction;
  if (y <= 0) return;
  const density = cloudDensity(now, direction);
  if (density <= 0) return;
  const depth = (now.clouds.thickness * density) / Math.max(0.06, y);
  const through = Math.exp(-depth);
  const law = (1 + 2 * y) / 3;
  const cosine = direction[0] * light.sun[0] + y * light.sun[1] + direction[2] * light.sun[2];
  const glow = depth * through * henyeyGreenstein(cosine);
  const zenith = overcastZenith(light, now.clouds.thickness * density);
  for (let c = 0; c < 3; c++) clear[c] = clear[c]! * through + zenith[c]! * law * (1 - through) + light.direct[c]! * glow;
}

/**
 * Lays clouds over a clear sky's radiance by azimuth and elevation; the ground outside lies under them too.
 *
 * @param light what the clouds are lit by, with the light of level ground without them
 */
export function cloudedRadiance(clear: ByAngles, now: CloudsNow, light: CloudLight): ByAngles {
  const { cover, thickness } = now.clouds;
  const zenith = overcastZenith(light, thickness);
  // What level ground gets of its light through a closed layer (E = 7 pi / 9 Lz), and through the share there is.
  const underClouds = zenith.map((z, c) => 1 - cover + (cover * z * 7 * Math.PI) / 9 / Math.max(1e-30, light.above[c]!));
  const own = new Float64Array(3);
  return (azimuth, elevation, out) => {
    own.fill(0);
    clear(azimuth, elevation, own);
    const level = Math.cos(elevation);
    if (elevation > 0) layClouds(now, light, [level * Math.sin(azimuth), Math.sin(elevation), -level * Math.cos(azimuth)], own);
    else for (let c = 0; c < 3; c++) own[c]! *= underClouds[c]!;
    for (let c = 0; c < 3; c++) out[c]! += own[c]!;
  };
}
type ByAngles = (azimuthRad: number, elevationRad: number, out: Float64Array) => void;

const henyeyGreenstein = (cosine: number) =>
  (1 - FORWARD * FORWARD) / (4 * Math.PI * (1 + FORWARD * FORWARD - 2 * FORWARD * cosine) ** 1.5);

/**
 * Where the wind has carried clouds by an hour of the day, metres east (+X) and south (+Z). In a whole day they pass a whole number of
 * fields, so that they stand the same at both ends of it and do not jump at midnight; the wind is bent by that much, a
 * hundredth at common speeds.
 */
export function driftOf({ driftMps, bearingDeg, scaleM }: Clouds, hour: number, northDeg: number): [x: number, z: number] {
  const a = (bearingDeg + northDeg) * DEG;
  const day = driftMps * 86_400;
  const field = scaleM * PERIOD;
  const whole = (way: number) => Math.round(way / field) * field * (hour / 24);
  return [whole(Math.sin(a) * day), whole(-Math.cos(a) * day)];
}

/** Clouds between two states: cover and thickness go over, the rest is that of the nearer one. Null for none at all. */
export function mixClouds(a: Clouds | null, b: Clouds | null, t: number): Clouds | null {
  if (!a && !b) return null;
  const near = (t < 0.5 ? a : b) ?? a ?? b!;
  const amount = (c: Clouds | null) => (c ? c.cover : 0);
  return { ...near, cover: amount(a) * (1 - t) + amount(b) * t, thickness: (a ?? near).thickness * (1 - t) + (b ?? near).thickness * t };
}

/** Constants that the picture's shader shares with what is computed here. */
export const CLOUD_CONSTANTS = {
  field: CLOUD_FIELD,
  period: PERIOD,
  edge: CLOUD_EDGE,
  far: CLOUD_FAR,
  forward: FORWARD,
  thin: CLOUD_THIN,
  thick: CLOUD_THICK,
} as const;
