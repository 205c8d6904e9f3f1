import { smoothstep, type Rgb } from '../units';
import type { Bloom, Dirt, Grain, Vignette } from './grade';

/** The light that bloom spreads is that of Gaussians each twice as wide as the last, in equal shares. */
export const BLOOM_LEVELS = 4;
/** Width of the narrowest, as a share of the bloom's size: the standard deviation. */
const NARROWEST = 1 / 8;
/** What is brighter than white by more than this spreads no more than that, as a ratio: the sun's disc would fill the picture. */
export const MOST_SPREAD = 256;

/** Standard deviation of a level of bloom, in pixels of a picture of a height. */
export const bloomSigma = ({ size }: Bloom, level: number, heightPx: number): number => size * heightPx * NARROWEST * 2 ** level;

/** The part of a scene value that spreads: what its strongest channel is over the threshold. */
export function brightPart([r, g, b]: Readonly<Rgb>, overEv: number): Rgb {
  const peak = Math.max(r, g, b);
  const share = peak > 0 ? Math.max(0, Math.min(peak, MOST_SPREAD) - 2 ** overEv) / peak : 0;
  return [r * share, g * share, b * share];
}

/**
 * Spreads what is brighter than the threshold over a picture: its scene values get the bloom added, in place.
 *
 * @param rgb three a pixel, 1 = white
 */
export function addBloom(rgb: Float32Array, width: number, height: number, bloom: Bloom, dirt: Dirt): void {
  if (bloom.amount === 0) return;
  const bright = new Float32Array(rgb.length);
  for (let i = 0; i < rgb.length; i += 3) bright.set(brightPart([rgb[i]!, rgb[i + 1]!, rgb[i + 2]!], bloom.overEv), i);
  const spread = new Float32Array(rgb.length);
  for (let level = 0; level < BLOOM_LEVELS; level++) {
    const blurred = blur(bright, width, height, bloomSigma(bloom, level, height));
    for (let i = 0; i < spread.length; i++) spread[i]! += blurred[i]! / BLOOM_LEVELS;
  }
  const specks = dirt.amount > 0 ? lensDirt(dirt.seed) : null;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const speck = specks ? 1 + dirt.amount * DIRT_GAIN * dirtAt(specks, (x + 0.5) / width, (y + 0.5) / height) : 1;
      for (let c = 0; c < 3; c++) rgb[(y * width + x) * 3 + c]! += bloom.amount * spread[(y * width + x) * 3 + c]! * speck;
    }
  }
}

/** Gauss's blur, along and across; what lies outside the picture is dark. */
function blur(rgb: Float32Array, width: number, height: number, sigma: number): Float32Array {
  const reach = Math.ceil(3 * sigma);
  const weights = Float64Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-0.5 * ((i - reach) / Math.max(1e-3, sigma)) ** 2));
  const whole = weights.reduce((a, b) => a + b, 0);
  const along = (from: Float32Array, count: number, other: number, step: number, otherStep: number) => {
    const out = new Float32Array(from.length);
    for (let o = 0; o < other; o++) {
      for (let i = 0; i < count; i++) {
        for (let k = Math.max(-reach, -i); k <= Math.min(reach, count - 1 - i); k++) {
          const weight = weights[k + reach]! / whole;
          for (let c = 0; c < 3; c++) out[i * step + o * otherStep + c]! += weight * from[(i + k) * step + o * otherStep + c]!;
        }
      }
    }
    return out;
  };
  return along(along(rgb, width, height, 3, width * 3), height, width, width * 3, 3);
}

/** How much brighter dirt makes the bloom that falls on it, at an amount of 1. */
export const DIRT_GAIN = 6;
/** Texels along each side of the dirt on a lens. */
export const DIRT_SIZE = 256;

const dirts = new Map<number, Float32Array>();

/** Specks on a lens, 0 clean to 1: soft discs of many sizes, larger ones fainter. {@link DIRT_SIZE} squared, kept for the last few seeds. */
export function lensDirt(seed: number): Float32Array {
  const known = dirts.get(seed);
  if (known) return known;
  const out = new Float32Array(DIRT_SIZE * DIRT_SIZE);
  const random = (i: number, k: number) => hash(i, k, seed);
  for (let i = 0; i < 260; i++) {
    const radius = 1.2 + 22 * random(i, 0) ** 5;
    const strength = (0.25 + 0.75 * random(i, 1)) / (1 + radius / 5);
    const [cx, cy] = [random(i, 2) * DIRT_SIZE, random(i, 3) * DIRT_SIZE];
    for (let y = Math.max(0, Math.floor(cy - radius)); y < Math.min(DIRT_SIZE, cy + radius + 1); y++) {
      for (let x = Math.max(0, Math.floor(cx - radius)); x < Math.min(DIRT_SIZE, cx + radius + 1); x++) {
        const r = Math.hypot(x + 0.5 - cx, y + 0.5 - cy) / radius;
        const disc = (1 - smoothstep(0.75, 1, r)) * (0.6 + 0.4 * smoothstep(0.2, 0.9, r));
        const at = y * DIRT_SIZE + x;
        out[at] = 1 - (1 - out[at]!) * (1 - strength * disc);
      }
    }
  }
  dirts.set(seed, out);
  if (dirts.size > 4) dirts.delete(dirts.keys().next().value!);
  return out;
}

