import { domeBasis } from '../../sky';
import { LUMINANCE_WEIGHTS } from '../../units';
import { newHit } from '../../trace';
import { SUN_STEP, createPlaces, type DirectLight } from './directLight';
import { createLampChooser, newLampSample } from '../sampling/lampSampling';
import { cosineDirection, samplePair } from '../sampling/sobol';
import type { Scene } from './scene';
import { FIRST_SUN_LAYER, GLOW_LAYER, SKY_LAYERS, circuitLayer } from '../stems/layers';
import { type BakePlan } from '../plan/bakePlan';
import { AIMS, SurfacePoint, firstAim, sunDiscs } from './surfacePoint';

/** Paths whose throughput falls below this are ended by Russian roulette. */
const ROULETTE = 0.1;
/** Pairs of the sampling sequence that one step of a path uses. */
export const PAIRS = { direction: 0, lamp: 1, onLamp: 2, roulette: 3, guide: 4, length: 5 } as const;
/** Kinds of light whose noise is watched. */
export const [SKY, SUNS, LAMPS, KINDS] = [0, 1, 2, 3] as const;
/** Suns that are asked by shadow rays where no light was kept; they speak for the others that a surface faces. */
const SUNS_ASKED = 8;

/** Slots of a texel's variance: sky, glow, each sun's bounce, each circuit's glow seen straight and its bounce. */
export const varianceSlots = (plan: Pick<BakePlan, 'suns' | 'circuits'>): number => 2 + plan.suns.length + 2 * plan.circuits.length;

/** Where the light of each slot of the variance stands among the sums of a texel, and what the luminance there is multiplied by. */
export function slotPlaces(plan: Pick<BakePlan, 'suns' | 'circuits'>): { at: number; scale: number }[] {
  const layers = [
    0,
    GLOW_LAYER,
    ...plan.suns.map((_, s) => FIRST_SUN_LAYER + s),
    ...plan.circuits.flatMap((_, c) => [circuitLayer(plan, c), circuitLayer(plan, c) + 1]),
  ];
  // The sky's light stands in its first coefficient, times the first function.
  return layers.map((layer, slot) => ({ at: layer * 3, scale: slot === 0 ? 2 * Math.sqrt(Math.PI) : 1 }));
}

/** What paths add to. */
export interface Sums {
  /** Three numbers (RGB) for each layer. */
  sums: Float64Array;
  /** Squares of the luminance that each step of a path brought, by the slots of the variance. */
  squares: Float64Array;
}

