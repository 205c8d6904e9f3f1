import { create } from 'zustand';

/** The level seen straight from above, without perspective; no part of the rig. */
interface PlanView {
  on: boolean;
  /** What lies higher is not drawn, metres in the level; null shows all. */
  cutM: number | null;
}

export const usePlan = create<PlanView>(() => ({ on: false, cutM: null }));

export const flipPlan = (): void => usePlan.setState(({ on }) => ({ on: !on }));
