import type { Rig } from '../../core/rig';
import { useRigEdit } from '../state/useRigEdit';
import type { Looked } from '../state/studioStore';

/** The function that takes an earlier revision up again, as one step over the present rig: the later ones stay in the history. */
export function useGoBack(): (to: Looked) => void {
  const changeRig = useRigEdit();
  return ({ revision, rig }) =>
    changeRig(`Back to revision ${revision}`, (r) => void Object.assign(r, JSON.parse(JSON.stringify(rig)) as Rig));
}
