import type { Material } from '../../level';
import { AUREOLE_COUNT, DOME_LOWER } from '../../sky';
import { LUMINANCE_WEIGHTS } from '../../units';
import { newHit } from '../../trace';
import type { BouncedLight } from './bouncedLight';
import { SKY_STEP, SUN_STEP, createPlaces, type DirectLight } from './directLight';
import { createLampChooser, newLampSample } from '../sampling/lampSampling';
import { cosineDirection, samplePair } from '../sampling/sobol';
import type { Scene } from './scene';
import { FIRST_SUN_LAYER, GLOW_LAYER, SKY_LAYERS, aureoleLayer, circuitLayer, layerCount } from '../stems/layers';
import { aureolesOf, isCues, type BakePlan } from '../plan/bakePlan';
import { EVEN_SKY, createSkyFunctions } from './skyFunctions';
import { AIMS, SurfacePoint, firstAim, keepOutside, sunDiscs } from './surfacePoint';

/** Paths whose throughput falls below this are ended by Russian roulette. */
const ROULETTE = 0.1;
/** Pairs of the sampling sequence that one step of a path uses. */
export const PAIRS = { direction: 0, lamp: 1, onLamp: 2, roulette: 3, guide: 4, length: 5 } as const;
/** Kinds of light whose noise is watched: the sky, all suns together, all circuits together, and each cue's sun. */
export const [SKY, SUNS, LAMPS, FIRST_CUE] = [0, 1, 2, 3] as const;
export const kindsOf = (plan: Pick<BakePlan, 'suns'>): number => FIRST_CUE + plan.suns.filter(isCues).length;
/** The kind of light of each sun that is a cue's, 0 for the others. */
export function sunKinds({ suns }: Pick<BakePlan, 'suns'>): Uint16Array {
  const kinds = new Uint16Array(suns.length);
  suns.filter(isCues).forEach((sun, k) => (kinds[suns.indexOf(sun)] = FIRST_CUE + k));
  return kinds;
}

/** In place of a circuit, where the glow of a material goes into a light that is not traced now. */
const NOT_TRACED = -2;

/** Suns that are asked by shadow rays where no light was kept; they speak for the others that a surface faces. */
const SUNS_ASKED = 8;

/** Light whose variance is known as one: the first of its layers tells it. */
export interface VarianceSlot {
  layer: number;
  layers: number;
  /** What the luminance of the first layer is multiplied by. */
  scale: number;
}

/** Slots of a texel's variance, by layer: sky, glow, each sun's bounce, each circuit's glow seen straight and its bounce, each aureole. */
export function varianceSlots(plan: Pick<BakePlan, 'suns' | 'circuits'>): VarianceSlot[] {
  const one = (layer: number): VarianceSlot => ({ layer, layers: 1, scale: 1 });
  return [
    { layer: 0, layers: SKY_LAYERS, scale: EVEN_SKY },
    one(GLOW_LAYER),
    ...plan.suns.map((_, s) => one(FIRST_SUN_LAYER + s)),
    ...plan.circuits.flatMap((_, c) => [one(circuitLayer(plan, c)), one(circuitLayer(plan, c) + 1)]),
    ...aureolesOf(plan.suns).map((_, a) => ({ layer: aureoleLayer(plan, a), layers: AUREOLE_COUNT, scale: 1 })),
  ];
}

/** The luminance of a texel's sums in a slot; of the sky's, that under an even one, which each half has a function for. */
export function slotLight(sums: ArrayLike<number>, { layer, scale }: VarianceSlot): number {
  const at = layer * 3;
  const own = luma(sums[at]!, sums[at + 1]!, sums[at + 2]!);
  const lower = DOME_LOWER * 3;
  return scale * (at === 0 ? own + luma(sums[lower]!, sums[lower + 1]!, sums[lower + 2]!) : own);
}

export type PathTracer = ReturnType<typeof createPathTracer>;

