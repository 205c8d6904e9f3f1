import { LUMINANCE_WEIGHTS } from '../../units';
import { newHit, openLightSums } from '../../trace';
import type { LevelLight } from './bouncedLight';
import { createPlaces, type DirectLight } from './directLight';
import { createLampChooser, newLampSample } from '../sampling/lampSampling';
import { cosineDirection, samplePair } from '../sampling/sobol';
import type { Scene } from './scene';
import { FIRST_SUN_LAYER, GLOW_LAYER, circuitLayer } from '../stems/layers';
import { isCues, type BakePlan } from '../plan/bakePlan';
import { LAMPS, NOT_TRACED, SKY, SUNS, glowsOf, kindsOf, sunKinds, varianceSlots } from './lightKinds';
import { createSkyFunctions } from './skyFunctions';
import { AIMS, SurfacePoint, firstAim, keepOutside, sunDiscs } from './surfacePoint';

/** Paths whose throughput falls below this are ended by Russian roulette. */
const ROULETTE = 0.1;
/** Pairs of the sampling sequence that one step of a path uses. */
export const PAIRS = { direction: 0, lamp: 1, onLamp: 2, roulette: 3, guide: 4, length: 5 } as const;
/** Suns that are asked by shadow rays where no light was kept; they speak for the others that a surface faces. */
const SUNS_ASKED = 8;

export type PathTracer = ReturnType<typeof createPathTracer>;

/**
 * Follows paths that find the light of a level. `here` is where they leave from, `direction` where to, `path` what the last one brought.
 *
 * @param bounced taken where a path lands, besides the straight light there; null for what it is found by, which asks for no sky that is seen straight
 */
