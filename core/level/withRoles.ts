import { bySurface, lastRule, roleFinder, type RoleRule, type TracedRule } from '../roles';
import type { Surfaces } from './types';

/**
 * 1 for each triangle that rules of roles leave out of the picture, or whose object is hidden; null where none is left out.
 *
 * @param hidden names of objects
 */
export function undrawnTriangles(
  { objects, groups, materials, objectOf, materialOf }: Surfaces,
  rules: readonly RoleRule[],
  hidden: readonly string[] = [],
): Uint8Array | null {
  if (hidden.length === 0 && rules.every((r) => r.role.drawn)) return null;
  const unseen = new Set(hidden);
  const roleOf = roleFinder(rules);
  const isDrawn = bySurface({ objectOf, materialOf }, (object, material) => {
    const surface = { object: objects[object]!, groups: groups[object] ?? [], material: materials[material]!.name };
    return !unseen.has(surface.object) && roleOf(surface).drawn;
  });
  return Uint8Array.from(objectOf, (_, t) => (isDrawn(t) ? 0 : 1));
}

/**
 * A level with what its roles say of tracing: triangles that light passes, and materials that block from both sides. Its triangles keep
 * their numbers.
 */
export function withRoles(level: Surfaces, rules: readonly TracedRule[]): Surfaces {
  if (rules.length === 0) return level;
  const { objects, groups, materials } = level;
  const traced = new Uint8Array(new SharedArrayBuffer(level.materialOf.length)).fill(1);
  const materialOf = new Uint16Array(new SharedArrayBuffer(level.materialOf.length * 2));
  const all = [...materials];
  const ruleOf = lastRule(rules);
  const ruled = bySurface(level, (object, material) => {
    const own = materials[material]!;
    const rule = ruleOf({ object: objects[object]!, groups: groups[object] ?? [], material: own.name });
    const bothSides = rule?.bothSides ?? own.doubleSided;
    return {
      isTraced: rule?.traced ?? true,
      material: bothSides === own.doubleSided ? material : all.push({ ...own, doubleSided: bothSides }) - 1,
    };
  });
  for (let t = 0; t < materialOf.length; t++) {
    const found = ruled(t);
    traced[t] = found.isTraced ? 1 : 0;
    materialOf[t] = found.material;
  }
  return { ...level, traced, materialOf, materials: all };
}
