import { defaultRig, type Rig } from '../../core/rig';

/** The rig of a new project, changed. */
export function changedRig(recipe: (rig: Rig) => void): Rig {
  const rig = defaultRig();
  recipe(rig);
  return rig;
}
