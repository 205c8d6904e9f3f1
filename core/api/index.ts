/** What the page and the server say to one another, as JSON. */
export { FORMS, checkForm, type BakeExtent, type BakeOrder, type CoresChange, type Form, type SkyImageChange } from './requests';
export { REMEDY_NAMES } from './remedies';
import type { BakeNoise, BakePlan, BakeStep } from '../bake';
import type { LevelNeeds } from '../density';
import type { PreflightLine } from '../preflight';
import type { FinishDifferences, LayoutOptions, LevelSummary } from '../level';
import type { RemedyCode, RepairOptions, SkyReport, TakenSun } from '../image';
import type { BakeSettings, Rig, ShelfKind } from '../rig';
import type { CoresChange } from './requests';
import type { FailureCode, Placing } from '../units';

/** How the server fares; it is refused as `unavailable` while the database does not answer. */
export interface HealthView {
  /** Workers that live: without any nothing goes on. */
  workers: number;
  /** Room on the disk of its data, MB; null where that is on another machine. */
  disk: {
    freeMB: number;
    /** `low`: files and bakes are refused; `held`: jobs that are begun wait too. */
    state: 'ample' | 'low' | 'held';
  } | null;
}

/** How many cores of each machine bake, and how many a machine that works for the server has at most. */
export interface CoresView extends CoresChange {
  most: number;
}

/** A project as the shelf shows it. */
export interface ProjectCard {
  id: string;
  name: string;
  /** ISO 8601. */
  changedAt: string;
  /** When it was deleted, ISO 8601; null for one that is on the shelf. */
  deletedAt: string | null;
  pictureHash: string | null;
  triangles: number;
  cues: number;
}

/** Days for which a project that was deleted can be taken back. */
export const DELETED_KEPT_DAYS = 7;

/** What a project occupies, bytes: files that it shares with others are counted for each. */
export interface Occupied {
  projectId: string;
  level: number;
  bakes: number;
  /** Sky images, models and pictures. */
  images: number;
  history: number;
  /** What tidying would free: of earlier levels and bakes. */
  spare: number;
}

/** A revision of a project's rig, as its history lists it. */
export interface HistoryEntry {
  revision: number;
  /** What was done last before it was stored. */
  note: string;
  /** What someone called it; null for most. It is kept for good then. */
  name: string | null;
  /** ISO 8601. */
  at: string;
  hasPicture: boolean;
}

/** Something that is kept for all projects. */
export interface ShelfEntry {
  id: string;
  kind: ShelfKind;
  name: string;
  /** When it was kept, ISO 8601. */
  at: string;
}

/** What a page is told as it happens: the number of a new revision of the project's rig; null where there may be one. */
export interface ProjectEvent {
  revision: number | null;
}

/** A project as the studio opens it. */
export interface ProjectView {
  id: string;
  name: string;
  revision: number;
  rig: Rig;
  /** The level, and how its file lies in it. */
  level: { id: string; name: string; hash: string; placing: Placing; summary: LevelSummary };
}

/** A sky image of the shelf. */
export interface SkyImageView {
  id: string;
  name: string;
  fileName: string;
  tags: string[];
  /** Whether all projects see it, and whether it comes with Basil and is never changed. */
  house: boolean;
  shipped: boolean;
  state: 'waiting' | 'reading' | 'ready' | 'failed';
  error: string | null;
  remedies: RemedyCode[];
  options: RepairOptions;
  original: SkyReport | null;
  report: SkyReport | null;
  sun: TakenSun | null;
  wholeHash: string | null;
  restHash: string | null;
  beforeHash: string | null;
  afterHash: string | null;
}

/** A sky image of a collection reached over HTTP, with the values that usually go with it. */
export interface CatalogueItem {
  id: string;
  name: string;
  /** Address of a small picture. */
  picture?: string;
  /** Address of the file, from the list's own. */
  file: string;
  bytes: number;
  licence: string;
  tags: string[];
  typical?: { sunAzimuthDeg?: number; sunElevationDeg?: number; sunLux?: number; sunKelvin?: number; levelLux?: number };
}

/** A collection's list, or why there is none. */
export interface CatalogueView {
  address: string;
  name: string;
  items: CatalogueItem[];
  error?: string;
}

/** A city that can be taken as a place. */
export interface CityView {
  name: string;
  country: string;
  latitudeDeg: number;
  longitudeDeg: number;
  /** Of the tz database. */
  timeZone: string;
}

/** A model that fixtures of a project can look like. */
export interface ModelView {
  /** That of the intake it came by. */
  id: string;
  name: string;
  hash: string;
  triangles: number;
}

/** A level on its way in. */
export interface IntakeView {
  id: string;
  name: string;
  /** `compared`: another finished version of a level, which waits to be taken or dropped. */
  state: 'waiting' | 'reading' | 'compared' | 'done' | 'failed';
  /** Share of the reading done, 0..1. */
  share: number;
  error: string | null;
  projectId: string | null;
  /** The project that it is brought into; null for one of its own. */
  into: string | null;
  /** What another finished version shows otherwise, once it is compared. */
  found: FinishDifferences | null;
  /** Workers that live: without any nothing is read. */
  workers: number;
}

export type BakeState = 'planning' | 'running' | 'paused' | 'finishing' | 'done' | 'failed' | 'cancelled';

