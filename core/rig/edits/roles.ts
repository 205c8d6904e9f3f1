import { READY_ROLES, type ReadyRole, type Role, type RoleTarget } from '../../roles';
import type { Rig } from '../document/types';

type RoleRig = Pick<Rig, 'roles'>;

const idFor = (rig: RoleRig): string => {
  const taken = new Set(rig.roles.map((r) => r.id));
  let n = rig.roles.length + 1;
  while (taken.has(`role-${n}`)) n++;
  return `role-${n}`;
};

/** Gives surfaces a ready role, or switches of their own; a rule that was about just these is changed. */
export function setRole(rig: RoleRig, target: RoleTarget, role: ReadyRole | Role): void {
  const given = typeof role === 'string' ? { as: role, role: { ...READY_ROLES[role].role } } : { as: 'own' as const, role };
  const same = rig.roles.find((r) => r.by === target.by && r.name === target.name);
  if (same) Object.assign(same, given);
  else rig.roles.push({ id: idFor(rig), by: target.by, name: target.name, ...given });
}

/** Lets surfaces be as they are again. */
export function removeRole(rig: RoleRig, id: string): void {
  rig.roles = rig.roles.filter((r) => r.id !== id);
}
