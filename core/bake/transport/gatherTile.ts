import { openPoints, spread, type TileDirect } from './directTile';
import type { DirectLight } from './directLight';
import { Guide } from '../sampling/pathGuide';
import { KINDS, LAMPS, PAIRS, SKY, SUNS, createPathTracer, luma, slotPlaces, varianceSlots, type Sums } from './paths';
import { samplePair, texelSeed } from '../sampling/sobol';
import type { Scene } from './scene';
import { layerCount } from '../stems/layers';
import { type BakePlan } from '../plan/bakePlan';
import type { SurfacePoint } from './surfacePoint';
import { objectMask } from '../plan/objectMask';
import { coverTexels, type Tile } from '../texels/coverTexels';

/** Neighbouring texels that learn together where light comes from. */
const GROUP = 32;
/**
 * Noise is measured against the light of a texel and this share of the mean of its neighbours', so that the darkest corner of a bright
 * place does not cost most; and against a light that is none beside an open sky, a sun on open ground, or a circuit where it shines.
 */
const BESIDE = 0.25;
const NONE = [1e-4, 1e-5, 1e-2] as const;
/** What paths brought to the texels of one tile. */
export interface TileStems {
  tile: Tile;
  /** Texels: y * width + x in the map. */
  at: Uint32Array;
  /** Three numbers (RGB) for each layer of each texel. */
  values: Float32Array;
  /** For each texel the variance of the mean of the luminance in the slots of {@link varianceSlots}. */
  variance: Float32Array;
  /** Standard error left, as a share of the light: the largest of sky, suns and lamps. */
  noise: Float32Array;
  /** Paths followed from each texel; 0 where it is buried. */
  paths: Uint16Array;
  rays: number;
}

/**
 * Second step of a bake: follows light backwards from every texel of a tile; one set of paths feeds all stems.
 *
 * From each texel directions are cosine-weighted about its normal. Where a path lands, it takes the straight light of all suns and
 * circuits that the first step left there, and goes on in a cosine-weighted direction, weighed by the surface's albedo, until Russian
 * roulette ends it. What escapes is projected on the basis of skies, so the sky itself stays open. Where it lands on what has no
 * lightmap (the model of a fixture), some suns and a lamp are asked there by shadow rays, in turn.
 *
 * After its first paths, a texel that is noisier than the plan allows gets as many more as would bring it there, up to a limit;
 * those are guided to where its own and its neighbours' found light so far.
 *
 * A surface seen from behind, unless it is double-sided, is the inside of the level and gives nothing.
 *
 * The outcome depends on the arguments alone: not on the machine, the thread, or the order of tiles.
 *
 * @param direct the first step's outcome for this tile, and `light` that for the whole level
 * @param progress told the share done, 0..1, now and then
 */
export function gatherTile(
  scene: Scene,
  plan: BakePlan,
  light: DirectLight,
  direct: TileDirect,
  progress?: (share: number) => void,
): TileStems {
  const { tile } = direct;
  const texels = coverTexels(scene.surfaces, tile);
  const count = texels.at.length;
  const out: TileStems = {
    tile,
    at: texels.at,
    values: new Float32Array(count * layerCount(plan) * 3),
    variance: new Float32Array(count * varianceSlots(plan)),
    noise: new Float32Array(count),
    paths: new Uint16Array(count),
    rays: 0,
  };
  const gatherer = createGatherer(scene, plan, light);
  const region = objectMask(scene.surfaces, texels, plan);
  const points = Array.from({ length: GROUP }, (): number[] => []);
  for (let first = 0; first < count; first += GROUP) {
    const size = Math.min(GROUP, count - first);
    gatherer.begin();
    for (let k = 0; k < size; k++) {
      const i = first + k;
      openPoints(texels, i, region[i] === 1 ? direct.open[i]! : 0, points[k]!);
      const own = points[k]!;
      const seed = texelSeed(texels.at[i]!, tile.map, plan.seed);
      gatherer.texel(k, seed, (sample, here) => {
        const p = own[spread(sample, own.length, seed)]!;
        here.stand(texels.triangle[p]!, texels.u[p]!, texels.v[p]!, false);
      });
      if (own.length > 0) gatherer.follow(k, plan.paths, false);
    }
    gatherer.learned(size);
    for (let k = 0; k < size; k++) {
      if (points[k]!.length === 0) continue;
      gatherer.refine(k);
      gatherer.write(k, out, first + k);
    }
    progress?.((first + size) / count);
  }
  out.rays = gatherer.rays();
  return out;
}

type StandAt = (sample: number, here: SurfacePoint) => void;

/** What one texel of a group has gathered so far. */
interface Gathered extends Sums {
  standAt: StandAt;
  seed: number;
  paths: number;
  /** Of whole paths and all their light of a kind: what they brought, and its squares. */
  kinds: Float64Array;
  kindSquares: Float64Array;
}

