import { SH_COUNT, shBasis } from '../sky';
import { DEG, LUMINANCE_WEIGHTS, type Vec3 } from '../units';
import { coneDirection, cosineDirection, hash32, samplePair } from './sampling';
import { SAMPLE } from '../lamps';
import { createLampChooser, newLampSample } from './lampSampling';
import { startOffset, type Scene } from './scene';
import { FIRST_SUN_LAYER, GLOW_LAYER, LAYER, circuitLayer, layerCount, sunDirection, type BakePlan } from './stems';
import { coverTexels, type Tile } from './texels';
import { newHit } from '../trace';

/** Paths whose throughput falls below this are ended by Russian roulette. */
const ROULETTE = 0.1;
/** Share of a texel's first rays that may meet the inside of the level before the texel counts as buried. */
const BURIED = 0.5;
/** Pairs of the sampling sequence that one step of a path uses. The suns, each of a stem of its own, share one. */
const PAIRS = { direction: 0, sun: 1, lamp: 2, onLamp: 3, roulette: 4, length: 5 } as const;

/** Suns asked at the first surface of a path that several face, and at later ones. */
const SUNS_ASKED = { first: 3, later: 1 } as const;

/** The stems of one tile. */
export interface TileStems {
  tile: Tile;
  /** Texels gathered: y * width + x. */
  at: Uint32Array;
  /** {@link layerCount} times LAYER numbers for each texel. */
  values: Float32Array;
  /** For each texel the variance of the mean of the luminance in the sky, the glow, each sun's bounce, and each circuit's glow seen straight and bounce. */
  variance: Float32Array;
  /** Rays traced. */
  rays: number;
}

/** Slots of {@link TileStems.variance} per texel. */
export const varianceSlots = (plan: BakePlan): number => 2 + plan.suns.length + 2 * plan.circuits.length;

/**
 * Follows light backwards from every texel of a tile: one set of paths feeds all stems.
 *
 * Lamps are asked at every surface met, one of them for each, chosen by what it could give there; straight light of lamps is
 * gathered apart as that of suns is. Glow of materials is found where paths meet it.
 *
 * From each texel, directions are cosine-weighted about its normal. At each surface met, the suns are asked for by shadow
 * rays into their discs (a few of those that the surface faces, in turn), and the path goes on in a cosine-weighted direction, weighed by the surface's albedo. What escapes is
 * projected on spherical harmonics, so the sky itself stays open. The light that a texel gets straight from a sun is
 * gathered apart, by rays spread over the disc and over the texel.
 *
 * A surface seen from behind, unless it is double-sided, is the inside of the level and gives nothing; texels that see
 * mostly such insides are marked as not gathered and are filled from their neighbours later.
 *
 * The outcome depends on the arguments alone: not on the machine, the thread, or other tiles.
 *
 * @param progress told the share done, 0..1, now and then
 */
export function gatherTile(scene: Scene, plan: BakePlan, tile: Tile, progress?: (share: number) => void): TileStems {
  const texels = coverTexels(scene.surfaces, tile);
  const count = texels.at.length;
  const stride = layerCount(plan) * LAYER;
  const slots = varianceSlots(plan);
  const values = new Float32Array(count * stride);
  const variance = new Float32Array(count * slots);
  const gather = createGatherer(scene, plan);
  let rays = 0;
  for (let i = 0; i < count; i++) {
    const seed = hash32(texels.at[i]!, tile.map + 1);
    const [from, to] = [texels.start[i]!, texels.start[i + 1]!];
    rays += gather(
      (s, point) => {
        const k = from + (s % (to - from));
        point.triangle = texels.triangle[k]!;
        point.u = texels.u[k]!;
        point.v = texels.v[k]!;
      },
      seed,
      values.subarray(i * stride, (i + 1) * stride),
      variance.subarray(i * slots, (i + 1) * slots),
    );
    if (progress && i % 256 === 255) progress((i + 1) / count);
  }
  return { tile, at: texels.at, values, variance, rays };
}

interface SurfacePoint {
  triangle: number;
  u: number;
  v: number;
}

type Gatherer = (
  pointOf: (sample: number, out: SurfacePoint) => void,
  seed: number,
  values: Float32Array,
  variance: Float32Array,
) => number;

