import { startOffset, type Scene, type Texels } from '../../core/bake';
import { SAMPLE, createEmitter } from '../../core/lamps';
import type { Lighting } from '../../core/rig';
import { skyRadiance } from '../../core/sky';
import { newHit } from '../../core/trace';
import { DEG, luminance } from '../../core/units';

/** What light at a texel comes from. */
export const SOURCES = ['sky', 'sun', 'sunBounce', 'lamps', 'lampBounce'] as const;
export type Source = (typeof SOURCES)[number];

/** Luminance of E/pi of each source, texel by texel, and its standard error; not a number where a texel lies inside something. */
export type TrueLight = Record<Source, { mean: Float64Array; error: Float64Array }>;

/** How a {@link traceTruth} is done. */
export interface TruthOptions {
  /** From each texel. */
  paths: number;
  /** Most bounces, as a bake counts them. */
  bounces: number;
  seed: number;
  /** Texels by their places; all where it is not given. */
  only?: readonly number[];
}

/** Throughput under which Russian roulette begins. */
const ROULETTE = 0.2;
/** Rays that look about from a point, and the share of backs among them that makes it one inside of something. */
const LOOK = { rays: 64, inside: 0.5 } as const;

/** Uniform numbers in [0, 1): sfc32 (Doty-Humphrey 2010), which passes PractRand. */
function generator(seed: number): () => number {
  let [a, b, c, d] = [seed | 0, 0x9e3779b9 | 0, 0x243f6a88 | 0, 1];
  const next = () => {
    const t = (((a + b) | 0) + d) | 0;
    d = (d + 1) | 0;
    a = b ^ (b >>> 9);
    b = (c + (c << 3)) | 0;
    c = (c << 21) | (c >>> 11);
    c = (c + t) | 0;
    return (t >>> 0) / 2 ** 32;
  };
  for (let i = 0; i < 16; i++) next();
  return next;
}

/**
 * The light of texels by plain path tracing: pseudo-random numbers, cosine-weighted directions, one ray to each sun and lamp wherever a path
 * lands, and the sky's own radiance where it escapes. It shares with the bake the level, the kernel that answers rays, the points of a texel
 * and the emission of lamps; nothing of how light is sampled, stored, guided, filtered or joined. Surfaces must be grey: it follows luminance
 * alone. A direction under the flat face of a rounded normal is mirrored at it, as the bake has it.
 */
