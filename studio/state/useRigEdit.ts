import type { Draft } from 'immer';
import { useCallback } from 'react';
import type { Cue, Rig } from '../../core/rig';
import { useStudioStore } from './context';
import type { StepKey } from './studioStore';
import { useTell } from './useTell';

/** Changes the cue that is shown, as one named step. */
export type ChangeCue = (what: string, recipe: (cue: Draft<Cue>) => void, key?: string) => void;
/** Changes the rig, as one named step; a refused value is told and changes nothing. */
export type ChangeRig = (what: string, recipe: (rig: Draft<Rig>) => void, key?: StepKey) => void;

/** The function that changes the rig: the same one at every call, so that what is handed it is not drawn again for its sake. */
export function useRigEdit(): ChangeRig {
  const store = useStudioStore();
  const { fault } = useTell();
  return useCallback(
    (what, recipe, key) => {
      try {
        store.getState().edit(what, recipe, key);
      } catch (error) {
        fault(error);
      }
    },
    [store, fault],
  );
}
