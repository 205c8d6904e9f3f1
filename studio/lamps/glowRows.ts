import type { GlowRule } from '../../core/rig';
import type { OwnGlow } from '../viewport/level/glows';

/** Surfaces that glow as one: all that has a material, or those that a rule is about; with what the material sends out by itself. */
export interface GlowRow {
  material: string;
  rule: GlowRule | null;
  own: OwnGlow | null;
}

/** All that glows, each material followed by the objects that differ from it. */
export function glowRows(own: readonly OwnGlow[], rules: readonly GlowRule[]): GlowRow[] {
  const materials = [...new Set([...own.map((g) => g.name), ...rules.map((r) => r.material)])];
  return materials.flatMap((material) => {
    const of = own.find((g) => g.name === material) ?? null;
    const ofAll = rules.find((r) => r.material === material && r.objects === null) ?? null;
    const some = rules.filter((r) => r.material === material && r.objects !== null);
    return [...(of || ofAll ? [{ material, rule: ofAll, own: of }] : []), ...some.map((rule) => ({ material, rule, own: of }))];
  });
}