function dirtAt(dirt: Float32Array, u: number, v: number): number {
  const [x, y] = [u * DIRT_SIZE - 0.5, v * DIRT_SIZE - 0.5];
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const at = (a: number, b: number) => dirt[Math.min(DIRT_SIZE - 1, Math.max(0, b)) * DIRT_SIZE + Math.min(DIRT_SIZE - 1, Math.max(0, a))]!;
  const [fx, fy] = [x - x0, y - y0];
  return (at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx) * (1 - fy) + (at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx) * fy;
}

/** What a vignette leaves of the light at a place of the picture, 0..1 along and down. */
export function vignetteGain({ ev, from }: Vignette, u: number, v: number, aspect: number): number {
  if (ev === 0) return 1;
  const r = Math.hypot((u * 2 - 1) * aspect, v * 2 - 1) / Math.hypot(aspect, 1);
  return 2 ** (-ev * smoothstep(from, 1, r));
}

/** A number 0..1 from three whole ones (Jarzynski & Olano 2020, "Hash Functions for GPU Rendering", pcg3d, its first component). */
function hash(x: number, y: number, z: number): number {
  const step = (v: number) => (Math.imul(v, 1664525) + 1013904223) >>> 0;
  let [a, b, c] = [step(x >>> 0), step(y >>> 0), step(z >>> 0)];
  const stir = () => {
    a = (a + Math.imul(b, c)) >>> 0;
    b = (b + Math.imul(c, a)) >>> 0;
    c = (c + Math.imul(a, b)) >>> 0;
  };
  stir();
  a ^= a >>> 16;
  b ^= b >>> 16;
  c ^= c >>> 16;
  a >>>= 0;
  b >>>= 0;
  c >>>= 0;
  stir();
  return a / 2 ** 32;
}

/** Standard deviation of the sum of two even numbers 0..1. */
const SPREAD_OF_TWO = Math.sqrt(1 / 6);

/** What grain adds to encoded values of a pixel, whose own mean is `shown`: most in mid-tones, none in black and white. */
export function grainAt({ amount, sizePx }: Grain, x: number, y: number, shown: number): number {
  if (amount === 0) return 0;
  const noise = (cx: number, cy: number) => (hash(cx, cy, 0) + hash(cx, cy, 1) - 1) / SPREAD_OF_TWO;
  const [u, v] = [x / Math.max(1, sizePx), y / Math.max(1, sizePx)];
  const [x0, y0] = [Math.floor(u), Math.floor(v)];
  const [fx, fy] = [u - x0, v - y0];
  const value =
    (noise(x0, y0) * (1 - fx) + noise(x0 + 1, y0) * fx) * (1 - fy) + (noise(x0, y0 + 1) * (1 - fx) + noise(x0 + 1, y0 + 1) * fx) * fy;
  const level = Math.min(1, Math.max(0, shown));
  return amount * value * 4 * level * (1 - level);
}

/** {@link brightPart}, {@link vignetteGain} and {@link grainAt} in GLSL. */
export const LENS_GLSL = /* glsl */ `
vec3 brightPart(vec3 rgb, float overEv) {
  float peak = max(rgb.r, max(rgb.g, rgb.b));
  return peak > 0.0 ? rgb * (max(0.0, min(peak, ${MOST_SPREAD.toFixed(1)}) - exp2(overEv)) / peak) : vec3(0.0);
}
float vignetteGain(vec2 evFrom, vec2 uv, float aspect) {
  vec2 at = (uv * 2.0 - 1.0) * vec2(aspect, 1.0);
  return exp2(-evFrom.x * smoothstep(evFrom.y, 1.0, length(at) / length(vec2(aspect, 1.0))));
}
float hash3(uvec3 v) {
  v = v * 1664525u + 1013904223u;
  v.x += v.y * v.z; v.y += v.z * v.x; v.z += v.x * v.y;
  v ^= v >> 16u;
  v.x += v.y * v.z;
  return float(v.x) / 4294967296.0;
}
float grainNoise(ivec2 cell) {
  return (hash3(uvec3(ivec3(cell, 0))) + hash3(uvec3(ivec3(cell, 1))) - 1.0) / ${SPREAD_OF_TWO.toFixed(8)};
}
float grainAt(vec2 amountSize, vec2 pixel, float shown) {
  vec2 at = pixel / max(1.0, amountSize.y);
  ivec2 cell = ivec2(floor(at));
  vec2 f = at - floor(at);
  float value = mix(mix(grainNoise(cell), grainNoise(cell + ivec2(1, 0)), f.x), mix(grainNoise(cell + ivec2(0, 1)), grainNoise(cell + ivec2(1, 1)), f.x), f.y);
  float level = clamp(shown, 0.0, 1.0);
  return amountSize.x * value * 4.0 * level * (1.0 - level);
}`;
