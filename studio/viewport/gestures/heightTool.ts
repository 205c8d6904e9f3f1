import { create } from 'zustand';

/** A height of the weather that a drag in the picture sets. */
export type DraggedHeight = 'water' | 'snow line';

/** Which height the next drag in the picture sets; null is none. No part of the rig. */
export const useHeightTool = create<{ sets: DraggedHeight | null }>(() => ({ sets: null }));
