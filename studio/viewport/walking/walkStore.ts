import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/** Speeds that one may walk at, m/s. */
export const SPEED_M_S = { least: 0.5, most: 20, preset: 3 } as const;

interface Walk {
  speedMS: number;
  crouched: boolean;
}

/** How one walks through the level; this browser keeps the speed. */
export const useWalk = create<Walk>()(
  persist((): Walk => ({ speedMS: SPEED_M_S.preset, crouched: false }), {
    name: 'basil walk',
    partialize: ({ speedMS }) => ({ speedMS }),
  }),
);
