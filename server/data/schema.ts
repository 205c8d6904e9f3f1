import type { ColumnType, Generated, JSONColumnType } from 'kysely';
import type {
  BakeNoise,
  BakePlan,
  BakeStep,
  BounceJob,
  CompactJob,
  FinishJob,
  JobStep,
  NoiseSums,
  PlannedTile,
  TablesJob,
} from '../../core/bake';
import type { FinishDifferences, LayoutOptions, LevelSummary } from '../../core/level';
import type { Rig, ShelfKind, Vantage } from '../../core/rig';
import type { RemedyCode, RepairOptions, SkyReport, TakenSun } from '../../core/image';
import type { BakeState, Foreseen } from '../../core/api';
import type { Patch } from '../../core/units';

type Created = ColumnType<Date, never, never>;

/** A binary by its content. `hash` is null while it is being written. */
export interface BlobTable {
  id: Generated<string>;
  hash: string | null;
  size: Generated<string>;
  created_at: Created;
  /** When a byte of it was last written. */
  touched_at: ColumnType<Date, never, unknown>;
}

export interface BlobChunkTable {
  blob_id: string;
  position: number;
  bytes: Buffer;
}

/** Something that is kept for all projects. */
export interface ShelfThingTable {
  id: Generated<string>;
  kind: ShelfKind;
  name: string;
  /** As it was packed, in the version of rigs of that time. */
  rig: JSONColumnType<object>;
  created_at: Created;
}

export interface ProjectTable {
  id: string;
  name: string;
  level_id: string | null;
  picture_hash: string | null;
  created_at: Created;
  changed_at: ColumnType<Date, never, Date>;
  /** When it was deleted; it can be taken back for some days. */
  deleted_at: ColumnType<Date | null, never, Date | null>;
  /** Whether what is out of date is traced by itself after a pause in editing, and the newest revision that was looked at for that. */
  keep_baking: Generated<boolean>;
  kept_up: number | null;
}

export interface LevelTable {
  id: string;
  project_id: string;
  name: string;
  source_hash: string;
  prepared_hash: string;
  /** How densely its lightmaps are laid out. */
  layout: JSONColumnType<LayoutOptions>;
  summary: JSONColumnType<LevelSummary>;
  created_at: Created;
}

/** A level, or a model of a fixture, on its way in. */
export interface IntakeTable {
  id: string;
  name: string;
  state: 'waiting' | 'reading' | 'compared' | 'done' | 'failed';
  /** The project whose level it becomes; null for a project of its own. */
  into_project_id: string | null;
  source_hash: string;
  /** Share of the reading done, 0..1. */
  share: Generated<number>;
  /** What went wrong, for people. */
  error: string | null;
  project_id: string | null;
  becomes: Generated<'level' | 'model' | 'finish'>;
  /** What another finished version of the project's level shows otherwise, once it is compared; its source is the level with it then. */
  found: JSONColumnType<FinishDifferences> | null;
  /** The file of the level that it was compared with. */
  compared_with: string | null;
  created_at: Created;
}

export interface RigRevisionTable {
  project_id: string;
  revision: number;
  /** The whole rig, or null where it is kept as `patches` that make it of the next revision that is kept. The newest is whole. */
  rig: JSONColumnType<Rig> | null;
  patches: JSONColumnType<Patch[]> | null;
  note: string;
  /** What someone called it; it is kept for good then. */
  name: string | null;
  /** How it looked, as a small PNG; null where no picture was taken before the next change. */
  picture: Generated<Buffer | null>;
  created_at: Created;
}

