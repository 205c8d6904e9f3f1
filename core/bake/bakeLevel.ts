import type { Surfaces } from '../level';
import type { Rig } from '../rig';
import type { CompactTable } from './compact/compactParts';
import { compactOf, findTables, type CompactStems, type TexelHalves } from './compact/compactStems';
import type { LayerBlock } from './compact/layerBlock';
import { momentsOf } from './compact/momentsOf';
import { denoiseBand, rowsForBand, type BandStems, type DenoisedBand } from './lightmap/denoiseBand';
import {
  finishPieces,
  joinPieces,
  objectMaskOfMap,
  placesBefore,
  type FinishInputs,
  type FinishJob,
  type FinishedPieces,
} from './lightmap/finishPieces';
import type { BakePlan } from './plan/bakePlan';
import { layerCount } from './stems/layers';
import type { HalfStems } from './stems/stemCodec';
import { pieceLots, piecesFit } from './stems/stemParts';
import type { Tile } from './texels/coverTexels';
import { mapOutline } from './texels/mapOutline';
import { planBands, planTiles, type PlannedTile } from './texels/planTiles';
import { joinLight, type BouncedLight, type LevelLight } from './transport/bouncedLight';
import { createDirectLight, type DirectLight } from './transport/directLight';
import { directTile, type TileDirect } from './transport/directTile';
import { gatherTile, type TileStems } from './transport/gatherTile';
import type { Scene } from './transport/scene';
import { solveBounce } from './transport/solveBounce';

/**
 * The steps of a bake, in their order. Each waits for the whole of the one before: bounces and paths find the light of all tiles, and a map is
 * finished from all its bands. A band alone may be denoised before the step is come to (see {@link readyBands}). What is stored is made compact last.
 */
export const BAKE_STEPS = ['plan', 'direct', 'bounce', 'gather', 'denoise', 'finish', 'tables', 'compact'] as const;
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
  /** One for the whole level, and the others after it; none where parts of a bake alone are traced, which stay halves. */
  tables: TablesJob[];
  compact: CompactJob[];
}

/** A level whose compact stems have tables in common, and how many texels it has. */
export interface TablesJob {
  texels: number;
}

/** Texels of a map whose stems are made compact: from the place `first` to that before `end`. */
export interface CompactJob {
  map: number;
  first: number;
  end: number;
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
  tables: TablesInputs;
  compact: CompactInputs;
}

/**
 * What tables are found from: texels from all over the level, of each layer the largest sum of its channels, and the rig that they are to serve; or
 * those of the bake before, where most texels keep their bytes.
 */
export type TablesInputs = { known: CompactTable[] } | { sample: LayerBlock; largest: number[]; rig: Rig };

/** What is made compact: all layers of some texels; and the bake before, where texels outside of what the plan is held to keep its bytes. */
export interface CompactInputs {
  tables: CompactTable[];
  stems: TexelHalves;
  before: Pick<CompactStems, 'at' | 'parts'> | null;
}

/** What a job of each step makes. */
export interface JobResults {
  direct: TileDirect;
  bounce: BouncedLight;
  gather: TileStems;
  denoise: DenoisedBand;
  finish: FinishedPieces;
  tables: CompactTable[];
  compact: CompactStems['parts'];
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
  return {
    direct: tiles,
    bounce: tiles.length > 0 ? [{ texels }] : [],
    gather: tiles,
    denoise: bands,
    finish: planFinish(plan, bands),
    ...planCompact(plan, bands),
  };
}

/** Jobs of a bake without those that follow paths from other maps, or finish them. */
export const jobsOfMaps = (jobs: BakeJobs, maps: ReadonlySet<number>): BakeJobs => {
  const own = <J extends { map: number }>(all: J[]) => all.filter((job) => maps.has(job.map));
  return { ...jobs, gather: own(jobs.gather), denoise: own(jobs.denoise), finish: own(jobs.finish), compact: own(jobs.compact) };
};

/** Texels that are made compact in one go. */
const COMPACT_TEXELS = 1 << 16;

/** Cuts the making of compact stems into jobs. */
function planCompact(plan: BakePlan, bands: readonly PlannedTile[]): Pick<BakeJobs, 'tables' | 'compact'> {
  if (plan.partly) return { tables: [], compact: [] };
  const compact = mapsOf(bands).flatMap(({ map, texels }) =>
    Array.from({ length: Math.ceil(texels / COMPACT_TEXELS) }, (_, k): CompactJob => {
      const first = k * COMPACT_TEXELS;
      return { map, first, end: Math.min(texels, first + COMPACT_TEXELS) };
    }),
  );
  return { tables: compact.length > 0 ? [{ texels: bands.reduce((sum, b) => sum + b.texels, 0) }] : [], compact };
}

