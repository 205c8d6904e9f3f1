import { GLOW_UNIT, glowOf, type GlowScope, type TracedRule } from '../roles';
import { standModels, type ModelOfRig } from './standModels';
import type { Surfaces } from './types';
import { withGlows, type TracedGlow } from './withGlows';
import { withRoles } from './withRoles';

/** What stands in a level, what its surfaces take part in, and where their glow goes. */
export interface Standing {
  models: readonly (ModelOfRig & { placedId: string })[];
  roles?: readonly TracedRule[];
  glows: readonly (GlowScope & { lightId: string | null; isUnit: boolean })[];
}

/**
 * A prepared level as it is traced: with the models of its rig's fixtures, by the roles of its surfaces, and with the lights that their glow
 * goes into.
 *
 * @param files the models that are files, by their ids. Throws a `bad-input` Failure where one of them is missing.
 */
export function tracedSurfaces(level: Surfaces, { models, roles = [], glows }: Standing, files?: ReadonlyMap<string, Surfaces>): Surfaces {
  const find = (material: string, object: string, copy: string | null): TracedGlow | null => {
    const glow = glowOf(glows, { material, object, copy });
    return glow && { lightId: glow.lightId, unit: glow.isUnit ? GLOW_UNIT : null };
  };
  // Copies that glow alike share what they are made of.
  const worn = new Map<Surfaces, Map<string, Surfaces>>();
  const wear = (surfaces: Surfaces, placedId: string): Surfaces => {
    const key = JSON.stringify(surfaces.materials.map((m) => find(m.name, '', placedId)));
    const alike = worn.get(surfaces) ?? new Map<string, Surfaces>();
    worn.set(surfaces, alike);
    if (!alike.has(key))
      alike.set(
        key,
        withGlows(surfaces, (material, object) => find(material, object, placedId)),
      );
    return alike.get(key)!;
  };
  if (glows.length === 0) return withRoles(standModels(level, models, files), roles);
  const own = withGlows(level, (material, object) => find(material, object, null));
  return withRoles(
    standModels(own, models, files, (surfaces, model) => wear(surfaces === own ? level : surfaces, model.placedId)),
    roles,
  );
}