export function createPathTracer(scene: Scene, plan: BakePlan, light: DirectLight, cells: LevelLight['cells'] | null) {
  const { materialOf, materials } = scene.surfaces;
  const placeOf = createPlaces(scene.surfaces, light);
  const suns = plan.suns.length;
  const discs = sunDiscs(plan.suns);
  const chooser = createLampChooser(plan);
  const glows = glowsOf(plan, materials);
  const glowCircuit = glows.circuits;
  const glowScale = Float64Array.from(glowCircuit, glows.scaleOf);
  const firstSun = FIRST_SUN_LAYER * 4;
  const firstCircuit = circuitLayer(plan, 0) * 4;
  const { count: skies, layers: skyLayers, bounceLayers, weights, evaluate } = createSkyFunctions(plan);
  const skyPlaces = Uint32Array.from(skyLayers, (layer) => layer * 4);
  const bouncePlaces = Int32Array.from(bounceLayers, (layer) => layer * 4);
  /** Those functions that count for the light by which noise is judged. */
  const counted = [...weights.keys()].filter((i) => weights[i] !== 0);

  const hit = newHit();
  const here = new SurfacePoint(scene);
  const { passed } = here;
  const direction = new Float64Array(3);
  const aim = new Float64Array(3);
  const lampSample = newLampSample();
  const rgb = new Float64Array(3);
  const pair = new Float64Array(2);
  const basis = new Float64Array(skies);

  // Of each path: the luminance that it brings of each kind.
  const kinds = kindsOf(plan);
  const path = new Float64Array(kinds);
  const stored = openLightSums(light.room, cells?.at ?? 0, varianceSlots(plan));
  let texel = 0;
  let own = stored.sums(texel);
  const throughput = new Float64Array(3);
  const kindOf = sunKinds(plan);
  const lampScale = Float64Array.from(light.scales, (v) => (v > 0 ? 1 / v : 0));
  const sunScale = suns > 0 ? 1 / suns : 0;

  /** Leaves the surface: cosine-weighted, kept on the outer side of the flat face under a rounded normal. */
  function scatter(sample: number, pairIndex: number, seed: number): void {
    const { normal, face } = here;
    samplePair(sample, pairIndex, seed, pair);
    cosineDirection(normal[0]!, normal[1]!, normal[2]!, pair[0]!, pair[1]!, direction);
    keepOutside(direction, face);
  }

  /** Takes the light that is stored for a place: its sums are made later, many at once. */
  function land(place: number, tr: number, tg: number, tb: number): void {
    const cell = cells ? cells.cellOf[place]! : -1;
    stored.land(texel, place, cell, tr, tg, tb);
    const level = luma(tr, tg, tb);
    for (let kind = 0; kind < kinds; kind++) {
      const bounced = cells ? cells.kinds[cell * kinds + kind]! : 0;
      path[kind]! += level * (light.kinds[place * kinds + kind]! + bounced);
    }
  }

  function addAt(to: number, r: number, g: number, b: number): void {
    own[to]! += r;
    own[to + 1]! += g;
    own[to + 2]! += b;
  }

  function addCircuit(circuit: number, r: number, g: number, b: number): void {
    const level = luma(r, g, b);
    if (level === 0) return;
    const to = firstCircuit + (2 * circuit + 1) * 4;
    own[to]! += r;
    own[to + 1]! += g;
    own[to + 2]! += b;
    path[LAMPS]! += level * lampScale[circuit]!;
  }

  /**
   * Adds the hue that panes give the straight light of suns: their stems keep its luminance apart, and the rest of each colour, which may be under
   * nought, goes with what is bounced.
   */
  function addStraightHue(sample: number, seed: number): void {
    for (let s = 0; s < suns; s++) {
      if (!isCues(plan.suns[s]!) || !isFaced(s, here.normal)) continue;
      const at = (s * AIMS + ((firstAim(seed, 1) + sample) & (AIMS - 1))) * 3;
      for (let c = 0; c < 3; c++) aim[c] = discs.aims[at + c]!;
      const cosine = here.cosine(aim);
      if (cosine === 0 || here.isOccluded(aim)) continue;
      const grey = luma(passed[0]!, passed[1]!, passed[2]!);
      const to = firstSun + s * 4;
      for (let c = 0; c < 3; c++) own[to + c]! += ((passed[c]! - grey) * cosine) / Math.PI;
    }
  }

  /** Whether any part of a sun's disc may be over the horizon of a normal. */
  function isFaced(s: number, normal: Float64Array): boolean {
    const [x, y, z] = [discs.axes[s * 3]!, discs.axes[s * 3 + 1]!, discs.axes[s * 3 + 2]!];
    return (x !== 0 || y !== 0 || z !== 0) && normal[0]! * x + normal[1]! * y + normal[2]! * z > -discs.sinRadius[s]!;
  }

  /** Adds what a sun gives here, asked by one shadow ray, times `share`. */
  function addSun(s: number, share: number, sample: number, seed: number, tr: number, tg: number, tb: number): void {
    const at = (s * AIMS + ((firstAim(seed, 1) + sample) & (AIMS - 1))) * 3;
    for (let c = 0; c < 3; c++) aim[c] = discs.aims[at + c]!;
    const cosine = here.cosine(aim);
    if (cosine === 0) return;
    if (here.isOccluded(aim)) return;
    const lit = (share * cosine) / Math.PI;
    const to = firstSun + s * 4;
    const [r, g, b] = [tr * passed[0]! * lit, tg * passed[1]! * lit, tb * passed[2]! * lit];
    own[to]! += r;
    own[to + 1]! += g;
    own[to + 2]! += b;
    const level = luma(r, g, b);
    path[SUNS]! += level * sunScale;
    if (kindOf[s]! > 0) path[kindOf[s]!]! += level;
  }

  /** Asks some of the suns and one lamp, which speak for all, by shadow rays: where no light was kept. */
  function addAsked(depth: number, sample: number, seed: number, tr: number, tg: number, tb: number): void {
    const pairs = depth * PAIRS.length;
    const { normal, position } = here;
    let facing = 0;
    for (let s = 0; s < suns; s++) if (isFaced(s, normal)) facing++;
    const asked = Math.min(SUNS_ASKED, facing);
    const begin = (seed + sample * asked + depth) % Math.max(1, facing);
    for (let k = 0, s = -1, nth = -1; k < asked; k++) {
      // Evenly among those that are faced: the k-th of them.
      const wanted = (begin + Math.floor((k * facing) / asked)) % facing;
      if (wanted < nth) [s, nth] = [-1, -1];
      while (nth < wanted) if (isFaced(++s, normal)) nth++;
      addSun(s, facing / asked, sample, seed, tr, tg, tb);
    }
    if (chooser.lamps.length === 0) return;
    samplePair(sample, pairs + PAIRS.lamp, seed, pair);
    const chosen = chooser.choose(position[0]!, position[1]!, position[2]!, pair[0]!);
    if (chosen < 0) return;
    const { emitter, circuit } = chooser.lamps[chosen]!;
    samplePair(sample, pairs + PAIRS.onLamp, seed, pair);
    const lit = here.lampLux(emitter, pair[0]!, pair[1]!, lampSample) / chooser.chance;
    if (lit === 0) return;
    const [r, g, b] = emitter.color;
    addCircuit(circuit, tr * r * passed[0]! * lit, tg * g * passed[1]! * lit, tb * b * passed[2]! * lit);
  }

  function addGlow(triangle: number, depth: number, tr: number, tg: number, tb: number): void {
    const material = materialOf[triangle]!;
    const circuit = glowCircuit[material]!;
    if (circuit === NOT_TRACED) return;
    const bounced = depth > 0 ? 1 : 0;
    const to = (circuit < 0 ? GLOW_LAYER * 4 : firstCircuit + 2 * circuit * 4) + bounced * 4;
    const [r, g, b] = [tr * rgb[0]!, tg * rgb[1]!, tb * rgb[2]!];
    own[to]! += r;
    own[to + 1]! += g;
    own[to + 2]! += b;
    path[LAMPS]! += luma(r, g, b) * glowScale[material]!;
  }

  function addSky(depth: number, tr: number, tg: number, tb: number): void {
    evaluate(direction[0]!, direction[1]!, direction[2]!, basis);
    for (let i = 0; i < skies; i++) {
      const b = basis[i]!;
      if (b === 0) continue;
      addAt(skyPlaces[i]!, tr * b, tg * b, tb * b);
      if (depth > 0 && bouncePlaces[i]! >= 0) addAt(bouncePlaces[i]!, tr * b, tg * b, tb * b);
    }
    const level = luma(tr, tg, tb);
    for (const i of counted) path[SKY]! += level * basis[i]! * weights[i]!;
  }

  /**
   * Follows one path from where `here` stands, in `direction`, weighed by `weight`. It ends where it lands on what has a lightmap: answers that
   * place, and leaves in `throughput` what of the light there it brings; -1 where it ends elsewhere.
   */
  function followPath(sample: number, seed: number, weight: number): number {
    let [tr, tg, tb] = [weight, weight, weight];
    for (let depth = 0; ; depth++) {
      const pairs = depth * PAIRS.length;
      if (depth > 0) scatter(sample, pairs + PAIRS.direction, seed);
      const meets = here.meets(direction, hit);
      if (scene.hasPanes) {
        tr *= passed[0]!;
        tg *= passed[1]!;
        tb *= passed[2]!;
      }
      if (!meets) {
        if (skies > 0 && (cells || depth > 0)) addSky(depth, tr, tg, tb);
        return -1;
      }
      const { triangle, u, v, back } = hit;
      if (back && !scene.doubleSided(triangle)) return -1;
      if (scene.emission(triangle, u, v, rgb)) addGlow(triangle, depth, tr, tg, tb);
      if (depth >= plan.bounces) return -1;
      scene.albedo(triangle, u, v, rgb);
      tr *= rgb[0]!;
      tg *= rgb[1]!;
      tb *= rgb[2]!;
      const strongest = Math.max(tr, tg, tb);
      if (strongest === 0) return -1;
      const place = placeOf(triangle, u, v, back);
      if (place >= 0) {
        land(place, tr, tg, tb);
        throughput[0] = tr;
        throughput[1] = tg;
        throughput[2] = tb;
        return place;
      }
      if (strongest < ROULETTE) {
        samplePair(sample, pairs + PAIRS.roulette, seed, pair);
        if (pair[0]! * ROULETTE >= strongest) return -1;
        const kept = ROULETTE / strongest;
        tr *= kept;
        tg *= kept;
        tb *= kept;
      }
      here.stand(triangle, u, v, back);
      addAsked(depth, sample, seed, tr, tg, tb);
    }
  }

  return {
    here,
    direction,
    stored,
    /** Paths are followed from one of {@link SUMMED_TEXELS} texels from now on: what they bring is added to its sums. */
    begin(of: number): void {
      texel = of;
      own = stored.sums(of);
    },
    path,
    throughput,
    scatter,
    addStraightHue,
    follow: followPath,
    rays: () => here.rays,
  };
}

const [WR, WG, WB] = LUMINANCE_WEIGHTS;
/** Luminance of a linear RGB. */
export const luma = (r: number, g: number, b: number): number => WR * r + WG * g + WB * b;