/** Follows paths that find the straight light of a level. `here` is where they leave from, `direction` where to, `path` what the last one brought. */
export function createPathTracer(scene: Scene, plan: BakePlan, light: DirectLight) {
  const { materialOf, materials } = scene.surfaces;
  const placeOf = createPlaces(scene.surfaces, light);
  const suns = plan.suns.length;
  const circuits = plan.circuits.length;
  const discs = sunDiscs(plan.suns);
  const chooser = createLampChooser(plan);
  const circuitOfGlow = new Map(plan.circuits.flatMap((c, i) => c.glows.map((name) => [name, i] as const)));
  const glowCircuit = Int16Array.from(materials, (m) => circuitOfGlow.get(m.name) ?? -1);
  const brightest = Math.max(0, ...materials.map(({ emission: [r, g, b] }) => luma(r, g, b)));
  const firstSun = FIRST_SUN_LAYER * 3;
  const firstCircuit = circuitLayer(plan, 0) * 3;
  const sky = !plan.partly;

  const hit = newHit();
  const here = new SurfacePoint(scene);
  const direction = new Float64Array(3);
  const aim = new Float64Array(3);
  const lampSample = newLampSample();
  const rgb = new Float64Array(3);
  const pair = new Float64Array(2);
  const basis = new Float64Array(SKY_LAYERS);

  // Of each path: the luminance that it brings of all of the sky, of suns, and of lamps and glow.
  const path = new Float64Array(KINDS);
  const firstSunSlot = 2;
  const firstCircuitSlot = 2 + suns;
  const lampScale = Float64Array.from(light.scales, (v) => (v > 0 ? 1 / v : 0));
  const glowScale = brightest > 0 ? 1 / brightest : 0;
  const sunScale = suns > 0 ? 1 / suns : 0;

  /** Leaves the surface: cosine-weighted, kept on the outer side of the flat face under a rounded normal. */
  function scatter(sample: number, pairIndex: number, seed: number): void {
    const { normal, face } = here;
    samplePair(sample, pairIndex, seed, pair);
    cosineDirection(normal[0]!, normal[1]!, normal[2]!, pair[0]!, pair[1]!, direction);
    const above = face[0]! * direction[0]! + face[1]! * direction[1]! + face[2]! * direction[2]!;
    if (above < 0) for (let c = 0; c < 3; c++) direction[c]! -= 2 * above * face[c]!;
  }

  /** Adds the straight light kept at a place, which all suns and circuits have there. */
  function addKept({ sums, squares }: Sums, place: number, tr: number, tg: number, tb: number): void {
    const level = luma(tr, tg, tb) * SUN_STEP;
    const [r, g, b] = [tr * SUN_STEP, tg * SUN_STEP, tb * SUN_STEP];
    let all = 0;
    for (let s = 0, at = place * suns, to = firstSun; s < suns; s++, at++, to += 3) {
      const steps = light.suns[at]!;
      if (steps === 0) continue;
      sums[to]! += r * steps;
      sums[to + 1]! += g * steps;
      sums[to + 2]! += b * steps;
      const brought = level * steps;
      squares[firstSunSlot + s]! += brought * brought;
      all += steps;
    }
    path[SUNS]! += level * all * sunScale;
    for (let c = 0, at = place * circuits * 3; c < circuits; c++, at += 3)
      addCircuit(sums, squares, c, tr * light.circuits[at]!, tg * light.circuits[at + 1]!, tb * light.circuits[at + 2]!);
  }

  function addCircuit(sums: Float64Array, squares: Float64Array, circuit: number, r: number, g: number, b: number): void {
    const level = luma(r, g, b);
    if (level === 0) return;
    const to = firstCircuit + (2 * circuit + 1) * 3;
    sums[to]! += r;
    sums[to + 1]! += g;
    sums[to + 2]! += b;
    squares[firstCircuitSlot + 2 * circuit + 1]! += level * level;
    path[LAMPS]! += level * lampScale[circuit]!;
  }

  /** Whether any part of a sun's disc may be over the horizon of a normal. */
  function isFaced(s: number, normal: Float64Array): boolean {
    const [x, y, z] = [discs.axes[s * 3]!, discs.axes[s * 3 + 1]!, discs.axes[s * 3 + 2]!];
    return (x !== 0 || y !== 0 || z !== 0) && normal[0]! * x + normal[1]! * y + normal[2]! * z > -discs.sinRadius[s]!;
  }

  /** Adds what a sun gives here, asked by one shadow ray, times `share`. */
  function addSun(
    sums: Float64Array,
    squares: Float64Array,
    s: number,
    share: number,
    sample: number,
    seed: number,
    tr: number,
    tg: number,
    tb: number,
  ): void {
    const at = (s * AIMS + ((firstAim(seed, 1) + sample) & (AIMS - 1))) * 3;
    for (let c = 0; c < 3; c++) aim[c] = discs.aims[at + c]!;
    const cosine = here.cosine(aim);
    if (cosine === 0) return;
    if (here.isOccluded(aim)) return;
    const lit = (share * cosine) / Math.PI;
    const to = firstSun + s * 3;
    sums[to]! += tr * lit;
    sums[to + 1]! += tg * lit;
    sums[to + 2]! += tb * lit;
    const level = lit * luma(tr, tg, tb);
    squares[firstSunSlot + s]! += level * level;
    path[SUNS]! += level * sunScale;
  }

  /** Asks some of the suns and one lamp, which speak for all, by shadow rays: where no light was kept. */
  function addAsked({ sums, squares }: Sums, depth: number, sample: number, seed: number, tr: number, tg: number, tb: number): void {
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
      addSun(sums, squares, s, facing / asked, sample, seed, tr, tg, tb);
    }
    if (chooser.lamps.length === 0) return;
    samplePair(sample, pairs + PAIRS.lamp, seed, pair);
    const chosen = chooser.choose(position[0]!, position[1]!, position[2]!, pair[0]!);
    if (chosen < 0) return;
    const { emitter, circuit } = chooser.lamps[chosen]!;
    samplePair(sample, pairs + PAIRS.onLamp, seed, pair);
    const lit = here.lampLux(emitter, pair[0]!, pair[1]!, lampSample) / chooser.chance;
    if (lit === 0) return;
    addCircuit(sums, squares, circuit, tr * emitter.color[0] * lit, tg * emitter.color[1] * lit, tb * emitter.color[2] * lit);
  }

  function addGlow({ sums, squares }: Sums, triangle: number, depth: number, tr: number, tg: number, tb: number): void {
    const circuit = glowCircuit[materialOf[triangle]!]!;
    const bounced = depth > 0 ? 1 : 0;
    const to = circuit < 0 ? GLOW_LAYER * 3 : firstCircuit + (2 * circuit + bounced) * 3;
    const [r, g, b] = [tr * rgb[0]!, tg * rgb[1]!, tb * rgb[2]!];
    sums[to]! += r;
    sums[to + 1]! += g;
    sums[to + 2]! += b;
    const level = luma(r, g, b);
    squares[circuit < 0 ? 1 : firstCircuitSlot + 2 * circuit + bounced]! += level * level;
    path[LAMPS]! += level * glowScale;
  }

  /** Follows one path from where `here` stands, in `direction`, weighed by `weight`. */
  function followPath(texel: Sums, sample: number, seed: number, weight: number): void {
    const { sums, squares } = texel;
    let [tr, tg, tb] = [weight, weight, weight];
    for (let depth = 0; ; depth++) {
      const pairs = depth * PAIRS.length;
      if (depth > 0) scatter(sample, pairs + PAIRS.direction, seed);
      if (!here.meets(direction, hit)) {
        if (!sky) return;
        domeBasis(direction[0]!, direction[1]!, direction[2]!, basis);
        for (let i = 0, to = 0; i < SKY_LAYERS; i++, to += 3) {
          const b = basis[i]!;
          sums[to]! += tr * b;
          sums[to + 1]! += tg * b;
          sums[to + 2]! += tb * b;
        }
        const level = luma(tr, tg, tb);
        squares[0]! += level * level;
        path[SKY]! += level;
        return;
      }
      const { triangle, u, v, back } = hit;
      if (back && !scene.doubleSided(triangle)) return;
      if (scene.emission(triangle, u, v, rgb)) addGlow(texel, triangle, depth, tr, tg, tb);
      if (depth >= plan.bounces) return;
      scene.albedo(triangle, u, v, rgb);
      tr *= rgb[0]!;
      tg *= rgb[1]!;
      tb *= rgb[2]!;
      const strongest = Math.max(tr, tg, tb);
      if (strongest === 0) return;
      if (strongest < ROULETTE) {
        samplePair(sample, pairs + PAIRS.roulette, seed, pair);
        if (pair[0]! * ROULETTE >= strongest) return;
        const kept = ROULETTE / strongest;
        tr *= kept;
        tg *= kept;
        tb *= kept;
      }
      here.stand(triangle, u, v, back);
      const place = placeOf(triangle, u, v, back);
      if (place >= 0) addKept(texel, place, tr, tg, tb);
      else addAsked(texel, depth, sample, seed, tr, tg, tb);
    }
  }

  return {
    here,
    direction,
    path,
    scatter,
    follow: followPath,
    rays: () => here.rays,
  };
}

const [WR, WG, WB] = LUMINANCE_WEIGHTS;
/** Luminance of a linear RGB. */
export const luma = (r: number, g: number, b: number): number => WR * r + WG * g + WB * b;
