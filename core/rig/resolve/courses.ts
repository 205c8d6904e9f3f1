import type { Rig } from '../document/types';
import { leafAt, type LeafPath } from '../edits/heldLeaves';
import { heldBetween } from './cueBetween';

/**
 * Courses of held numbers over a day, as the day's cues blend: at `steps + 1` even moments from midnight to midnight, NaN where a value follows the
 * day and has no number of its own.
 */
export function coursesOf(rig: Rig, paths: readonly LeafPath[], steps: number): number[][] {
  const moments = Array.from({ length: steps + 1 }, (_, i) => heldBetween(rig, ((i / steps) * 24) % 24).holds);
  return paths.map((path) =>
    moments.map((holds) => {
      const value = leafAt({ holds }, path);
      return typeof value === 'number' ? value : NaN;
    }),
  );
}
