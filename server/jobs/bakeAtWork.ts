import type { BakePlan, BakeStep } from '../../core/bake';
import type { BakeState } from '../../core/api';
import type { LayoutOptions } from '../../core/level';
import type { Vantage } from '../../core/rig';
import type { Db, Tx } from '../data';
import type { JobContext } from './jobContext';

/** A bake that is worked on, with the level that it lies on. */
export interface BakeAtWork {
  id: string;
  project_id: string;
  level_id: string;
  layout: LayoutOptions;
  state: BakeState;
  step: BakeStep;
  plan: BakePlan;
  /** What of the plan is traced. */
  trace: BakePlan;
  base_id: string | null;
  /** The openings that are open in it; null where all objects are traced. */
  open: string[] | null;
  /** Whether Basil began it after a pause in editing. */
  by_itself: boolean;
  /** Whether it is to be finished early. */
  early: boolean;
  /** Where its level is looked at from, where that is known. */
  eye: Vantage | null;
  prepared_hash: string;
}

/** A bake in one of these states; undefined where it was cancelled, paused or done meanwhile. */
export async function bakeAtWork(db: Db | Tx, bakeId: string, states: BakeState[]): Promise<BakeAtWork | undefined> {
  return db
    .selectFrom('bakes')
    .innerJoin('levels', 'levels.id', 'bakes.level_id')
    .select([
      'bakes.id',
      'bakes.project_id',
      'bakes.level_id',
      'bakes.layout',
      'bakes.state',
      'bakes.step',
      'bakes.plan',
      'bakes.trace',
      'bakes.base_id',
      'bakes.open',
      'bakes.early',
      'bakes.by_itself',
      'bakes.eye',
      'levels.prepared_hash',
    ])
    .where('bakes.id', '=', bakeId)
    .where('bakes.state', 'in', states)
    .executeTakeFirst();
}

/** The level that a bake traces, with the models of its fixtures. */
export const levelOf = ({ levels }: JobContext, { prepared_hash, project_id, trace }: BakeAtWork) =>
  levels.traced(prepared_hash, project_id, trace);
