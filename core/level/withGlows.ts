import { bySurface } from '../roles';
import type { Surfaces } from './types';

/** What the glow of surfaces is traced as. */
export interface TracedGlow {
  lightId: string | null;
  /** Radiance that stands in place of what their material sends out, in each channel, cd/m2; null leaves that as it is. */
  unit: number | null;
}

/**
 * A level whose materials say which light their glow goes into. Its triangles keep their numbers.
 *
 * @param glowOf what is said of a material on an object; null where nothing is
 */
export function withGlows(level: Surfaces, glowOf: (material: string, object: string) => TracedGlow | null): Surfaces {
  const materialOf = new Uint16Array(new SharedArrayBuffer(level.materialOf.length * 2));
  const materials = [...level.materials];
  const made = new Map<string, number>();
  const worn = bySurface(level, (object, material) => {
    const own = level.materials[material]!;
    const glow = glowOf(own.name, level.objects[object]!);
    if (!glow?.lightId) return material;
    const key = `${material} ${glow.lightId}`;
    if (!made.has(key)) {
      const emission = glow.unit === null ? own.emission : ([glow.unit, glow.unit, glow.unit] as const);
      made.set(key, materials.push({ ...own, emission: [...emission], lightId: glow.lightId }) - 1);
    }
    return made.get(key)!;
  });
  for (let t = 0; t < materialOf.length; t++) materialOf[t] = worn(t);
  return materials.length === level.materials.length ? level : { ...level, materialOf, materials };
}
