import { RAY, newHit } from '../../trace';
import { LUMINANCE_WEIGHTS } from '../../units';
import { createLampChooser, newLampSample, type BakedLamp } from '../sampling/lampSampling';
import { cosineDirection, hash32, samplePair, texelSeed } from '../sampling/sobol';
import type { Scene } from './scene';
import { isCues, sunDirection, type BakePlan } from '../plan/bakePlan';
import { createSkyFunctions, skyNumbers } from './skyFunctions';
import { SurfacePoint, firstAim, keepOutside, sunDiscs } from './surfacePoint';
import { MOST_POINTS, coverTexels, type Texels, type Tile } from '../texels/coverTexels';

/**
 * Rays to the sky from each texel for each first path of the plan, and the fewest and most: they answer what paths would have to find out each time
 * they land there, and many paths land on many texels.
 */
const SKY_RAYS = { each: 0.5, least: 12, most: 128 } as const;
/** Share of the rays to a cue's sun that a sun sample gets: its direct light is not shown, and only bounces to those who see many texels. */
const SAMPLE_SHARE = 0.125;
/** Where the first rays to a sun of a cue, or to a lamp, are answered differently, so many times as many are asked in all. */
const PENUMBRA = 8;
/** Rays that look about from one point, those of them that may settle that it lies in the open, and the share that buries it. */
const LOOK = { rays: 8, enough: 3, buried: 0.5 } as const;

/** Light that comes straight from suns and lamps to the texels of one tile. */
export interface TileDirect {
  tile: Tile;
  /** Texels: y * width + x. */
  at: Uint32Array;
  /** For each texel which of its points (see {@link coverTexels}) lie in the open: bit k for the k-th. None where the texel is buried. */
  open: Uint16Array;
  /** E/pi per lux of each sun, texel by texel. */
  suns: Float32Array;
  /** RGB E/pi of each circuit's lamps at full light, texel by texel. */
  circuits: Float32Array;
  /** As `circuits`, of those lamps whose bounce alone is kept, and which are not in `circuits`; empty where there are none. */
  hidden: Float32Array;
  /**
   * E/pi for each of the functions of the sky ({@link createSkyFunctions}), texel by texel, of what is seen of it: it is not shown, and only
   * bounces. Empty where none is traced.
   */
  sky: Float32Array;
  /** Texels of two-sided surfaces, as places in `at`, and the light on their backs, of all lamps: it is not shown, and only bounces. */
  backs: Uint32Array;
  backSky: Float32Array;
  backSuns: Float32Array;
  backCircuits: Float32Array;
  rays: number;
}

/**
 * First step of a bake: for each texel of a tile the light that comes straight from every sun that is traced and every circuit's lamps.
 * It is kept, and the paths of the third step find it where they land (see {@link gatherTile}), so that they need ask no sun or lamp.
 *
 * Points of a texel that lie inside something (a floor under a wall) are found and left out: a texel stands for its open part.
 *
 * The outcome depends on the arguments alone: not on the machine, the thread, or other tiles.
 */
export function directTile(scene: Scene, plan: BakePlan, tile: Tile, progress?: (share: number) => void): TileDirect {
  const texels = coverTexels(scene.surfaces, tile);
  const count = texels.at.length;
  const [suns, circuits] = [plan.suns.length, plan.circuits.length * 3];
  const sky = skyNumbers(plan);
  const twoSided = (i: number) => scene.doubleSided(texels.triangle[texels.start[i]!]!);
  const backs = Uint32Array.from(Array.from(texels.at.keys()).filter(twoSided));
  const out: TileDirect = {
    tile,
    at: texels.at,
    open: new Uint16Array(count),
    suns: new Float32Array(count * suns),
    circuits: new Float32Array(count * circuits),
    hidden: new Float32Array(plan.lamps.some((l) => l.kept === 'bounce') ? count * circuits : 0),
    sky: new Float32Array(count * sky),
    backs,
    backSky: new Float32Array(backs.length * sky),
    backSuns: new Float32Array(backs.length * suns),
    backCircuits: new Float32Array(backs.length * circuits),
    rays: 0,
  };
  const look = createLook(scene, plan);
  let back = 0;
  for (let i = 0; i < count; i++) {
    const open = look.fromFront(texels, i, texelSeed(texels.at[i]!, tile.map, plan.seed));
    for (const k of open) out.open[i]! |= 1 << (k - texels.start[i]!);
    const own = back;
    if (backs[back] === i) back++;
    if (open.length > 0) {
      look.suns(out.suns.subarray(i * suns, (i + 1) * suns));
      look.sky(out.sky.subarray(i * sky, (i + 1) * sky));
      const kept = out.circuits.subarray(i * circuits, (i + 1) * circuits);
      look.lamps(kept, out.hidden.length > 0 ? out.hidden.subarray(i * circuits, (i + 1) * circuits) : kept);
      if (back > own) {
        look.fromBack();
        look.suns(out.backSuns.subarray(own * suns, back * suns));
        look.sky(out.backSky.subarray(own * sky, back * sky));
        const all = out.backCircuits.subarray(own * circuits, back * circuits);
        look.lamps(all, all);
      }
    }
    if (progress && i % 256 === 255) progress((i + 1) / count);
  }
  out.rays = look.rays();
  return out;
}