/** The maps of some bands, and how many texels each has. */
export const mapsOf = (bands: readonly PlannedTile[]): { map: number; texels: number }[] =>
  [...new Set(bands.map((b) => b.map))].map((map) => ({
    map,
    texels: bands.reduce((sum, b) => sum + (b.map === map ? b.texels : 0), 0),
  }));

/** Cuts the last step of a bake into jobs. */
export function planFinish(plan: BakePlan, bands: readonly PlannedTile[]): FinishJob[] {
  return mapsOf(bands).flatMap(({ map, texels }) => pieceLots(plan, texels).map((pieces): FinishJob => ({ map, pieces })));
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
    tables: () => {
      const made = inputs as TablesInputs;
      return 'known' in made ? made.known : findTables(made.sample, made.largest, plan, momentsOf(made.rig, plan));
    },
    compact: () => {
      const { tables, stems, before } = inputs as CompactInputs;
      const parts = compactOf(tables, plan, stems);
      if (before) keepBytes(parts, before, surfaces, plan, job as CompactJob);
      return parts;
    },
  };
  return run[step]();
}

/** Puts the bytes of the bake before where nothing was traced anew. */
function keepBytes(
  parts: CompactStems['parts'],
  before: Pick<CompactStems, 'at' | 'parts'>,
  surfaces: Surfaces,
  plan: BakePlan,
  { map, first, end }: CompactJob,
): void {
  const { at } = mapOutline(surfaces, map);
  const region = objectMaskOfMap(surfaces, plan, map, at.length);
  const places = placesBefore(at, before.at);
  const texels = end - first;
  for (const [key, planes] of Object.entries(parts)) {
    const from = before.parts[key];
    if (!from) continue;
    for (let i = first; i < end; i++) {
      if (region[i] === 1 || places[i]! < 0) continue;
      for (let plane = 0; plane < planes.length / texels; plane++)
        planes[plane * texels + i - first] = from[plane * before.at.length + places[i]!]!;
    }
  }
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
  sample(): Promise<TablesInputs>;
  tables(): Promise<CompactTable[]>;
  /** All finished layers of some texels. */
  finished(job: CompactJob): Promise<TexelHalves>;
  /** The same map of the bake before, where its tables are this one's; null else. */
  compactBefore(job: CompactJob): Promise<Pick<CompactStems, 'at' | 'parts'> | null>;
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
    tables: () => results.sample(),
    compact: async () => ({
      tables: await results.tables(),
      stems: await results.finished(job as CompactJob),
      before: await results.compactBefore(job as CompactJob),
    }),
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
export const STEP_SHARES: Readonly<Record<JobStep, number>> = {
  direct: 0.3,
  bounce: 0.08,
  gather: 0.4,
  denoise: 0.08,
  finish: 0.06,
  tables: 0.04,
  compact: 0.04,
};

const asHalves = () => Promise.reject(new Error('Stems in memory stay halves.'));

/** An executor that keeps all that jobs make in memory, its stems as halves, and runs as many jobs at once as `run` takes. */
export function memoryExecutor(
  surfaces: Surfaces,
  plan: BakePlan,
  run: RunJob,
  progress?: (share: number) => void,
): BakeExecutor & { light(): Promise<DirectLight>; known(): Promise<LevelLight>; stems(): HalfStems[] } {
  let jobs: BakeJobs = { direct: [], bounce: [], gather: [], denoise: [], finish: [], tables: [], compact: [] };
  const made = {
    direct: new Map<number, TileDirect>(),
    bounce: new Map<number, BouncedLight>(),
    gather: new Map<number, TileStems>(),
    denoise: new Map<number, DenoisedBand>(),
    finish: new Map<number, FinishedPieces>(),
    tables: new Map<number, CompactTable[]>(),
    compact: new Map<number, CompactStems['parts']>(),
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
    sample: asHalves,
    tables: asHalves,
    finished: asHalves,
    compactBefore: asHalves,
  };
  let told = 0;
  return {
    light: results.light,
    known: results.known,
    async run(step) {
      if (step === 'plan') {
        jobs = { ...planJobs(surfaces, plan), tables: [], compact: [] };
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
      if (all.length === 0) progress?.(told);
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
