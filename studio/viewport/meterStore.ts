import { create } from 'zustand';
import type { Reading } from './stage';

/** What the meter reads under the cursor, and whether the picture is looked at on foot. */
export const useMeter = create<{ reading: Reading | null; walking: boolean }>(() => ({ reading: null, walking: false }));
