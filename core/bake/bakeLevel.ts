import type { Surfaces } from '../level';
import { denoiseBand, rowsForBand, type BandStems, type DenoisedBand } from './lightmap/denoiseBand';
import { finishPieces, joinPieces, type FinishInputs, type FinishJob, type FinishedPieces } from './lightmap/finishPieces';
import type { BakePlan } from './plan/bakePlan';
import { layerCount } from './stems/layers';
import type { HalfStems } from './stems/stemCodec';
import { pieceLots, piecesFit } from './stems/stemParts';
import type { Tile } from './texels/coverTexels';
import { planBands, planTiles, type PlannedTile } from './texels/planTiles';
import { joinLight, type BouncedLight, type LevelLight } from './transport/bouncedLight';
import { createDirectLight, type DirectLight } from './transport/directLight';
import { directTile, type TileDirect } from './transport/directTile';
import { gatherTile, type TileStems } from './transport/gatherTile';
import type { Scene } from './transport/scene';
import { solveBounce } from './transport/solveBounce';

/**
 * The steps of a bake, in their order. Each waits for the whole of the one before: bounces and paths find the light of all tiles, and a map is
 * finished from all its bands. A band alone may be denoised before the step is come to (see {@link readyBands}).
 */
export const BAKE_STEPS = ['plan', 'direct', 'bounce', 'gather', 'denoise', 'finish'] as const;
export type BakeStep = (typeof BAKE_STEPS)[number];
/** Steps that are cut into jobs. */
export type JobStep = Exclude<BakeStep, 'plan'>;

/** The jobs of a bake, step by step. */
export interface BakeJobs {
  direct: PlannedTile[];
  /** One for the whole level. */
  bounce: BounceJob[];
  gather: PlannedTile[];
  denoise: PlannedTile[];
  finish: FinishJob[];
}

/** A level whose bounced light is solved, and how many texels it has. */
export interface BounceJob {
  texels: number;
}

/** What a job of each step starts from, besides the level and the plan. */
export interface JobInputs {
  direct: null;
  bounce: { light: DirectLight };
  gather: LevelLight & { direct: TileDirect };
  denoise: { direct: TileDirect[]; gathered: TileStems[] };
  finish: FinishInputs;
}

/** What a job of each step makes. */
export interface JobResults {
  direct: TileDirect;
  bounce: BouncedLight;
  gather: TileStems;
  denoise: DenoisedBand;
  finish: FinishedPieces;
}

/** Does the steps of a bake: by threads of this process, or by whatever workers take their jobs. */
export interface BakeExecutor {
  /** Does a step; false where it is only under way, and goes on when {@link bakeLevel} is called again. */
  run(step: BakeStep): Promise<boolean>;
}

/** The one sequence of a bake. Answers whether it is done; what is done already is not done again. */
export async function bakeLevel(executor: BakeExecutor): Promise<boolean> {
  for (const step of BAKE_STEPS) if (!(await executor.run(step))) return false;
  return true;
}

/** Cuts a bake into jobs. */
export function planJobs(surfaces: Surfaces, plan: BakePlan): BakeJobs {
  const { tiles, texels } = planTiles(surfaces, plan.paths);
  const bands = planBands(tiles);
  return { direct: tiles, bounce: tiles.length > 0 ? [{ texels }] : [], gather: tiles, denoise: bands, finish: planFinish(plan, bands) };
}

/** Cuts the last step of a bake into jobs. */
export function planFinish(plan: BakePlan, bands: readonly PlannedTile[]): FinishJob[] {
  const texelsOf = (map: number) => bands.reduce((sum, b) => sum + (b.map === map ? b.texels : 0), 0);
  const maps = [...new Set(bands.map((b) => b.map))];
  return maps.flatMap((map) => pieceLots(plan, texelsOf(map)).map((pieces): FinishJob => ({ map, pieces })));
}

/** Whether the jobs of a bake are those of this version: an earlier one may have kept other layers. */
export const fitsPlan = ({ finish }: BakeJobs, plan: BakePlan): boolean =>
  [...new Set(finish.map((f) => f.map))].every((map) =>
    piecesFit(
      plan,
      finish.flatMap((f) => (f.map === map ? f.pieces : [])),
    ),
  );

