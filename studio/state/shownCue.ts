import { useCallback } from 'react';
import { NEW_CUE, heldBetween, type Cue, type HeldBetween, type Rig } from '../../core/rig';
import { Failure, sameJson } from '../../core/units';
import { freeName } from '../../core/units';
import { clockText } from '../desk/quantity';
import { useStudio, useStudioStore } from './context';
import { currentCue, shownRig, targetOf, type StudioState, type StudioStore, type StepKey } from './studioStore';
import type { ChangeCue, ChangeRig } from './useRigEdit';
import { useTell } from './useTell';

/** The cue that would be made where the day stands between cues, with what it is blended of. */
export interface CueToBe extends HeldBetween {
  cue: Cue;
}

let last: { rig: Rig; hour: number; images: StudioState['images']; made: CueToBe } | null = null;

/** The cue that an edit at this hour makes; null while a cue is shown. The same one for as long as nothing changes. */
export function cueToBe(state: StudioState): CueToBe | null {
  const { hour, images, rehearsal } = state;
  if (hour === null || rehearsal) return null;
  const rig = shownRig(state);
  if (last?.rig === rig && last.hour === hour && last.images === images) return last.made;
  const named = freeName(rig.cues, `At ${clockText(hour, rig.day.clock === 12)}`);
  const between = heldBetween(rig, hour, images, () => targetOf(state));
  const made = {
    ...between,
    cue: { ...named, kind: 'timed' as const, hour: Number(hour.toFixed(4)), fadeS: 1, ...NEW_CUE, holds: between.holds },
  };
  last = { rig, hour, images, made };
  return made;
}

/**
 * Changes the rig where a cue is edited. Between cues the one of that hour is made first, in the same step of the history, and shown; an
 * edit that leaves it as it was made, as one of the day's does, makes none. Answers the name of the cue that it has made, or null.
 */
export function editShown(store: StudioStore, what: string, recipe: (rig: Rig) => void, key?: StepKey): string | null {
  const made = cueToBe(store.getState());
  if (!made) {
    store.getState().edit(what, recipe, key);
    return null;
  }
  const { cue } = made;
  store.getState().edit(
    what,
    (r) => {
      r.cues.push(JSON.parse(JSON.stringify(cue)) as Cue);
      recipe(r as Rig);
      const at = r.cues.findIndex((c) => c.id === cue.id);
      if (at >= 0 && sameJson(JSON.parse(JSON.stringify(r.cues[at])), cue)) r.cues.splice(at, 1);
    },
    key,
  );
  if (!store.getState().rig.cues.some((c) => c.id === cue.id)) return null;
  store.getState().go(cue.id, 0);
  return cue.name;
}

/** The cue that the desks show: the one that stands, or between cues the one that a first edit makes. */
export interface ShownCue {
  cue: Cue;
  /** The cue that is shown, or that was before the day stood between cues: the rows of a desk are about it and what follows by the dayline. */
  shownId: string;
  /** What it would be made of; null while a cue is shown. */
  toBe: CueToBe | null;
  /** Changes it as one named step. */
  change: ChangeCue;
  /** Changes the rig where what is changed may be the cue. */
  changeRig: ChangeRig;
}

/** Changes the rig where a cue is edited, and says so where that has made one. */
export function useCueEdit(): ChangeRig {
  const store = useStudioStore();
  const { fault, say } = useTell();
  return useCallback(
    (what, recipe, key) => {
      try {
        const made = editShown(store, what, recipe as (rig: Rig) => void, key);
        if (made) say(`The cue ${made} was made, to hold this.`);
      } catch (error) {
        fault(error);
      }
    },
    [store, fault, say],
  );
}

/** The cue that rows were drawn for. Throws a `conflict` Failure where it is gone: they had not followed yet. */
function cueOfRows<C extends { id: string }>(cues: C[], id: string): C {
  const cue = cues.find((c) => c.id === id);
  if (!cue) throw new Failure('conflict', 'Another cue is shown by now.', 'Set it again.');
  return cue;
}

export function useShownCue(): ShownCue {
  const toBe = useStudio(cueToBe);
  const current = useStudio(currentCue);
  const changeRig = useCueEdit();
  const cue = toBe?.cue ?? current;
  const { id, name } = cue;
  const change: ChangeCue = useCallback(
    (what, recipe, key) => changeRig(`${name}: ${what}`, (r) => recipe(cueOfRows(r.cues, id)), key && `${id} ${key}`),
    [changeRig, id, name],
  );
  return { cue, shownId: current.id, toBe, change, changeRig };
}