/** Makes the function that gathers one texel; its scratch space is made once and used again for every texel. */
function createGatherer(scene: Scene, plan: BakePlan): Gatherer {
  const { tracer } = scene;
  const suns = plan.suns.map((sun) => ({
    direction: sunDirection(sun),
    cosRadius: Math.cos((sun.discDeg / 2) * DEG),
    sinRadius: Math.sin((sun.discDeg / 2) * DEG),
  }));
  const faced = new Int32Array(suns.length);
  const chooser = createLampChooser(plan);
  const lampSample = newLampSample();
  const firstCircuit = circuitLayer(plan, 0);
  const firstCircuitSlot = 2 + plan.suns.length;
  const circuitOfGlow = new Map(plan.circuits.flatMap((c, i) => c.glows.map((name) => [name, i] as const)));
  const glowCircuit = Int16Array.from(scene.surfaces.materials, (m) => circuitOfGlow.get(m.name) ?? -1);
  const hit = newHit();
  const surface: SurfacePoint = { triangle: 0, u: 0, v: 0 };
  const position = new Float64Array(3);
  const normal = new Float64Array(3);
  const face = new Float64Array(3);
  const direction = new Float64Array(3);
  const toSun = new Float64Array(3);
  const rgb = new Float64Array(3);
  const pair = new Float64Array(2);
  const basis = new Float64Array(SH_COUNT);
  const sums = new Float64Array(layerCount(plan) * LAYER);
  // Per path: what it adds to the guides of the filter, then their sums and sums of squares over the paths.
  const slots = varianceSlots(plan);
  const guide = new Float64Array(slots);
  const guideSum = new Float64Array(slots);
  const guideSquares = new Float64Array(slots);
  const [wr, wg, wb] = LUMINANCE_WEIGHTS;
  let rays = 0;

  /** A direction into the part of the sun's disc above the horizon, by two numbers in [0, 1); false where it has set. */
  function aimAtSun(sun: number, a: number, b: number): boolean {
    const { direction: axis, cosRadius } = suns[sun]!;
    if (!axis) return false;
    coneDirection(axis[0], axis[1], axis[2], cosRadius, a, b, toSun);
    // The planet hides what is below its horizon; the mirrored direction lies in the part that is left.
    if (toSun[1]! < 0) toSun[1] = -toSun[1]!;
    return true;
  }

  /** Cosine at the surface towards `toSun` where nothing stands between, else 0. */
  function sunlit(offset: number): number {
    const cosine = normal[0]! * toSun[0]! + normal[1]! * toSun[1]! + normal[2]! * toSun[2]!;
    const above = face[0]! * toSun[0]! + face[1]! * toSun[1]! + face[2]! * toSun[2]!;
    if (!(cosine > 0 && above > 0)) return 0;
    rays++;
    return occludedFrom(offset, toSun) ? 0 : cosine;
  }

  /** Cosine at the surface towards the lamp sample where nothing stands between, else 0. */
  function lampLit(offset: number): number {
    const cosine = normal[0]! * lampSample[0]! + normal[1]! * lampSample[1]! + normal[2]! * lampSample[2]!;
    const above = face[0]! * lampSample[0]! + face[1]! * lampSample[1]! + face[2]! * lampSample[2]!;
    if (!(cosine > 0 && above > 0 && lampSample[SAMPLE.lux]! > 0)) return 0;
    rays++;
    const reach = lampSample[SAMPLE.distance]! - 2 * offset;
    return reach > 0 && occludedFrom(offset, lampSample, reach) ? 0 : cosine;
  }

  function occludedFrom(offset: number, d: Float64Array, tMax = Infinity): boolean {
    return tracer.occluded(
      position[0]! + face[0]! * offset,
      position[1]! + face[1]! * offset,
      position[2]! + face[2]! * offset,
      d[0]!,
      d[1]!,
      d[2]!,
      0,
      tMax,
    );
  }

  /** Leaves the surface: cosine-weighted, kept on the outer side of the flat face under a rounded normal. */
  function scatter(sample: number, pairIndex: number, seed: number): void {
    samplePair(sample, pairIndex, seed, pair);
    cosineDirection(normal[0]!, normal[1]!, normal[2]!, pair[0]!, pair[1]!, direction);
    const above = face[0]! * direction[0]! + face[1]! * direction[1]! + face[2]! * direction[2]!;
    if (above < 0) for (let c = 0; c < 3; c++) direction[c]! -= 2 * above * face[c]!;
  }

  /** Puts `position`, `normal` and `face` at a point of a triangle, on its outer side or on its back. */
  function stand(triangle: number, u: number, v: number, back: boolean): void {
    scene.point(triangle, u, v, position);
    scene.normal(triangle, u, v, normal);
    scene.faceNormal(triangle, face);
    if (back) {
      for (let c = 0; c < 3; c++) {
        normal[c] = -normal[c]!;
        face[c] = -face[c]!;
      }
    }
  }

  /**
   * Adds what suns give a surface of a path by shadow rays. Only those that it faces are asked, and of these a few in turn, whose
   * answers count for the others: many cues cost little more than few.
   */
  function addSuns(depth: number, sample: number, pairs: number, seed: number, offset: number, tr: number, tg: number, tb: number): void {
    let facing = 0;
    for (let s = 0; s < suns.length; s++) {
      const { direction: axis, sinRadius } = suns[s]!;
      if (axis && normal[0]! * axis[0] + normal[1]! * axis[1] + normal[2]! * axis[2] > -sinRadius) faced[facing++] = s;
    }
    if (facing === 0) return;
    const asked = Math.min(facing, depth === 0 ? SUNS_ASKED.first : SUNS_ASKED.later);
    samplePair(sample, pairs + PAIRS.sun, seed, pair);
    const start = (seed + sample * asked + depth) % facing;
    for (let k = 0; k < asked; k++) {
      const s = faced[(start + k) % facing]!;
      aimAtSun(s, pair[0]!, pair[1]!);
      const lit = ((facing / asked) * sunlit(offset)) / Math.PI;
      if (lit === 0) continue;
      const at = (FIRST_SUN_LAYER + s) * LAYER;
      sums[at]! += tr * lit;
      sums[at + 1]! += tg * lit;
      sums[at + 2]! += tb * lit;
      guide[2 + s]! += lit * (wr * tr + wg * tg + wb * tb);
    }
  }

  /** Follows one path; returns whether its first ray met the inside of the level. */
  function followPath(sample: number, seed: number): boolean {
    let tr = 1;
    let tg = 1;
    let tb = 1;
    for (let depth = 0; ; depth++) {
      const pairs = depth * PAIRS.length;
      scatter(sample, pairs + PAIRS.direction, seed);
      const offset = startOffset(position[0]!, position[1]!, position[2]!);
      rays++;
      const met = tracer.closest(
        position[0]! + face[0]! * offset,
        position[1]! + face[1]! * offset,
        position[2]! + face[2]! * offset,
        direction[0]!,
        direction[1]!,
        direction[2]!,
        0,
        Infinity,
        hit,
      );
      if (!met) {
        shBasis(direction[0]!, direction[1]!, direction[2]!, basis);
        for (let i = 0; i < SH_COUNT; i++) {
          sums[i * LAYER]! += tr * basis[i]!;
          sums[i * LAYER + 1]! += tg * basis[i]!;
          sums[i * LAYER + 2]! += tb * basis[i]!;
        }
        guide[0]! += wr * tr + wg * tg + wb * tb;
        return false;
      }
      const back = hit.back;
      if (back && !scene.doubleSided(hit.triangle)) return depth === 0;
      const { triangle, u, v } = hit;
      if (scene.emission(triangle, u, v, rgb)) {
        const circuit = glowCircuit[scene.surfaces.materialOf[triangle]!]!;
        const bounced = depth > 0 ? 1 : 0;
        const at = (circuit < 0 ? GLOW_LAYER : firstCircuit + 2 * circuit + bounced) * LAYER;
        sums[at]! += tr * rgb[0]!;
        sums[at + 1]! += tg * rgb[1]!;
        sums[at + 2]! += tb * rgb[2]!;
        guide[circuit < 0 ? 1 : firstCircuitSlot + 2 * circuit + bounced]! += wr * tr * rgb[0]! + wg * tg * rgb[1]! + wb * tb * rgb[2]!;
      }
      if (depth >= plan.bounces) return false;
      scene.albedo(triangle, u, v, rgb);
      tr *= rgb[0]!;
      tg *= rgb[1]!;
      tb *= rgb[2]!;
      const strongest = Math.max(tr, tg, tb);
      if (strongest === 0) return false;
      if (strongest < ROULETTE) {
        samplePair(sample, pairs + PAIRS.roulette, seed, pair);
        if (pair[0]! * ROULETTE >= strongest) return false;
        const kept = ROULETTE / strongest;
        tr *= kept;
        tg *= kept;
        tb *= kept;
      }
      stand(triangle, u, v, back);
      const away = startOffset(position[0]!, position[1]!, position[2]!);
      addSuns(depth, sample, pairs, seed, away, tr, tg, tb);
      if (chooser.lamps.length === 0) continue;
      samplePair(sample, pairs + PAIRS.lamp, seed, pair);
      const chosen = chooser.choose(position[0]!, position[1]!, position[2]!, pair[0]!);
      if (chosen < 0) continue;
      const { emitter, circuit } = chooser.lamps[chosen]!;
      samplePair(sample, pairs + PAIRS.onLamp, seed, pair);
      emitter.sample(position[0]!, position[1]!, position[2]!, pair[0]!, pair[1]!, lampSample);
      const lit = (lampLit(away) * lampSample[SAMPLE.lux]!) / Math.PI / chooser.chance;
      if (lit === 0) continue;
      const at = (firstCircuit + 2 * circuit + 1) * LAYER;
      const { color } = emitter;
      sums[at]! += tr * color[0] * lit;
      sums[at + 1]! += tg * color[1] * lit;
      sums[at + 2]! += tb * color[2] * lit;
      guide[firstCircuitSlot + 2 * circuit + 1]! += lit * (wr * tr * color[0] + wg * tg * color[1] + wb * tb * color[2]);
    }
  }

  return (pointOf, seed, values, variance) => {
    rays = 0;
    sums.fill(0);
    guideSum.fill(0);
    guideSquares.fill(0);
    let buried = 0;
    for (let sample = 0; sample < plan.paths; sample++) {
      pointOf(sample, surface);
      stand(surface.triangle, surface.u, surface.v, false);
      guide.fill(0);
      if (followPath(sample, seed)) buried++;
      for (let k = 0; k < slots; k++) {
        guideSum[k]! += guide[k]!;
        guideSquares[k]! += guide[k]! * guide[k]!;
      }
    }
    const n = plan.paths;
    for (let k = 0; k < sums.length; k++) values[k] = sums[k]! / n;
    for (let k = 0; k < slots; k++) {
      const mean = guideSum[k]! / n;
      variance[k] = Math.max(0, guideSquares[k]! / n - mean * mean) / n;
    }
    directSuns(seed, pointOf, values);
    directLamps(seed, pointOf, values);
    values[3] = buried / n > BURIED ? 0 : 1;
    return rays;
  };

  /** Writes E/pi per lux straight from each sun, over its disc and over the texel, into the fourth number of its layer. */
  function directSuns(seed: number, pointOf: (sample: number, out: SurfacePoint) => void, values: Float32Array): void {
    const own = hash32(seed, 0x53);
    for (let sample = 0; sample < plan.sunRays; sample++) {
      pointOf(sample, surface);
      stand(surface.triangle, surface.u, surface.v, false);
      const offset = startOffset(position[0]!, position[1]!, position[2]!);
      samplePair(sample, 0, own, pair);
      for (let s = 0; s < suns.length; s++) {
        if (aimAtSun(s, pair[0]!, pair[1]!)) values[(FIRST_SUN_LAYER + s) * LAYER + 3]! += sunlit(offset) / plan.sunRays / Math.PI;
      }
    }
  }

  /** Rays for one lamp: as many as for a sun where it looks large, a quarter of them where it is about a point. */
  function raysTo({ extentM, at }: { extentM: number; at: Vec3 }, from: Float64Array): number {
    const distance = Math.sqrt((at[0] - from[0]!) ** 2 + (at[1] - from[1]!) ** 2 + (at[2] - from[2]!) ** 2);
    return Math.ceil(plan.sunRays * Math.min(1, Math.max(0.25, (4 * extentM) / Math.max(1e-3, distance))));
  }

  /** Adds E/pi straight from the lamps to their circuits' layers: bright ones one by one, the faint ones by a few rays for all. */
  function directLamps(seed: number, pointOf: (sample: number, out: SurfacePoint) => void, values: Float32Array): void {
    if (chooser.lamps.length === 0) return;
    pointOf(0, surface);
    stand(surface.triangle, surface.u, surface.v, false);
    chooser.sort(position[0]!, position[1]!, position[2]!);
    const ask = (lamp: number, share: number, sample: number, a: number, b: number) => {
      const { emitter, circuit } = chooser.lamps[lamp]!;
      pointOf(sample, surface);
      stand(surface.triangle, surface.u, surface.v, false);
      emitter.sample(position[0]!, position[1]!, position[2]!, a, b, lampSample);
      const offset = startOffset(position[0]!, position[1]!, position[2]!);
      const lit = (lampLit(offset) * lampSample[SAMPLE.lux]! * share) / Math.PI / plan.sunRays;
      const at = (firstCircuit + 2 * circuit) * LAYER;
      for (let c = 0; c < 3; c++) values[at + c]! += emitter.color[c]! * lit;
    };
    for (const lamp of chooser.bright) {
      const own = hash32(seed, 0x1a3b + lamp);
      const rays = raysTo(chooser.lamps[lamp]!, position);
      for (let sample = 0; sample < rays; sample++) {
        samplePair(sample, 0, own, pair);
        ask(lamp, plan.sunRays / rays, sample, pair[0]!, pair[1]!);
      }
    }
    const own = hash32(seed, 0x1a3a);
    for (let sample = 0; sample < plan.sunRays; sample++) {
      samplePair(sample, 1, own, pair);
      const lamp = chooser.chooseFaint(pair[0]!);
      if (lamp < 0) return;
      const share = 1 / chooser.chance;
      samplePair(sample, 2, own, pair);
      ask(lamp, share, sample, pair[0]!, pair[1]!);
    }
  }
}