/** Which of `count` points the sample of a number stands on: the first few already lie all over the texel. */
export const spread = (sample: number, count: number, seed: number): number => ((seed & 15) + sample * spreadStep(count)) % count;
/** How many points further the next sample stands. */
const spreadStep = (count: number): number => (count % 5 !== 0 ? 5 : count % 3 !== 0 ? 3 : 7);

/** Places of the points of a texel that a mask of {@link TileDirect.open} lists, in the arrays of its {@link Texels}. */
export function openPoints({ start }: Texels, texel: number, mask: number): number[] {
  const out: number[] = [];
  for (let k = start[texel]!; k < start[texel + 1]!; k++) if (mask & (1 << (k - start[texel]!))) out.push(k);
  return out;
}

/** A ray without end, as the tracer takes many at once. */
function putRay(rays: Float32Array, at: number, x: number, y: number, z: number, dx: number, dy: number, dz: number): void {
  rays[at] = x;
  rays[at + 1] = y;
  rays[at + 2] = z;
  rays[at + 4] = dx;
  rays[at + 5] = dy;
  rays[at + 6] = dz;
  rays[at + 7] = Infinity;
}

/** Luminance of RGB at a place of an array. */
const luminanceAt = (rgb: Float32Array, at: number): number =>
  LUMINANCE_WEIGHTS[0] * rgb[at]! + LUMINANCE_WEIGHTS[1] * rgb[at + 1]! + LUMINANCE_WEIGHTS[2] * rgb[at + 2]!;