/**
 * What the luminance of each layer counts for in each kind of light: kind after kind, one number for each layer. The sky is judged by an even one,
 * lamps and glows by how bright they are where they shine.
 */
export function kindWeights({ surfaces: { materials } }: Scene, plan: BakePlan, light: DirectLight): Float64Array {
  const layers = layerCount(plan);
  const out = new Float64Array(kindsOf(plan) * layers);
  const { layers: skies, weights } = createSkyFunctions(plan);
  skies.forEach((layer, i) => (out[SKY * layers + layer] = weights[i]!));
  const kindOf = sunKinds(plan);
  plan.suns.forEach((_, s) => {
    out[SUNS * layers + FIRST_SUN_LAYER + s] = 1 / plan.suns.length;
    if (kindOf[s]! > 0) out[kindOf[s]! * layers + FIRST_SUN_LAYER + s] = 1;
  });
  const glows = glowScales(plan, materials);
  out[LAMPS * layers + GLOW_LAYER] = glows.of(-1);
  plan.circuits.forEach((_, c) => {
    const lamps = light.scales[c]!;
    out[LAMPS * layers + circuitLayer(plan, c) + 1] = lamps > 0 ? 1 / lamps : glows.of(c);
  });
  return out;
}

/** The circuit that each material glows with, -1 for none, and what its luminance counts for beside that of the brightest that glows with it. */
function glowScales(plan: BakePlan, materials: readonly Material[]) {
  const circuitOf = new Map(plan.circuits.map(({ id }, i) => [id, i]));
  const circuits = Int16Array.from(materials, ({ lightId }) => (lightId === undefined ? -1 : (circuitOf.get(lightId) ?? NOT_TRACED)));
  const of = (circuit: number): number => {
    const brightest = Math.max(0, ...materials.map(({ emission: [r, g, b] }, m) => (circuits[m] === circuit ? luma(r, g, b) : 0)));
    return brightest > 0 ? 1 / brightest : 0;
  };
  return { circuits, of };
}

/**
 * Follows paths that find the light of a level. `here` is where they leave from, `direction` where to, `path` what the last one brought.
 *
 * @param bounced taken where a path lands, besides the straight light there; null for what it is found by, which asks for no sky that is seen straight
 */