/**
 * Does one job of a bake. What comes out depends on the arguments alone: not on the machine, the thread, or the order of jobs.
 *
 * @param progress told the share done, 0..1, now and then
 */
export function runJob<S extends JobStep>(
  scene: Scene,
  plan: BakePlan,
  step: S,
  job: BakeJobs[S][number],
  inputs: JobInputs[S],
  progress?: (share: number) => void,
): JobResults[S] {
  const { surfaces } = scene;
  const run: { [T in JobStep]: () => JobResults[T] } = {
    direct: () => directTile(scene, plan, job as PlannedTile, progress),
    bounce: () => solveBounce(scene, plan, (inputs as JobInputs['bounce']).light, progress),
    gather: () => {
      const { direct, ...known } = inputs as JobInputs['gather'];
      return gatherTile(scene, plan, known, direct, progress);
    },
    denoise: () => {
      const { direct, gathered } = inputs as JobInputs['denoise'];
      return denoiseBand(surfaces, plan, job as PlannedTile, direct, gathered);
    },
    finish: () => finishPieces(surfaces, plan, job as FinishJob, inputs as FinishInputs),
  };
  return run[step]();
}

/** Where jobs find what the steps before have left. */
export interface BakeResults {
  light(): Promise<DirectLight>;
  /** The light of the whole level, bounced light too. */
  known(): Promise<LevelLight>;
  direct(tile: PlannedTile): Promise<TileDirect>;
  gathered(tile: PlannedTile): Promise<TileStems>;
  /** The bands of a map, in order; of their traced layers `count` from `first` on. */
  bands(map: number, first: number, count: number): Promise<BandStems[]>;
  /** The same layers of the bake before; null where the plan is not held to some objects. */
  before(job: FinishJob): Promise<HalfStems | null>;
}

/** Brings together what a job starts from. */
export async function inputsOf<S extends JobStep>(
  surfaces: Surfaces,
  jobs: BakeJobs,
  step: S,
  job: BakeJobs[S][number],
  results: BakeResults,
): Promise<JobInputs[S]> {
  const inputs: { [T in JobStep]: () => Promise<JobInputs[T]> } = {
    direct: () => Promise.resolve(null),
    bounce: async () => ({ light: await results.light() }),
    gather: async () => ({
      ...(await results.known()),
      direct: await results.direct(job as PlannedTile),
    }),
    denoise: async () => {
      const tiles = tilesOfBand(jobs, job as PlannedTile).map((position) => jobs.gather[position]!);
      return {
        direct: await Promise.all(tiles.map((t) => results.direct(t))),
        gathered: await Promise.all(tiles.map((t) => results.gathered(t))),
      };
    },
    finish: async () => {
      const { map } = job as FinishJob;
      const { first, count } = layersOfJob(jobs, job as FinishJob);
      return { bands: await results.bands(map, first, count), before: await results.before(job as FinishJob) };
    },
  };
  return inputs[step]();
}

const overlap = (a: Tile, b: Tile): boolean => a.map === b.map && a.top < b.bottom && a.bottom > b.top;

/** Positions of the tiles that a band is denoised from: those of its rows, and of as many about them as have a part in it. */
export function tilesOfBand({ gather }: Pick<BakeJobs, 'gather'>, band: Tile): number[] {
  const rows = rowsForBand(band);
  return gather.flatMap((tile, position) => (overlap(tile, rows) ? [position] : []));
}

/** Positions of the bands that can be denoised once some tiles are gathered. */
export const readyBands = (jobs: Pick<BakeJobs, 'gather' | 'denoise'>, isGathered: (position: number) => boolean): number[] =>
  jobs.denoise.flatMap((band, position) => (tilesOfBand(jobs, band).every(isGathered) ? [position] : []));

/** The layers of a job among those that are traced: the jobs of a map take them in their order. */
function layersOfJob({ finish }: BakeJobs, job: FinishJob): { first: number; count: number } {
  const countOf = ({ pieces }: FinishJob) => pieces.reduce((sum, p) => sum + p.layers, 0);
  const own = finish.filter((f) => f.map === job.map);
  const place = own.findIndex((f) => f.pieces[0]!.layer === job.pieces[0]!.layer);
  return { first: own.slice(0, place).reduce((sum, f) => sum + countOf(f), 0), count: countOf(job) };
}

