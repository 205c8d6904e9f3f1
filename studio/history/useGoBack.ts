import type { Rig } from '../../core/rig';
import { applyDiff, treeDiff } from '../../core/units';
import { useStudioStore } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import type { Looked } from '../state/studioStore';

/** The function that takes an earlier revision up again, as one step over the present rig: the later ones stay in the history. */
export function useGoBack(): (to: Looked) => void {
  const changeRig = useRigEdit();
  const store = useStudioStore();
  return ({ revision, rig: then }) => {
    const { rig } = store.getState();
    // What is the same stays the same object, so that only what differs is drawn again.
    const next = applyDiff<Rig>(rig, treeDiff(rig, then));
    changeRig(`Back to revision ${revision}`, (r) => void Object.assign(r, next));
  };
}