export interface BakeTable {
  id: string;
  project_id: string;
  level_id: string;
  rig_revision: number;
  /** Source level, layout and plan in one hash: equal bakes have equal keys. */
  key: string;
  /** How densely the lightmaps are to be laid out. */
  layout: JSONColumnType<LayoutOptions>;
  /** What its stems hold, and what of it has to be traced. */
  plan: JSONColumnType<BakePlan>;
  trace: JSONColumnType<BakePlan>;
  /** The bake that the other parts are taken from. */
  base_id: string | null;
  /** The bake that it lies over, where it is one with openings open, and their names, sorted. */
  opens_of: Generated<string | null>;
  open: JSONColumnType<string[]> | null;
  state: BakeState;
  error: string | null;
  created_at: Created;
  started_at: Date | null;
  finished_at: Date | null;
  /** Which step it is at. */
  step: Generated<BakeStep>;
  /** Seconds that were worked on it before it was last started, and in all once it is done; nought where that is not known. */
  worked_s: Generated<number>;
  /** Asked for by Basil after a pause in editing, and not by a person. */
  by_itself: Generated<boolean>;
  /** Kept whatever comes after it. */
  pinned: Generated<boolean>;
  /** Whether tiles whose paths are not followed yet get the fewest of them. */
  early: Generated<boolean>;
  /** Where its level is looked at from, where that is known: what is seen there is traced first. */
  eye: JSONColumnType<Vantage> | null;
  /** Of what it traced; null until it is done, and for one that was done before this was kept. */
  noise: JSONColumnType<BakeNoise> | null;
}

/** A job of a step of a bake. */
export interface BakeJobTable {
  bake_id: string;
  step: JobStep;
  position: number;
  job: JSONColumnType<PlannedTile | BounceJob | FinishJob | TablesJob | CompactJob>;
  done: Generated<boolean>;
  /** What it left for later steps. */
  result_hash: string | null;
  /** Share done, 0..1. */
  share: Generated<number>;
  /** In which order the open jobs of a step are sent; those of one place by their positions. */
  place_in_line: Generated<number>;
  /** What a tile whose paths are followed tells of its noise. */
  noise: JSONColumnType<NoiseSums> | null;
}

export interface StemTable {
  bake_id: string;
  /** Of the first look, before the bake itself is done. */
  coarse: boolean;
  map: number;
  /** A key of `stemParts`, or `cover`. */
  part: string;
  /** The first of its layers of the part: large parts are stored in pieces. */
  first_layer: Generated<number>;
  width: number;
  height: number;
  hash: string;
}

/** A sky image on the shelf. */
export interface SkyImageTable {
  id: string;
  /** Null for the house's, which all projects see. */
  project_id: string | null;
  name: string;
  file_name: string;
  tags: string[];
  /** Comes with Basil and is never changed. */
  shipped: boolean;
  state: 'waiting' | 'reading' | 'ready' | 'failed';
  error: string | null;
  /** The file as it came; it is kept whatever is done. */
  source_hash: string;
  remedies: JSONColumnType<RemedyCode[]>;
  options: JSONColumnType<RepairOptions>;
  /** What it was, and what it is after the remedies. */
  original: JSONColumnType<SkyReport> | null;
  report: JSONColumnType<SkyReport> | null;
  /** The light of its sun, taken out of `rest_hash`. */
  taken_sun: JSONColumnType<TakenSun> | null;
  /** Radiance HDR files ready for use: whole, and without the sun where there is one. */
  whole_hash: string | null;
  rest_hash: string | null;
  /** Small pictures, of the file and after the remedies. */
  before_hash: string | null;
  after_hash: string | null;
  created_at: Created;
}

/** A model that fixtures of a project look like. */
export interface ModelTable {
  id: string;
  project_id: string;
  name: string;
  /** Binary glTF without compression. */
  hash: string;
  triangles: number;
  created_at: Created;
}

/** What was last found about a bake of a project before it is made. */
export interface LookTable {
  project_id: string;
  /** Whether it is being looked for. */
  looking: boolean;
  found: JSONColumnType<Foreseen> | null;
  error: string | null;
}

/** Worker processes, by the last time they said that they live. */
export interface WorkerTable {
  id: string;
  seen_at: ColumnType<Date, Date, Date>;
  threads: number;
}

/** Jobs in a worker's hands, so that a dead worker's can be taken by another. */
export interface RunningTable {
  job_id: string;
  queue: string;
  worker_id: string;
}

export interface SettingTable {
  name: string;
  value: string;
}

export interface Database {
  blobs: BlobTable;
  blob_chunks: BlobChunkTable;
  projects: ProjectTable;
  levels: LevelTable;
  intakes: IntakeTable;
  rig_revisions: RigRevisionTable;
  shelf_things: ShelfThingTable;
  bakes: BakeTable;
  bake_jobs: BakeJobTable;
  stems: StemTable;
  sky_images: SkyImageTable;
  models: ModelTable;
  looks: LookTable;
  workers: WorkerTable;
  running: RunningTable;
  settings: SettingTable;
}
