import type { LayoutOptions } from '../../level';
import { mappedRules } from '../../roles';
import type { Rig } from '../../rig';
import { AS_GLTF, samePlacing } from '../../units';

/** The part of a rig that decides how a level's lightmaps are laid out. */
export function layoutOf({ bake, roles, placing }: Pick<Rig, 'bake' | 'roles' | 'placing'>): LayoutOptions {
  const { texelsPerM, maxMapSize, densities, groupDensities } = bake;
  const mapped = mappedRules(roles);
  return {
    texelsPerM,
    maxMapSize,
    densities,
    ...(Object.keys(groupDensities).length > 0 ? { groupDensities } : {}),
    ...(mapped.length > 0 ? { mapped } : {}),
    ...(placing && !samePlacing(placing, AS_GLTF) ? { placing } : {}),
  };
}