function createGatherer(scene: Scene, plan: BakePlan, light: DirectLight) {
  const tracer = createPathTracer(scene, plan, light);
  const { here, direction, path } = tracer;
  const guide = new Guide();
  const first = new Float64Array(3);
  const pair = new Float64Array(2);
  const slots = slotPlaces(plan);
  const group = Array.from({ length: GROUP }, (): Gathered => ({
    standAt: () => undefined,
    seed: 0,
    paths: 0,
    sums: new Float64Array(layerCount(plan) * 3),
    squares: new Float64Array(slots.length),
    kinds: new Float64Array(KINDS),
    kindSquares: new Float64Array(KINDS),
  }));
  /** Mean of what the first paths of the group brought, by kind. */
  const around = new Float64Array(KINDS);
  /** And the variance of single paths among them. */
  const spreadAround = new Float64Array(KINDS);

  /** Leaves a texel by the guide or the cosine, by turns of chance; answers what the path counts for, 0 where it leads inwards. */
  function scatterGuided(sample: number, seed: number): number {
    const { normal, face } = here;
    samplePair(sample, PAIRS.guide, seed, pair);
    const part = Guide.chooses(pair[0]!);
    if (part >= 0) {
      samplePair(sample, PAIRS.direction, seed, pair);
      guide.sample(part, pair[0]!, pair[1]!, direction);
      if (dot(face, direction) <= 0) return 0;
    } else tracer.scatter(sample, PAIRS.direction, seed);
    // Under a rounded normal the cosine's way comes to a direction twice: by itself, and as the mirror image of one into the flat face.
    const own = dot(normal, direction);
    const mirrored = own - 2 * dot(face, direction) * dot(normal, face);
    return guide.weight(direction, Math.max(0, own) + Math.max(0, mirrored));
  }

  /** Standard error of what a texel has of each kind of light, as a share of it: the largest. */
  function noiseOf({ paths, kinds, kindSquares }: Gathered): number {
    let worst = 0;
    for (let kind = 0; kind < KINDS; kind++) {
      const mean = kinds[kind]! / paths;
      const own = Math.max(0, kindSquares[kind]! / paths - mean * mean);
      // A texel that found nothing by chance would pass for done, were it not for what its neighbours' paths tell.
      const error = Math.sqrt((own > 0 ? own : spreadAround[kind]!) / paths);
      worst = Math.max(worst, error / (mean + BESIDE * around[kind]! + NONE[kind]!));
    }
    return worst;
  }

  return {
    rays: tracer.rays,

    /** A new group of texels begins. */
    begin(): void {
      guide.clear();
    },

    texel(k: number, seed: number, standAt: StandAt): void {
      const texel = group[k]!;
      texel.seed = seed;
      texel.standAt = standAt;
      texel.paths = 0;
      texel.sums.fill(0);
      texel.squares.fill(0);
      texel.kinds.fill(0);
      texel.kindSquares.fill(0);
    },

    /** Follows further paths from a texel of the group. */
    follow(k: number, count: number, guided: boolean): void {
      const texel = group[k]!;
      const { seed, kinds, kindSquares } = texel;
      for (let sample = texel.paths; sample < texel.paths + count; sample++) {
        texel.standAt(sample, here);
        path.fill(0);
        let weight = 1;
        if (guided) weight = scatterGuided(sample, seed);
        else tracer.scatter(sample, PAIRS.direction, seed);
        if (weight === 0) continue;
        first.set(direction);
        tracer.follow(texel, sample, seed, weight);
        for (let kind = 0; kind < KINDS; kind++) {
          const v = path[kind]!;
          kinds[kind]! += v;
          kindSquares[kind]! += v * v;
        }
        guide.note(first, path[SKY]! + path[SUNS]! * Math.PI + path[LAMPS]!);
      }
      texel.paths += count;
    },

    /** The first `size` texels of the group have followed their first paths. */
    learned(size: number): void {
      guide.prepare();
      around.fill(0);
      spreadAround.fill(0);
      let paths = 0;
      for (let k = 0; k < size; k++) {
        paths += group[k]!.paths;
        for (let kind = 0; kind < KINDS; kind++) {
          around[kind]! += group[k]!.kinds[kind]!;
          spreadAround[kind]! += group[k]!.kindSquares[kind]!;
        }
      }
      for (let kind = 0; kind < KINDS && paths > 0; kind++) {
        around[kind]! /= paths;
        spreadAround[kind] = Math.max(0, spreadAround[kind]! / paths - around[kind]! ** 2);
      }
    },

    /**
     * Follows as many further paths from a texel as bring it down to the noise allowed, or as there may be: at most as many again as it has
     * in one round, after which the guide knows more.
     */
    refine(k: number): void {
      const texel = group[k]!;
      const most = texel.paths * plan.most;
      for (;;) {
        const noise = noiseOf(texel);
        if (texel.paths >= most || (guide.knows && noise <= plan.noise)) return;
        const wanted = guide.knows ? Math.ceil(texel.paths * ((noise / plan.noise) ** 2 - 1)) : texel.paths;
        this.follow(k, Math.min(wanted, texel.paths, most - texel.paths), guide.knows);
        guide.prepare();
      }
    },

    /** Writes what a texel has gathered as number `i` of its tile. */
    write(k: number, out: TileStems, i: number): void {
      const texel = group[k]!;
      const { paths, sums, squares } = texel;
      const values = out.values.subarray(i * sums.length, (i + 1) * sums.length);
      for (let n = 0; n < sums.length; n++) values[n] = sums[n]! / paths;
      slots.forEach(({ at, scale }, s) => {
        const mean = (scale * luma(sums[at]!, sums[at + 1]!, sums[at + 2]!)) / paths;
        out.variance[i * slots.length + s] = Math.max(0, squares[s]! / paths - mean * mean) / paths;
      });
      out.noise[i] = noiseOf(texel);
      out.paths[i] = paths;
    },
  };
}

const dot = (a: Float64Array, b: Float64Array): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
