import { create } from 'zustand';
import type { StrollPlace } from '../../../core/rig';
import type { Vec3 } from '../../../core/units';

/** A way that is being drawn: where its last leg ended, its corners, and where the eye is on it, step by step. */
export interface DrawnWay {
  feet: Vec3;
  corners: readonly Vec3[];
  eyes: readonly Vec3[];
}

interface StrollTool {
  /** What was walked since recording began; null while nothing is recorded. */
  recording: StrollPlace[] | null;
  /** The way that clicks add to; null while none is drawn, without a corner before the first click. */
  drawing: DrawnWay | 'begun' | null;
  /** The stroll whose way is drawn over the picture. */
  shownId: string | null;
}

export const NO_STROLL: StrollTool = { recording: null, drawing: null, shownId: null };

/** What is done about strolls in the picture. */
export const useStrollTool = create<StrollTool>(() => NO_STROLL);

/** Whether a way is being walked or drawn: the picture is one then, and no comparison. */
export const isMakingWay = ({ recording, drawing }: StrollTool): boolean => recording !== null || drawing !== null;
