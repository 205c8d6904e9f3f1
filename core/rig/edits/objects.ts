import { READY_ROLES, type ReadyRole, type Role, type RoleRule } from '../../roles';
import type { Rig } from '../document/types';

/** Gives objects a factor on the texel density (nought leaves them out of the bake), or the level's again where it is null. */
export function setDensities({ bake }: Pick<Rig, 'bake'>, objects: readonly string[], factor: number | null): void {
  for (const name of objects) {
    if (factor === null) delete bake.densities[name];
    else bake.densities[name] = factor;
  }
}

/** Gives objects a role, or lets them be as they are where it is null. */
export function setObjectRoles(rig: Pick<Rig, 'roles'>, objects: readonly string[], role: ReadyRole | Role | null): void {
  const wanted = new Set(objects);
  if (!role) {
    rig.roles = rig.roles.filter((r) => r.by !== 'object' || !wanted.has(r.name));
    return;
  }
  const given = typeof role === 'string' ? { as: role, role: { ...READY_ROLES[role].role } } : { as: 'own' as const, role };
  const has = new Set<string>();
  const roles = rig.roles.map((rule): RoleRule => {
    if (rule.by !== 'object' || !wanted.has(rule.name)) return rule;
    has.add(rule.name);
    return { ...rule, ...given };
  });
  const ids = new Set(roles.map((r) => r.id));
  let n = roles.length;
  for (const name of wanted) {
    if (has.has(name)) continue;
    do n++;
    while (ids.has(`role-${n}`));
    roles.push({ id: `role-${n}`, by: 'object', name, ...given });
  }
  rig.roles = roles;
}
