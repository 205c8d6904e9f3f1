import { openPoints, spread, type TileDirect } from './directTile';
import type { LevelLight } from './bouncedLight';
import { Guide } from '../sampling/pathGuide';
import { FIRST_CUE, LAMPS, SKY, SUNS, kindsOf, sunKinds, varianceSlots } from './lightKinds';
import { PAIRS, createPathTracer } from './paths';
import { hash32, samplePair, texelSeed } from '../sampling/sobol';
import type { Scene } from './scene';
import { packColumns } from '../stems/halfColumns';
import { NOISE_KINDS, layerCount } from '../stems/layers';
import type { HalfLayers } from '../stems/stemCodec';
import { type BakePlan } from '../plan/bakePlan';
import type { SurfacePoint } from './surfacePoint';
import { objectMask } from '../plan/objectMask';
import { coverTexels, type Texels, type Tile } from '../texels/coverTexels';
import { blocksOf } from '../texels/blocks';

/** Texels of one chart within a block of so many learn together where light comes from, and how many paths it takes. */
const BLOCK = { wide: 8, high: 4 } as const;
/**
 * Noise is measured against the light of a texel and this share of the mean of its neighbours', so that the darkest corner of a bright
 * place does not cost most; and against a light that is none beside an open sky, suns on open ground, a circuit where it shines, or one
 * sun on open ground.
 */
const BESIDE = 0.25;
/**
 * A sun's bounce is seen beside its straight light and the sky's, of which this share counts as well: in the open it is a hundredth of both, and
 * would cost most paths. An even sky of 1 cd/m2 beside a sun of 1 lux counts as its strength is in clear air.
 */
const SEEN_WITH = { share: 0.1, skyPerLux: 0.03 } as const;
const NONE = { [SKY]: 1e-4, [SUNS]: 1e-5, [LAMPS]: 1e-2, [FIRST_CUE]: 3e-4 } as const;
/**
 * Runs of paths whose sums are compared to tell the variance: at least so many in each round of paths. Each has samples of its own, as runs
 * of one sequence would make up for one another, and their mean be better than they tell. Long runs are spread more evenly, and many tell
 * the variance better: the most paths of one.
 */
const RUNS = { least: 3, longest: 32 } as const;

/** What paths brought to the texels of one tile. */
export interface TileStems {
  tile: Tile;
  /** Texels: y * width + x in the map. */
  at: Uint32Array;
  /** A column of three numbers (RGB) for each layer (see {@link packColumns}). */
  light: HalfLayers;
  /** A column of one number for each of {@link varianceSlots}: the standard error of the mean of the luminance in it. */
  errors: HalfLayers;
  /** A number for each of {@link NOISE_KINDS} of each texel: standard error left, as a share of that light. */
  noise: Float32Array;
  /** Paths followed from each texel; 0 where it is buried. */
  paths: Uint16Array;
  rays: number;
}

/**
 * Third step of a bake: follows light backwards from every texel of a tile; one set of paths feeds all stems.
 *
 * From each texel directions are cosine-weighted about its normal. Where a path lands, it takes the straight light of all suns, circuits and the
 * sky that the first step left there, and the bounced light that the second did, and ends. What escapes is projected on the basis of skies, so
 * the sky itself stays open. Where it lands on what has no lightmap (the model of a fixture), some suns and a lamp are asked there by shadow
 * rays, in turn, and it goes on in a cosine-weighted direction, weighed by the surface's albedo, until Russian roulette ends it.
 *
 * After the first paths, texels that are noisier than the plan allows get as many more as would bring them there, up to a limit; those
 * are guided to where the paths so far have found light. Neighbours learn together, and all get as many: a texel that would stop by what
 * it found itself would stop where it missed light, and be too dark.
 *
 * A surface seen from behind, unless it is double-sided, is the inside of the level and gives nothing.
 *
 * The outcome depends on the arguments alone: not on the machine, the thread, or the order of tiles.
 *
 * @param known the outcome of the first and second step for the whole level, and `direct` of the first for this tile
 * @param progress told the share done, 0..1, now and then
 */
