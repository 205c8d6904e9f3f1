import { create } from 'zustand';
import type { ShadowCost } from '../lights/liveSuns';
import type { Reading } from './readLight';

/** What the picture tells the desk. */
interface Meter {
  /** Under the cursor. */
  reading: Reading | null;
  /** Whether it is looked at on foot. */
  walking: boolean;
  /** What it is exposed at, and what open ground would be. */
  ev100: number;
  incidentEv: number;
  /** Of each map of one live shadow at the present reach; null until one has been drawn. */
  shadowCost: ShadowCost[] | null;
}

export const useMeter = create<Meter>(() => ({ reading: null, walking: false, ev100: 0, incidentEv: 0, shadowCost: null }));
