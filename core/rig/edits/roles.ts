import { READY_ROLES, type ReadyRole, type Role, type RoleRule, type RoleTarget } from '../../roles';
import type { Rig } from '../document/types';

type RoleRig = Pick<Rig, 'roles'>;

const keyOf = ({ by, name }: RoleTarget): string => `${by} ${name}`;

/** Gives surfaces a ready role, or switches of their own; rules that were about just these are changed where they stand. */
export function setRoles(rig: RoleRig, targets: readonly RoleTarget[], role: ReadyRole | Role): void {
  const given = typeof role === 'string' ? { as: role, role: { ...READY_ROLES[role].role } } : { as: 'own' as const, role };
  const wanted = new Map(targets.map((target) => [keyOf(target), target]));
  const roles = rig.roles.map((rule): RoleRule => (wanted.delete(keyOf(rule)) ? { ...rule, ...given } : rule));
  const ids = new Set(roles.map((r) => r.id));
  let n = roles.length;
  for (const { by, name } of wanted.values()) {
    do n++;
    while (ids.has(`role-${n}`));
    roles.push({ id: `role-${n}`, by, name, ...given });
  }
  rig.roles = roles;
}

/** The same for some surfaces. */
export const setRole = (rig: RoleRig, target: RoleTarget, role: ReadyRole | Role): void => setRoles(rig, [target], role);

/** Lets surfaces be as they are again. */
export function removeRole(rig: RoleRig, id: string): void {
  rig.roles = rig.roles.filter((r) => r.id !== id);
}
