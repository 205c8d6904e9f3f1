/** What the page and the server say to one another, as JSON. */
import type { BakePlan } from '../bake';
import type { LayoutOptions, LevelSummary } from '../level';
import type { Rig } from '../rig';
import type { FailureCode } from '../units';

/** A project as the shelf shows it. */
export interface ProjectCard {
  id: string;
  name: string;
  /** ISO 8601. */
  changedAt: string;
  pictureHash: string | null;
  triangles: number;
  cues: number;
}

/** A project as the studio opens it. */
export interface ProjectView {
  id: string;
  name: string;
  revision: number;
  rig: Rig;
  level: { id: string; name: string; hash: string; summary: LevelSummary };
}

/** A level on its way in. */
export interface IntakeView {
  id: string;
  name: string;
  state: 'waiting' | 'reading' | 'done' | 'failed';
  /** Share of the reading done, 0..1. */
  share: number;
  error: string | null;
  projectId: string | null;
}

export type BakeState = 'planning' | 'running' | 'finishing' | 'done' | 'failed' | 'cancelled';

/** A bake as the studio follows it. */
export interface BakeView {
  id: string;
  levelId: string;
  state: BakeState;
  error: string | null;
  /** Share of the jobs done, 0..1. */
  share: number;
  /** Seconds left by the pace so far; null while nothing is known. */
  secondsLeft: number | null;
  plan: BakePlan;
  layout: LayoutOptions;
  maps: { hash: string; width: number; height: number }[];
}

/** The bakes of a project's present level that concern the studio. */
export interface BakesView {
  atWork: BakeView | null;
  /** The newest that is done. */
  done: BakeView | null;
  /** The last one asked for, where it failed. */
  failed: BakeView | null;
}

/** How an answer that is no success tells what is wrong. */
export interface ErrorBody {
  error: { code: FailureCode; message: string; remedy: string };
}