export function gatherTile(
  scene: Scene,
  plan: BakePlan,
  known: LevelLight,
  direct: TileDirect,
  progress?: (share: number) => void,
): TileStems {
  const { tile } = direct;
  const texels = coverTexels(scene.surfaces, tile);
  const count = texels.at.length;
  const out: Brought = {
    values: new Float32Array(count * layerCount(plan) * 3),
    errors: new Float32Array(count * varianceSlots(plan).length),
    noise: new Float32Array(count * NOISE_KINDS.length),
    paths: new Uint16Array(count),
  };
  const gatherer = createGatherer(scene, plan, known);
  const region = objectMask(scene.surfaces, texels, plan);
  const suns = plan.suns.length;
  const kindOf = sunKinds(plan);
  /** Mean straight light of some texels by the kinds of light that bounce. */
  const straightOf = (own: readonly number[]): Float64Array => {
    const straight = new Float64Array(kindsOf(plan));
    for (const i of own) {
      for (let s = 0; s < suns; s++) {
        const lit = direct.suns[i * suns + s]! / own.length;
        straight[SUNS]! += lit / suns;
        if (kindOf[s]! > 0) straight[kindOf[s]!]! += lit;
      }
    }
    return straight;
  };
  let done = 0;
  try {
    for (const group of neighbours(scene, tile, texels)) {
      const own = group.filter((i) => region[i] === 1 && direct.open[i] !== 0);
      gatherer.begin(own.length, straightOf(own));
      own.forEach((i, k) => {
        const open = openPoints(texels, i, direct.open[i]!);
        const seed = texelSeed(texels.at[i]!, tile.map, plan.seed);
        gatherer.texel(k, seed, (sample, here) => {
          const p = open[spread(sample, open.length, seed)]!;
          here.stand(texels.triangle[p]!, texels.u[p]!, texels.v[p]!, false);
        });
      });
      gatherer.gather();
      own.forEach((i, k) => gatherer.write(k, out, i));
      done += group.length;
      progress?.(done / count);
    }
  } finally {
    gatherer.close();
  }
  const { values, errors, noise, paths } = out;
  return {
    tile,
    at: texels.at,
    light: packColumns(values, count, 3),
    errors: packColumns(errors, count, 1),
    noise,
    paths,
    rays: gatherer.rays(),
  };
}

/** What the texels of a tile were brought, texel after texel: RGB of each layer, and as a {@link TileStems} has it. */
interface Brought {
  values: Float32Array;
  errors: Float32Array;
  noise: Float32Array;
  paths: Uint16Array;
}

/** Texels of a tile, as places in it, in groups that lie together: of one chart and one {@link BLOCK}. */
function neighbours(scene: Scene, tile: Tile, texels: Texels): number[][] {
  const block = blocksOf(scene.surfaces, tile, texels, BLOCK.wide, BLOCK.high);
  const groups = new Map<number, number[]>();
  for (const i of texels.at.keys()) {
    const group = groups.get(block(i));
    if (group) group.push(i);
    else groups.set(block(i), [i]);
  }
  return [...groups.values()];
}

type StandAt = (sample: number, here: SurfacePoint) => void;

/** What one texel of a group has gathered so far. */
interface Gathered {
  standAt: StandAt;
  seed: number;
  paths: number;
  /** Of whole paths and all their light of a kind: what they brought, and its squares. */
  kinds: Float64Array;
  kindSquares: Float64Array;
}

