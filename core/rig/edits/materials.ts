import type { Rig } from '../document/types';
import { cueOf, letGo, type Holder } from './holders';

/** Shows a variant of the level's materials in a cue, or for the day in all cues that say nothing else; null lets a cue follow the day. */
export function showVariant(rig: Pick<Rig, 'cues' | 'variant'>, holder: Holder, variant: string | null): void {
  if (holder === 'day') {
    rig.variant = variant ?? '';
    return;
  }
  const { holds } = cueOf(rig, holder.cueId);
  if (variant === null) delete holds.variant;
  else holds.variant = variant;
}

/** Shows another material of the level in place of one in a cue; null, or the same, shows it as it is. */
export function showInstead(rig: Pick<Rig, 'cues'>, cueId: string, material: string, other: string | null): void {
  const { holds } = cueOf(rig, cueId);
  if (other === null || other === material) return letGo(holds, 'looks', material);
  holds.looks = { ...holds.looks, [material]: other };
}