function createLook(scene: Scene, plan: BakePlan) {
  const { tracer } = scene;
  const discs = scene.tracer.toDiscs(sunDiscs(plan.suns));
  const suns = plan.suns.length;
  const sampleRays = Math.ceil(SAMPLE_SHARE * plan.sunRays);
  const raysTo = Uint32Array.from(plan.suns, (s) => (!sunDirection(s) ? 0 : isCues(s) ? plan.sunRays : sampleRays));
  const chooser = createLampChooser(plan);
  const here = new SurfacePoint(scene);
  // Light is asked for many times at each of a texel's points; a bit of `stood` for each that is stood at.
  const stands = Array.from({ length: MOST_POINTS }, () => new SurfacePoint(scene));
  let stood = 0;
  let rays = 0;
  const lampSample = newLampSample();
  const lampSum = new Float64Array(3);
  const hit = newHit();
  const direction = new Float64Array(3);
  const pair = new Float64Array(2);
  const ofCues = plan.suns.map(isCues);
  const asked = new Uint32Array(suns);
  const skyRays = Math.min(SKY_RAYS.most, Math.max(SKY_RAYS.least, Math.ceil(SKY_RAYS.each * plan.paths)));
  const skyAsked = new Float32Array(skyRays * RAY);
  const skyMet = new Int32Array(skyRays);
  const skyPlaces = new Float32Array(skyRays * 3);
  const skySides = new Uint32Array(skyPlaces.buffer);
  const skyThrough = scene.hasPanes ? new Float32Array(skyRays * 3) : undefined;
  const sky = createSkyFunctions(plan);
  const basis = new Float64Array(sky.count);

  // The texel that light is asked for at: its open points, its seed, which side, and whether it was looked about from there.
  let from: { texels: Texels; points: number[]; seed: number; back: boolean; looked: boolean };

  /** The point that the sample of a number stands at. */
  function standFor(sample: number): SurfacePoint {
    const { texels, points, seed, back } = from;
    const nth = spread(sample, points.length, seed);
    const point = stands[nth]!;
    if ((stood & (1 << nth)) === 0) {
      const k = points[nth]!;
      point.stand(texels.triangle[k]!, texels.u[k]!, texels.v[k]!, back);
      stood |= 1 << nth;
    }
    return point;
  }

  /** Whether a ray from the point meets the inside of something. */
  function meetsInside(): boolean {
    return here.meets(direction, hit) && hit.back && !scene.doubleSided(hit.triangle);
  }

  /** Whether most of what is seen from a point is the inside of something. One ray would not do: faces of two things may lie in one plane. */
  function isBuried(seed: number): boolean {
    const { face } = here;
    let inside = 0;
    for (let ray = 0; ray < LOOK.rays; ray++) {
      if (ray === LOOK.enough && inside === 0) return false;
      samplePair(ray, 0, seed, pair);
      cosineDirection(face[0]!, face[1]!, face[2]!, pair[0]!, pair[1]!, direction);
      if (meetsInside()) inside++;
    }
    return inside > LOOK.buried * LOOK.rays;
  }

  /** Looks about from all over a texel, by the cosine: what is met hides the sky. */
  function lookAbout(): void {
    const seed = hash32(from.seed, 0x5c1e);
    for (let sample = 0, at = 0; sample < skyRays; sample++, at += RAY) {
      const { start, normal, face } = standFor(sample);
      samplePair(sample, 0, seed, pair);
      cosineDirection(normal[0]!, normal[1]!, normal[2]!, pair[0]!, pair[1]!, direction);
      keepOutside(direction, face);
      putRay(skyAsked, at, start[0]!, start[1]!, start[2]!, direction[0]!, direction[1]!, direction[2]!);
    }
    rays += skyRays;
    tracer.closestOf(skyAsked, skyMet, skyPlaces, skyThrough);
    from.looked = true;
  }

  /** Whether a ray of the last look met the inside of something. */
  const metInside = (sample: number): boolean =>
    skyMet[sample]! >= 0 && skySides[sample * 3 + 2]! >>> 31 === 1 && !scene.doubleSided(skyMet[sample]!);

  /**
   * Leaves out those points of a texel that lie inside something. What the look about it says settles it for points that see no inside; the others
   * are looked at one by one.
   */
  function leaveOutBuried(): void {
    const { texels, points, seed } = from;
    const first = points[0]!;
    let [seeing, clear] = [0, 0];
    for (let sample = 0; sample < skyRays; sample++) {
      const bit = 1 << spread(sample, points.length, seed);
      if (metInside(sample)) seeing |= bit;
      else clear |= bit;
    }
    if (seeing === 0) return;
    from.points = points.filter((k, nth) => {
      if (clear & ~seeing & (1 << nth)) return true;
      here.stand(texels.triangle[k]!, texels.u[k]!, texels.v[k]!, false);
      return !isBuried(hash32(seed, 0x0b + k - first));
    });
    if (from.points.length === points.length) return;
    stood = 0;
    from.looked = false;
  }

  /** First rays for one lamp: one for each point of the texel, but no more than for a sun, and as many as that where it looks large. */
  function raysToLamp({ emitter: { at, extentM } }: BakedLamp, { position }: SurfacePoint): number {
    const distance = Math.sqrt((at[0] - position[0]!) ** 2 + (at[1] - position[1]!) ** 2 + (at[2] - position[2]!) ** 2);
    return Math.max(
      Math.min(from.points.length, plan.sunRays),
      Math.ceil(plan.sunRays * Math.min(1, (4 * extentM) / Math.max(1e-3, distance))),
    );
  }

  /**
   * E/pi in lux that a lamp gives a texel from one point of it to one of the lamp, by the two numbers of `pair`, added to `lampSum` as it came through
   * panes; answers whether any did.
   */
  function askLamp(lamp: number, sample: number): boolean {
    const lux = standFor(sample).lampLux(chooser.lamps[lamp]!.emitter, pair[0]!, pair[1]!, lampSample, lamp);
    for (let c = 0; c < 3 && lux > 0; c++) lampSum[c]! += lux * scene.passed[c]!;
    return lux > 0;
  }

  /** Adds what `lampSum` has of a lamp, times `share`, to its circuit. */
  function addLamp(lamp: number, share: number, kept: Float32Array, hidden: Float32Array): void {
    const { emitter, circuit, direct } = chooser.lamps[lamp]!;
    const into = direct ? kept : hidden;
    for (let c = 0; c < 3; c++) into[circuit * 3 + c]! += emitter.color[c]! * lampSum[c]! * share;
  }

  /** Asks a lamp all over a texel, by more rays where some of the first find it and others do not; answers what their sum is to be multiplied by. */
  function askAll(lamp: number): number {
    const seed = hash32(from.seed, 0x1a3b + lamp);
    const first = raysToLamp(chooser.lamps[lamp]!, standFor(0));
    lampSum.fill(0);
    let [lit, asked] = [0, 0];
    for (let count = first; asked < count; asked++) {
      samplePair(asked, 0, seed, pair);
      if (askLamp(lamp, asked)) lit++;
      if (asked === first - 1 && lit > 0 && lit < first) count = first * PENUMBRA;
    }
    return 1 / asked;
  }

  /** Stands at the points that a texel's first rays leave from, and puts them where rays to suns are asked. */
  function putPoints(samples: number): void {
    const { points, seed } = from;
    for (let sample = 0; sample < Math.min(samples, points.length); sample++) {
      const { start, normal, face } = standFor(sample);
      discs.put(spread(sample, points.length, seed), start, normal, face);
    }
  }

  return {
    rays: () => stands.reduce((sum, point) => sum + point.rays, rays + here.rays),

    /** Light is asked for on the front of a texel from now on; answers its points that lie in the open. */
    fromFront(texels: Texels, i: number, seed: number): readonly number[] {
      const points: number[] = [];
      for (let k = texels.start[i]!; k < texels.start[i + 1]!; k++) points.push(k);
      from = { texels, points, seed, back: false, looked: false };
      stood = 0;
      lookAbout();
      leaveOutBuried();
      return from.points;
    },

    /** Light is asked for on the back of the same texel from now on. */
    fromBack(): void {
      from.back = true;
      from.looked = false;
      stood = 0;
    },

    suns(values: Float32Array): void {
      const { points, seed } = from;
      const [ofCue, ofSample] = [firstAim(seed, plan.sunRays * PENUMBRA), firstAim(seed, sampleRays)];
      const [offset, step] = [spread(0, points.length, seed), spreadStep(points.length)];
      discs.clear();
      for (let s = 0; s < suns; s++) discs.set(s, ofCues[s] ? ofCue : ofSample, raysTo[s]!);
      putPoints(plan.sunRays);
      rays += discs.ask(0, points.length, offset, step);
      let parted = 0;
      for (let s = 0; s < suns; s++) {
        const isParted = ofCues[s]! && discs.free(s) > 0 && discs.free(s) < discs.facing(s);
        asked[s] = isParted ? raysTo[s]! * PENUMBRA : raysTo[s]!;
        discs.set(s, ofCue, isParted ? asked[s]! : 0);
        if (isParted) parted++;
      }
      if (parted > 0) {
        putPoints(points.length);
        rays += discs.ask(plan.sunRays, points.length, offset, step);
      }
      for (let s = 0; s < suns; s++) if (discs.free(s) > 0) values[s] = discs.sum(s) / asked[s]! / Math.PI;
    },

    /** What is seen of the sky. */
    sky(values: Float32Array): void {
      if (values.length === 0) return;
      if (!from.looked) lookAbout();
      for (let sample = 0, at = 4; sample < skyRays; sample++, at += RAY) {
        if (skyMet[sample]! >= 0) continue;
        sky.evaluate(skyAsked[at]!, skyAsked[at + 1]!, skyAsked[at + 2]!, basis);
        const share = (skyThrough ? luminanceAt(skyThrough, sample * 3) : 1) / skyRays;
        for (let i = 0; i < sky.count; i++) values[i]! += basis[i]! * share;
      }
    },

    /** Bright lamps one by one, the faint ones by a few rays for all; those whose bounce alone is kept add to `hidden`. */
    lamps(kept: Float32Array, hidden: Float32Array): void {
      if (chooser.lamps.length === 0) return;
      const { position } = standFor(0);
      chooser.sort(position[0]!, position[1]!, position[2]!);
      for (const lamp of chooser.bright) addLamp(lamp, askAll(lamp), kept, hidden);
      const own = hash32(from.seed, 0x1a3a);
      for (let sample = 0; sample < plan.sunRays; sample++) {
        samplePair(sample, 1, own, pair);
        const lamp = chooser.chooseFaint(pair[0]!);
        if (lamp < 0) return;
        const share = 1 / chooser.chance / plan.sunRays;
        samplePair(sample, 2, own, pair);
        lampSum.fill(0);
        if (askLamp(lamp, sample)) addLamp(lamp, share, kept, hidden);
      }
    },
  };
}
