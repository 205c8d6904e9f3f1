import type { ReadyRole, Role } from '../../roles';
import type { Rig } from '../document/types';
import { cueOf, type Holder } from './holders';
import { setRoles } from './roles';

/** Gives objects a factor on the texel density (nought leaves them out of the bake), or the level's again where it is null. */
export function setDensities({ bake }: Pick<Rig, 'bake'>, objects: readonly string[], factor: number | null): void {
  for (const name of objects) {
    if (factor === null) delete bake.densities[name];
    else bake.densities[name] = factor;
  }
}

/** Gives objects a role, or lets them be as they are where it is null. */
export function setObjectRoles(rig: Pick<Rig, 'roles'>, objects: readonly string[], role: ReadyRole | Role | null): void {
  if (role) {
    const targets = objects.map((name) => ({ by: 'object' as const, name }));
    return setRoles(rig, targets, role);
  }
  const left = new Set(objects);
  rig.roles = rig.roles.filter((r) => r.by !== 'object' || !left.has(r.name));
}

/** Has what objects affect baked without them too, for the cues that hide them, or no more. */
export function setOpenings(rig: Pick<Rig, 'openings'>, names: readonly string[], on: boolean): void {
  const others = rig.openings.filter((name) => !names.includes(name));
  rig.openings = on ? [...others, ...names] : others;
}

/** Shows or hides objects in a cue, or for the day in all cues that say nothing else; null lets a cue follow the day. */
export function showObjects(rig: Pick<Rig, 'cues' | 'hidden'>, holder: Holder, names: readonly string[], shown: boolean | null): void {
  if (holder === 'day') {
    const others = rig.hidden.filter((name) => !names.includes(name));
    rig.hidden = shown === false ? [...others, ...names] : others;
    return;
  }
  const { holds } = cueOf(rig, holder.cueId);
  const objects = { ...holds.objects };
  for (const name of names) {
    if (shown === null) delete objects[name];
    else objects[name] = shown;
  }
  if (Object.keys(objects).length > 0) holds.objects = objects;
  else delete holds.objects;
}