/** Does one job, wherever: {@link runJob} in this thread, or in another. */
export type RunJob = <S extends JobStep>(
  step: S,
  job: BakeJobs[S][number],
  inputs: JobInputs[S],
  progress: (share: number) => void,
) => Promise<JobResults[S]>;

/** What each step counts for in the progress of a bake, about. */
export const STEP_SHARES: Readonly<Record<JobStep, number>> = { direct: 0.3, bounce: 0.08, gather: 0.42, denoise: 0.1, finish: 0.1 };

/** An executor that keeps all that jobs make in memory, and runs as many jobs at once as `run` takes. */
export function memoryExecutor(
  surfaces: Surfaces,
  plan: BakePlan,
  run: RunJob,
  progress?: (share: number) => void,
): BakeExecutor & { light(): Promise<DirectLight>; known(): Promise<LevelLight>; stems(): HalfStems[] } {
  let jobs: BakeJobs = { direct: [], bounce: [], gather: [], denoise: [], finish: [] };
  const made = {
    direct: new Map<number, TileDirect>(),
    bounce: new Map<number, BouncedLight>(),
    gather: new Map<number, TileStems>(),
    denoise: new Map<number, DenoisedBand>(),
    finish: new Map<number, FinishedPieces>(),
  };
  let light: DirectLight | null = null;
  let known: Promise<LevelLight> | null = null;
  const results: BakeResults = {
    light() {
      if (!light) {
        const builder = createDirectLight(
          surfaces,
          plan,
          jobs.direct.reduce((sum, t) => sum + t.texels, 0),
        );
        for (const position of jobs.direct.keys()) builder.add(made.direct.get(position)!);
        light = builder.finish();
      }
      return Promise.resolve(light);
    },
    known() {
      // All jobs of a step ask at once, and all are to have the same.
      known ??= results.light().then((direct) => joinLight(direct, made.bounce.get(0)!));
      return known;
    },
    direct: (tile) => Promise.resolve(made.direct.get(jobs.direct.indexOf(tile))!),
    gathered: (tile) => Promise.resolve(made.gather.get(jobs.gather.indexOf(tile))!),
    bands: (map, first, count) =>
      Promise.resolve(
        jobs.denoise.flatMap((band, position) => (band.map === map ? [layersOfBand(made.denoise.get(position)!, first, count)] : [])),
      ),
    before: () => Promise.resolve(null),
  };
  let told = 0;
  return {
    light: results.light,
    known: results.known,
    async run(step) {
      if (step === 'plan') {
        jobs = planJobs(surfaces, plan);
        return true;
      }
      const all = jobs[step];
      let done = 0;
      const note = (share: number) => progress?.(told + (STEP_SHARES[step] * (done + share)) / all.length);
      await Promise.all(
        all.map(async (job, position) => {
          const inputs = await inputsOf(surfaces, jobs, step, job, results);
          const result = await run(step, job, inputs, () => undefined);
          (made[step] as Map<number, unknown>).set(position, result);
          done++;
          note(0);
        }),
      );
      told += STEP_SHARES[step];
      return true;
    },
    stems: () =>
      surfaces.maps.map((size, map) => {
        const own = jobs.finish.flatMap((job, position) => (job.map === map ? [{ job, finished: made.finish.get(position)! }] : []));
        const none = { ...size, at: new Uint32Array(0), scales: new Float32Array(layerCount(plan)).fill(1), halves: new Uint16Array(0) };
        return own.length > 0 ? joinPieces(layerCount(plan), own) : none;
      }),
  };
}

/** Some layers of a band. */
function layersOfBand({ valid, scales, halves }: BandStems, first: number, count: number): BandStems {
  const perLayer = scales.length > 0 ? halves.length / scales.length : 0;
  return {
    valid,
    scales: scales.subarray(first, first + count),
    halves: halves.subarray(first * perLayer, (first + count) * perLayer),
  };
}

/** Bakes a level in this thread: the stems of each of its maps. */
export async function bakeHere(scene: Scene, plan: BakePlan): Promise<HalfStems[]> {
  const executor = memoryExecutor(scene.surfaces, plan, (step, job, inputs) => Promise.resolve(runJob(scene, plan, step, job, inputs)));
  await bakeLevel(executor);
  return executor.stems();
}
