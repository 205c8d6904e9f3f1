import { bakeChange, type BakeChange } from '../../core/bake';
import type { BakeView } from '../../core/api';
import type { Rig } from '../../core/rig';

let last: { done: BakeView; rig: Rig; change: BakeChange } | null = null;

/** What changed since a bake was made: found once for a rig, however many places show it. */
export function changeSince(done: BakeView, rig: Rig): BakeChange {
  if (last?.done !== done || last.rig !== rig) last = { done, rig, change: bakeChange(done, rig) };
  return last.change;
}