export function traceTruth(scene: Scene, texels: Texels, lighting: Lighting, { paths, bounces, seed, only }: TruthOptions): TrueLight {
  const radiance = skyRadiance(lighting.sky);
  const suns = lighting.suns.map((s) => ({ axis: s.direction, cosine: Math.cos((s.discDeg / 2) * DEG), lux: luminance(s.illuminance) }));
  const gainOf = new Map(lighting.circuits.map((c) => [c.id, c.gain]));
  const lamps = lighting.lamps.map((lamp) => {
    const emitter = createEmitter(lamp, lighting.profiles);
    const gain = gainOf.get(lamp.circuitId ?? 'none') ?? [1, 1, 1];
    return { emitter, level: luminance([0, 1, 2].map((c) => emitter.color[c]! * gain[c]!) as [number, number, number]) };
  });

  const count = texels.at.length;
  const out = Object.fromEntries(
    SOURCES.map((s) => [s, { mean: new Float64Array(count).fill(NaN), error: new Float64Array(count).fill(NaN) }]),
  ) as TrueLight;
  const position = new Float64Array(3);
  const normal = new Float64Array(3);
  const face = new Float64Array(3);
  const rgb = new Float64Array(3);
  const sample = new Float64Array(SAMPLE.length);
  const hit = newHit();
  let random = generator(seed);
  let offset = 0;

  const stand = (triangle: number, u: number, v: number, back: boolean) => {
    scene.stand(triangle, u, v, back, position, normal, face);
    offset = startOffset(position[0]!, position[1]!, position[2]!);
  };
  const along = (a: Float64Array, x: number, y: number, z: number) => a[0]! * x + a[1]! * y + a[2]! * z;
  const isFree = (x: number, y: number, z: number, far: number) => {
    const [ox, oy, oz] = [0, 1, 2].map((c) => position[c]! + face[c]! * offset) as [number, number, number];
    return !scene.tracer.occluded(ox, oy, oz, x, y, z, 0, far);
  };
  /** A unit direction about an axis, from a cosine and an angle around it. */
  const about = (ax: number, ay: number, az: number, cosine: number, phi: number): [number, number, number] => {
    // Any vector that is not along the axis gives a frame.
    const [hx, hy, hz] = Math.abs(ax) < 0.5 ? [1, 0, 0] : [0, 1, 0];
    let [tx, ty, tz] = [ay * hz - az * hy, az * hx - ax * hz, ax * hy - ay * hx];
    const length = Math.sqrt(tx * tx + ty * ty + tz * tz);
    [tx, ty, tz] = [tx / length, ty / length, tz / length];
    const [bx, by, bz] = [ay * tz - az * ty, az * tx - ax * tz, ax * ty - ay * tx];
    const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
    const [p, q] = [sine * Math.cos(phi), sine * Math.sin(phi)];
    return [ax * cosine + tx * p + bx * q, ay * cosine + ty * p + by * q, az * cosine + tz * p + bz * q];
  };
  /** Luminance of E/pi that comes straight from the suns, by one ray to each. */
  const fromSuns = (): number => {
    let sum = 0;
    for (const { axis, cosine, lux } of suns) {
      const [x, y, z] = about(axis[0], axis[1], axis[2], 1 - random() * (1 - cosine), 2 * Math.PI * random());
      const facing = along(normal, x, Math.abs(y), z);
      if (facing > 0 && along(face, x, Math.abs(y), z) > 0 && isFree(x, Math.abs(y), z, Infinity)) sum += (lux * facing) / Math.PI;
    }
    return sum;
  };
  /** The same, of the lamps. */
  const fromLamps = (): number => {
    let sum = 0;
    for (const { emitter, level } of lamps) {
      emitter.sample(position[0]!, position[1]!, position[2]!, random(), random(), sample);
      const [x, y, z] = [sample[SAMPLE.x]!, sample[SAMPLE.y]!, sample[SAMPLE.z]!];
      const facing = along(normal, x, y, z);
      const far = sample[SAMPLE.distance]! - 2 * offset;
      if (sample[SAMPLE.lux]! > 0 && facing > 0 && along(face, x, y, z) > 0 && far > 0 && isFree(x, y, z, far))
        sum += (level * sample[SAMPLE.lux]! * facing) / Math.PI;
    }
    return sum;
  };
  const scatter = (): [number, number, number] => {
    const d = about(normal[0]!, normal[1]!, normal[2]!, Math.sqrt(1 - random()), 2 * Math.PI * random());
    const above = along(face, ...d);
    return above >= 0 ? d : (d.map((v, c) => v - 2 * above * face[c]!) as [number, number, number]);
  };
  const meets = ([x, y, z]: readonly [number, number, number]) => {
    const [ox, oy, oz] = [0, 1, 2].map((c) => position[c]! + face[c]! * offset) as [number, number, number];
    return scene.tracer.closest(ox, oy, oz, x, y, z, 0, Infinity, hit);
  };
  const isInside = (k: number): boolean => {
    stand(texels.triangle[k]!, texels.u[k]!, texels.v[k]!, false);
    let backs = 0;
    for (let i = 0; i < LOOK.rays; i++) if (meets(scatter()) && hit.back && !scene.doubleSided(hit.triangle)) backs++;
    return backs > LOOK.inside * LOOK.rays;
  };

  for (const i of only ?? Array.from({ length: count }, (_, k) => k)) {
    random = generator(Math.imul(i + 1, 0x9e3779b1) ^ seed);
    const points: number[] = [];
    for (let k = texels.start[i]!; k < texels.start[i + 1]!; k++) if (!isInside(k)) points.push(k);
    if (points.length === 0) continue;
    const sums = { sky: 0, sun: 0, sunBounce: 0, lamps: 0, lampBounce: 0 };
    const squares = { ...sums };
    const own = { ...sums };
    for (let path = 0; path < paths; path++) {
      const k = points[Math.floor(random() * points.length)]!;
      stand(texels.triangle[k]!, texels.u[k]!, texels.v[k]!, false);
      own.sun = fromSuns();
      own.lamps = fromLamps();
      own.sky = own.sunBounce = own.lampBounce = 0;
      let carried = 1;
      for (let depth = 0; ; depth++) {
        const direction = scatter();
        if (!meets(direction)) {
          own.sky = carried * luminance(radiance(direction));
          break;
        }
        if ((hit.back && !scene.doubleSided(hit.triangle)) || depth >= bounces) break;
        scene.albedo(hit.triangle, hit.u, hit.v, rgb);
        carried *= rgb[1]!;
        if (carried < ROULETTE) {
          if (random() * ROULETTE >= carried) break;
          carried = ROULETTE;
        }
        stand(hit.triangle, hit.u, hit.v, hit.back);
        own.sunBounce += carried * fromSuns();
        own.lampBounce += carried * fromLamps();
      }
      for (const source of SOURCES) {
        sums[source] += own[source];
        squares[source] += own[source] * own[source];
      }
    }
    for (const source of SOURCES) {
      const mean = sums[source] / paths;
      out[source].mean[i] = mean;
      out[source].error[i] = Math.sqrt(Math.max(0, squares[source] / paths - mean * mean) / paths);
    }
  }
  return out;
}
