import { resolveCue, resolveHour, type Rig } from '../../rig';
import { mixGains } from '../mix/mix';
import type { Gains } from '../stems/gains';
import type { MixedParts } from '../plan/bakePlan';

/** Hours between two moments of the day. */
const EVERY_H = 0.5;

/** Gains of each cue of a rig, and of its day all through: what compact stems are to tell well. */
export function momentsOf(rig: Rig, baked: MixedParts): Gains[] {
  const hours = Array.from({ length: 24 / EVERY_H }, (_, i) => (i + 0.5) * EVERY_H);
  const lightings = [...rig.cues.map((cue) => resolveCue(rig, cue)), ...hours.map((hour) => resolveHour(rig, hour))];
  return lightings.map((lighting) => mixGains(lighting, baked));
}