/** How a bake stands. */
export interface BakeNow {
  id: string;
  levelId: string;
  state: BakeState;
  step: BakeStep;
  error: string | null;
  /** Whether Basil began it after a pause in editing: it traces at rough, and the next edit ends it. */
  byItself: boolean;
  /** Whether it is to be finished early: what is not traced yet gets the fewest paths. */
  early: boolean;
  /** The openings that are open in it, sorted, where it is one of them; null where all objects are traced. */
  open: string[] | null;
  /** Jobs whose outcome is kept: one that failed can go on from there. */
  kept: number;
  /** Share of the work done, 0..1. */
  share: number;
  /** Seconds left by the pace so far; null while nothing is known. */
  secondsLeft: number | null;
  /** Whether there is light of it to look at: its own, or that of the first, coarse look. */
  hasLook: boolean;
  /** How many of its bands can be shown while others are traced, and how many it has; none of a bake that is done. */
  bandCount: { done: number; all: number };
}

/** What a bake holds: it is larger, and changes no more once the bake is done. */
export interface BakeParts {
  /** Hash of the level as it is laid out for it. */
  levelHash: string;
  plan: BakePlan;
  /** Keys of the parts that are traced; the others are kept from the bake before. */
  traced: string[];
  /** Objects that it is held to; null for all. */
  only: string[] | null;
  layout: LayoutOptions;
  /** What it knows of the noise in what it traced; null until it is done, and for one that was done before this was kept. */
  noise: BakeNoise | null;
  maps: StoredMap[];
  /** Whether `maps` are those of the first, coarse look. */
  coarse: boolean;
  /** Of one at work the bands that can be shown over them; none of one that is held to some objects. */
  bands: StoredBand[];
}

/** Where the light of some rows of a lightmap lies before that is finished: the layers that the bake traces (see `readBand`). */
export interface StoredBand {
  map: number;
  /** Of the map. */
  width: number;
  height: number;
  top: number;
  bottom: number;
  texels: number;
  hash: string;
}

/** A bake as the studio shows it. */
export type BakeView = BakeNow & BakeParts;

/** Where the stems of one lightmap lie. */
export interface StoredMap {
  width: number;
  height: number;
  /** Hash of the file that says which texels surface covers. */
  cover: string;
  /** Hashes of the parts, by the keys of `stemParts`; of those that are stored in pieces, in their order. */
  parts: Record<string, string[]>;
}

/** A bake that is done and kept, as the list of bakes tells of it. */
export interface KeptBake {
  id: string;
  levelId: string;
  /** Hash of the level as it is laid out for this bake. */
  levelHash: string;
  /** Whether it lights the level that is shown, perhaps laid out otherwise, and not an earlier version of it. */
  isOfLevel: boolean;
  /** ISO 8601. */
  askedAt: string;
  /** Seconds that were worked on it; null where that is not known. */
  seconds: number | null;
  /** What its stems take on the disk. */
  bytes: number;
  /** Kept whatever comes after it. */
  pinned: boolean;
  /** Whether a part of it is noisier than its quality: finished early, or traced at rough after edits. */
  isPartial: boolean;
  /** Null for settings of another version. */
  quality: BakeSettings['quality'] | null;
  texelsPerM: number;
  /** Noise that its quality allows, and the share of its texels that ended above it; null where it is not known. */
  noise: { allowed: number; over: number } | null;
}

/** The bakes of a project that are kept, newest first; of those that are not pinned at most so many, within so many bytes. */
export interface KeptBakes {
  bakes: KeptBake[];
  most: number;
  room: number;
}

/** What a bake would take, foreseen from a probe of the level on this machine, and what would spoil it. */
export interface Foreseen {
  /** The settings and roles that it was looked at with; looks from before there were roles have none. */
  bake: BakeSettings;
  roles?: Rig['roles'];
  estimate: { texels: number; seconds: number; memoryMB: number; storedMB: number; storedPerCueMB: number };
  lines: Pick<PreflightLine, 'code' | 'text' | 'object' | 'atM' | 'role'>[];
  /** What of texels each object needs; looks from before this was found have none. */
  needs?: LevelNeeds;
  /** What each set of openings takes beside the bake; looks from before there were openings have none. */
  openings?: { open: readonly string[]; objects: number; texels: number; seconds: number; storedMB: number }[];
}

/** A look at a project before it is baked. */
export interface LookView {
  looking: boolean;
  found: Foreseen | null;
  error: string | null;
}

/** The bakes of a project's present level that concern the studio. */
export interface BakesOf<Bake> {
  atWork: Bake | null;
  /** The newest that is done. */
  done: Bake | null;
  /** The last one asked for, where it failed. */
  failed: Bake | null;
  /** Those that are done over the newest, with openings open. */
  opened: Bake[];
  /** Workers that live: without any nothing goes on. */
  workers: number;
  /** Whether what is out of date is traced by itself after a pause in editing. */
  keepsBaking: boolean;
}

/** How they stand: it is asked for each second. */
export type BakesNow = BakesOf<BakeNow>;

/** With what they hold. */
export type BakesView = BakesOf<BakeView>;

/** How an answer that is no success tells what is wrong. */
export interface ErrorBody {
  error: { code: FailureCode; message: string; remedy: string };
}
