'use client';

import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import type { StudioState, StudioStore } from './studioStore';

export const StudioContext = createContext<StudioStore | null>(null);

/** The store of the project that is open. */
export function useStudioStore(): StudioStore {
  const store = useContext(StudioContext);
  if (!store) throw new Error('This part stands outside the studio.');
  return store;
}

/** A value of the studio's state; the part is drawn again when it changes. */
export function useStudio<T>(select: (state: StudioState) => T): T {
  return useStore(useStudioStore(), select);
}
