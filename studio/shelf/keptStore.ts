import { create } from 'zustand';
import type { ShelfKind } from '../../core/rig';

/** Whether the panel of what is kept for all projects is open, and which kind it shows. */
export const useKept = create<{ open: boolean; kind: ShelfKind }>(() => ({ open: false, kind: 'cue' }));
export const flipKept = () => useKept.setState(({ open }) => ({ open: !open }));
