import { create } from 'zustand';
import type { Reading } from './stage';

/** What the meter reads under the cursor, whether the picture is looked at on foot, its exposure, and what open ground
 * would be exposed at. */
export const useMeter = create<{ reading: Reading | null; walking: boolean; ev100: number; incidentEv: number }>(() => ({
  reading: null,
  walking: false,
  ev100: 0,
  incidentEv: 0,
}));