function createGatherer(scene: Scene, plan: BakePlan, { light, cells }: LevelLight) {
  const tracer = createPathTracer(scene, plan, light, cells);
  const { here, direction, path, stored } = tracer;
  const guide = new Guide();
  const first = new Float64Array(3);
  const pair = new Float64Array(2);
  const slots = varianceSlots(plan);
  const layers = layerCount(plan);
  const kinds = kindsOf(plan);
  const most = plan.paths * plan.most;
  const group: Gathered[] = [];
  let size = 0;
  const newTexel = (): Gathered => ({
    standAt: () => undefined,
    seed: 0,
    paths: 0,
    kinds: new Float64Array(kinds),
    kindSquares: new Float64Array(kinds),
  });
  /** Mean of what the paths of the group brought so far, by kind, and the variance of single paths from one texel. */
  const around = new Float64Array(kinds);
  /** The straight light of the group, of suns. */
  let straight: Float64Array = new Float64Array(kinds);
  const spreadAround = new Float64Array(kinds);

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

  /** Follows a round of further paths from a texel of the group, in runs of so many each. */
  function follow(k: number, runs: number, run: number, guided: boolean): void {
    const texel = group[k]!;
    tracer.begin(k);
    for (let number = texel.paths, end = number + runs * run; number < end; number++) {
      const sample = (number - texel.paths) % run;
      const seed = hash32(texel.seed, number - sample);
      texel.standAt(number, here);
      path.fill(0);
      if (scene.hasPanes) tracer.addStraightHue(sample, seed);
      let weight = 1;
      if (guided) weight = scatterGuided(sample, seed);
      else tracer.scatter(sample, PAIRS.direction, seed);
      if (weight > 0) {
        first.set(direction);
        tracer.follow(sample, seed, weight);
        for (let kind = 0; kind < kinds; kind++) {
          const v = path[kind]!;
          texel.kinds[kind]! += v;
          texel.kindSquares[kind]! += v * v;
        }
        guide.note(first, wanted());
      }
      if (sample === run - 1) stored.endRun(k);
    }
    texel.paths += runs * run;
    stored.endRound(k, runs);
  }

  /** What the last path brought, as the guide is to weigh it: sky and suns at about their strengths on open ground, half of it the cues' suns. */
  function wanted(): number {
    let cues = 0;
    for (let kind = FIRST_CUE; kind < kinds; kind++) cues += path[kind]!;
    const ofSuns = kinds > FIRST_CUE ? (path[SUNS]! + cues / (kinds - FIRST_CUE)) / 2 : path[SUNS]!;
    return path[SKY]! + ofSuns * Math.PI + path[LAMPS]!;
  }

  /** Takes together what the group's paths have told so far. */
  function learn(): void {
    guide.prepare();
    around.fill(0);
    spreadAround.fill(0);
    let paths = 0;
    for (let k = 0; k < size; k++) {
      const texel = group[k]!;
      paths += texel.paths;
      for (let kind = 0; kind < kinds; kind++) {
        around[kind]! += texel.kinds[kind]!;
        spreadAround[kind]! += texel.kindSquares[kind]! - texel.kinds[kind]! ** 2 / texel.paths;
      }
    }
    for (let kind = 0; kind < kinds; kind++) {
      around[kind]! /= paths;
      spreadAround[kind] = Math.max(0, spreadAround[kind]! / Math.max(1, paths - size));
    }
  }

  /** Standard error of what `paths` paths tell of a kind of light, as a share of a light of its own and the group's. */
  function noiseOf(kind: number, paths: number, own: number): number {
    const ofSuns = kind === SUNS || kind >= FIRST_CUE;
    const seen = ofSuns ? SEEN_WITH.share * (straight[kind]! + SEEN_WITH.skyPerLux * around[SKY]!) : 0;
    const beside = BESIDE * around[kind]! + seen + NONE[Math.min(kind, FIRST_CUE) as keyof typeof NONE];
    return Math.sqrt(spreadAround[kind]! / paths) / (own + beside);
  }

  /** The noise of the group's noisiest kind of light. */
  function worstNoise(paths: number): number {
    let worst = 0;
    for (let kind = 0; kind < kinds; kind++) worst = Math.max(worst, noiseOf(kind, paths, around[kind]!));
    return worst;
  }

  return {
    rays: tracer.rays,
    close: () => stored.close(),

    /** A new group of so many texels begins, whose straight light of suns is this by kind. */
    begin(count: number, straightLight: Float64Array): void {
      guide.clear();
      straight = straightLight;
      size = count;
      while (group.length < count) group.push(newTexel());
    },

    texel(k: number, seed: number, standAt: StandAt): void {
      const texel = group[k]!;
      Object.assign(texel, { seed, standAt, paths: 0 });
      texel.kinds.fill(0);
      texel.kindSquares.fill(0);
      stored.clear(k);
    },

    /** Follows paths from all texels of the group, round by round: at most as many again in one round, after which the guide knows more. */
    gather(): void {
      for (let paths = 0, more = plan.paths, guided = false; size > 0 && more > 0; guided = guide.knows) {
        // A power of two, which the sampling sequence spreads evenly.
        const run = Math.min(RUNS.longest, Math.max(1, 2 ** Math.floor(Math.log2(more / RUNS.least))));
        const runs = Math.floor(more / run);
        for (let k = 0; k < size; k++) follow(k, runs, run, guided);
        paths += runs * run;
        learn();
        const enough = guide.knows ? Math.ceil(paths * (worstNoise(paths) / plan.noise) ** 2) : 0;
        more = Math.max(0, Math.min(enough - paths, paths, most - paths));
      }
    },

    /** Writes what a texel has gathered as number `i` of its tile. */
    write(k: number, out: Brought, i: number): void {
      const { paths, kinds: own } = group[k]!;
      const [sums, variance] = [stored.sums(k), stored.variance(k)];
      for (let layer = 0, to = i * layers * 3; layer < layers; layer++)
        for (let c = 0; c < 3; c++) out.values[to++] = sums[layer * 4 + c]! / paths;
      for (let s = 0; s < slots.length; s++) out.errors[i * slots.length + s] = Math.sqrt(variance[s]!) / paths;
      for (let kind = 0; kind < kinds; kind++) {
        const at = i * NOISE_KINDS.length + (kind < FIRST_CUE ? kind : SUNS);
        out.noise[at] = Math.max(out.noise[at]!, noiseOf(kind, paths, own[kind]! / paths));
      }
      out.paths[i] = paths;
    },
  };
}

const dot = (a: Float64Array, b: Float64Array): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