export function createPathTracer(scene: Scene, plan: BakePlan, light: DirectLight, bounced: BouncedLight | null) {
  const { materialOf, materials } = scene.surfaces;
  const placeOf = createPlaces(scene.surfaces, light);
  const suns = plan.suns.length;
  const circuits = plan.circuits.length;
  const discs = sunDiscs(plan.suns);
  const chooser = createLampChooser(plan);
  const glows = glowScales(plan, materials);
  const glowCircuit = glows.circuits;
  const glowScale = Float64Array.from(glowCircuit, glows.of);
  const firstSun = FIRST_SUN_LAYER * 3;
  const firstCircuit = circuitLayer(plan, 0) * 3;
  const { count: skies, layers: skyLayers, weights, evaluate } = createSkyFunctions(plan);
  const skyPlaces = Uint32Array.from(skyLayers, (layer) => layer * 3);
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
  const numbers = layerCount(plan) * 3;
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

  /** Adds the straight light kept at a place, which the sky, all suns and circuits have there. */
  function addKept(sums: Float64Array, place: number, tr: number, tg: number, tb: number): void {
    const level = luma(tr, tg, tb);
    if (skies > 0) addKeptSky(sums, place, tr, tg, tb, level);
    const [r, g, b] = [tr * SUN_STEP, tg * SUN_STEP, tb * SUN_STEP];
    let all = 0;
    for (let s = 0, at = place * suns, to = firstSun; s < suns; s++, at++, to += 3) {
      const steps = light.suns[at]!;
      if (steps === 0) continue;
      sums[to]! += r * steps;
      sums[to + 1]! += g * steps;
      sums[to + 2]! += b * steps;
      if (kindOf[s]! > 0) path[kindOf[s]!]! += level * SUN_STEP * steps;
      all += steps;
    }
    path[SUNS]! += level * SUN_STEP * all * sunScale;
    for (let c = 0, at = place * circuits * 3; c < circuits; c++, at += 3)
      addCircuit(sums, c, tr * light.circuits[at]!, tg * light.circuits[at + 1]!, tb * light.circuits[at + 2]!);
  }

  function addKeptSky(sums: Float64Array, place: number, tr: number, tg: number, tb: number, level: number): void {
    const [r, g, b] = [tr * SKY_STEP, tg * SKY_STEP, tb * SKY_STEP];
    const first = place * skies;
    for (let i = 0; i < skies; i++) {
      const steps = light.skies[first + i]!;
      if (steps === 0) continue;
      const to = skyPlaces[i]!;
      sums[to]! += r * steps;
      sums[to + 1]! += g * steps;
      sums[to + 2]! += b * steps;
    }
    for (const i of counted) path[SKY]! += level * SKY_STEP * light.skies[first + i]! * weights[i]!;
  }

  /** Adds the bounced light at a place. */
  function addBounced({ cellOf, values, kinds: ofCells }: BouncedLight, sums: Float64Array, place: number, tr: number, tg: number, tb: number): void {
    const cell = cellOf[place]!;
    for (let k = 0, from = cell * numbers; k < numbers; k += 3, from += 3) {
      sums[k]! += tr * values[from]!;
      sums[k + 1]! += tg * values[from + 1]!;
      sums[k + 2]! += tb * values[from + 2]!;
    }
    const level = luma(tr, tg, tb);
    for (let kind = 0; kind < kinds; kind++) path[kind]! += level * ofCells[cell * kinds + kind]!;
  }

  function addCircuit(sums: Float64Array, circuit: number, r: number, g: number, b: number): void {
    const level = luma(r, g, b);
    if (level === 0) return;
    const to = firstCircuit + (2 * circuit + 1) * 3;
    sums[to]! += r;
    sums[to + 1]! += g;
    sums[to + 2]! += b;
    path[LAMPS]! += level * lampScale[circuit]!;
  }

  /**
   * Adds the hue that panes give the straight light of suns: their stems keep its luminance apart, and the rest of each colour, which may be under
   * nought, goes with what is bounced.
   */
  function addStraightHue(sums: Float64Array, sample: number, seed: number): void {
    for (let s = 0; s < suns; s++) {
      if (!isCues(plan.suns[s]!) || !isFaced(s, here.normal)) continue;
      const at = (s * AIMS + ((firstAim(seed, 1) + sample) & (AIMS - 1))) * 3;
      for (let c = 0; c < 3; c++) aim[c] = discs.aims[at + c]!;
      const cosine = here.cosine(aim);
      if (cosine === 0 || here.isOccluded(aim)) continue;
      const grey = luma(passed[0]!, passed[1]!, passed[2]!);
      const to = firstSun + s * 3;
      for (let c = 0; c < 3; c++) sums[to + c]! += ((passed[c]! - grey) * cosine) / Math.PI;
    }
  }

  /** Whether any part of a sun's disc may be over the horizon of a normal. */
  function isFaced(s: number, normal: Float64Array): boolean {
    const [x, y, z] = [discs.axes[s * 3]!, discs.axes[s * 3 + 1]!, discs.axes[s * 3 + 2]!];
    return (x !== 0 || y !== 0 || z !== 0) && normal[0]! * x + normal[1]! * y + normal[2]! * z > -discs.sinRadius[s]!;
  }

  /** Adds what a sun gives here, asked by one shadow ray, times `share`. */
  function addSun(sums: Float64Array, s: number, share: number, sample: number, seed: number, tr: number, tg: number, tb: number): void {
    const at = (s * AIMS + ((firstAim(seed, 1) + sample) & (AIMS - 1))) * 3;
    for (let c = 0; c < 3; c++) aim[c] = discs.aims[at + c]!;
    const cosine = here.cosine(aim);
    if (cosine === 0) return;
    if (here.isOccluded(aim)) return;
    const lit = (share * cosine) / Math.PI;
    const to = firstSun + s * 3;
    const [r, g, b] = [tr * passed[0]! * lit, tg * passed[1]! * lit, tb * passed[2]! * lit];
    sums[to]! += r;
    sums[to + 1]! += g;
    sums[to + 2]! += b;
    const level = luma(r, g, b);
    path[SUNS]! += level * sunScale;
    if (kindOf[s]! > 0) path[kindOf[s]!]! += level;
  }

  /** Asks some of the suns and one lamp, which speak for all, by shadow rays: where no light was kept. */
  function addAsked(sums: Float64Array, depth: number, sample: number, seed: number, tr: number, tg: number, tb: number): void {
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
      addSun(sums, s, facing / asked, sample, seed, tr, tg, tb);
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
    addCircuit(sums, circuit, tr * r * passed[0]! * lit, tg * g * passed[1]! * lit, tb * b * passed[2]! * lit);
  }

  function addGlow(sums: Float64Array, triangle: number, depth: number, tr: number, tg: number, tb: number): void {
    const material = materialOf[triangle]!;
    const circuit = glowCircuit[material]!;
    if (circuit === NOT_TRACED) return;
    const bounced = depth > 0 ? 1 : 0;
    const to = circuit < 0 ? GLOW_LAYER * 3 : firstCircuit + (2 * circuit + bounced) * 3;
    const [r, g, b] = [tr * rgb[0]!, tg * rgb[1]!, tb * rgb[2]!];
    sums[to]! += r;
    sums[to + 1]! += g;
    sums[to + 2]! += b;
    path[LAMPS]! += luma(r, g, b) * glowScale[material]!;
  }

  function addSky(sums: Float64Array, tr: number, tg: number, tb: number): void {
    evaluate(direction[0]!, direction[1]!, direction[2]!, basis);
    for (let i = 0; i < skies; i++) {
      const b = basis[i]!;
      if (b === 0) continue;
      const to = skyPlaces[i]!;
      sums[to]! += tr * b;
      sums[to + 1]! += tg * b;
      sums[to + 2]! += tb * b;
    }
    const level = luma(tr, tg, tb);
    for (const i of counted) path[SKY]! += level * basis[i]! * weights[i]!;
  }

  /**
   * Follows one path from where `here` stands, in `direction`, weighed by `weight`; `sums` holds three numbers (RGB) for each layer. It ends where
   * it lands on what has a lightmap: answers that place, and leaves in `throughput` what of the light there it brings; -1 where it ends elsewhere.
   */
  function followPath(sums: Float64Array, sample: number, seed: number, weight: number): number {
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
        if (skies > 0 && (bounced || depth > 0)) addSky(sums, tr, tg, tb);
        return -1;
      }
      const { triangle, u, v, back } = hit;
      if (back && !scene.doubleSided(triangle)) return -1;
      if (scene.emission(triangle, u, v, rgb)) addGlow(sums, triangle, depth, tr, tg, tb);
      if (depth >= plan.bounces) return -1;
      scene.albedo(triangle, u, v, rgb);
      tr *= rgb[0]!;
      tg *= rgb[1]!;
      tb *= rgb[2]!;
      const strongest = Math.max(tr, tg, tb);
      if (strongest === 0) return -1;
      const place = placeOf(triangle, u, v, back);
      if (place >= 0) {
        addKept(sums, place, tr, tg, tb);
        if (bounced) addBounced(bounced, sums, place, tr, tg, tb);
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
      addAsked(sums, depth, sample, seed, tr, tg, tb);
    }
  }

  return {
    here,
    direction,
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
