import { clockText } from '../desk/quantity';
import type { Rig } from '../../core/rig';
import type { KeptLight, SideChoice } from './compareStore';

/**
 * A side in words: its light, and what is left out of it.
 *
 * @param bake the bake that lights it, where it is not the one that is shown
 */
export function sideText(
  { light, ungraded, live }: SideChoice,
  rig: Rig,
  kept: readonly KeptLight[],
  now: string,
  bake: string | null,
): string {
  const words: string[] = [];
  if (light.of === 'now') words.push(now);
  if (light.of === 'cue') words.push(rig.cues.find((c) => c.id === light.cueId)?.name ?? 'a cue that is gone');
  if (light.of === 'hour') words.push(clockText(light.hour, false));
  if (light.of === 'kept') words.push(kept.find((k) => k.id === light.id)?.name ?? 'a light that is gone');
  if (bake) words.push(bake);
  if (ungraded) words.push('ungraded');
  if (live) words.push('live');
  return words.join(', ');
}
