import type { Surfaces } from '../level';
import type { Rig } from '../rig';
import { matchesPattern } from '../units';
import type { PreflightLine } from './preflight';

/** What a rig names of a level that is not in it, as after a new version of the level: it does nothing until it is there again. */
export function missingNames(
  rig: Rig,
  { objects, groups, materials }: Pick<Surfaces, 'objects' | 'groups' | 'materials'>,
): PreflightLine[] {
  const has = { object: new Set(objects), group: new Set(groups.flat()), material: new Set(materials.map((m) => m.name)) };
  const copies = new Set(rig.placed.map((p) => p.name));
  // What models of fixtures are made of is in their own files.
  const hasModels = rig.fixtures.some((f) => f.model?.from === 'file');
  const everything = [...has.object, ...has.group, ...has.material];
  const found: { name: string; what: string }[] = [
    ...Object.keys(rig.bake.densities).map((name) => ({ name, what: 'has a texel density of its own', is: has.object.has(name) })),
    ...Object.keys(rig.bake.groupDensities).map((name) => ({
      name,
      what: 'is a group with a texel density of its own',
      is: has.group.has(name),
    })),
    ...rig.openings.map((name) => ({ name, what: 'is an opening', is: has.object.has(name) })),
    ...rig.roles.map(({ by, name }) => ({
      name,
      what: 'has a role',
      is: by === 'pattern' ? everything.some((n) => matchesPattern(name, n)) : has[by].has(name),
    })),
    ...rig.glows.flatMap(({ material, objects }) => [
      { name: material, what: 'glows by a rule', is: has.material.has(material) || hasModels },
      ...(objects ?? []).map((name) => ({ name, what: `has a glow of ${material}`, is: has.object.has(name) || copies.has(name) })),
    ]),
    ...rig.fixtures.flatMap(({ name: fixture, model }) =>
      model?.from === 'level' ? [{ name: model.object, what: `is the model of ${fixture}`, is: has.object.has(model.object) }] : [],
    ),
    ...rig.placed.flatMap(({ name: copy, object }) =>
      object === null ? [] : [{ name: object, what: `has ${copy} at it`, is: has.object.has(object) }],
    ),
  ].filter(({ is }) => !is);
  return found.map(({ name, what }) => ({ code: 'missing', object: name, text: `${name} ${what}, and is not in the level.`, atM: null }));
}
