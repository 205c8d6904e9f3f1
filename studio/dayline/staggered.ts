import type { Cue } from '../../core/rig';

/** Flags closer together than this, in pixels, stand one under the other. */
export const FLAG_PX = 130;

/** The timed cues with the numbers of their keys, every second of a crowd a row lower. */
export function staggered(cues: Cue[], x: (hour: number) => number): { cue: Cue; number: number; low: boolean }[] {
  const timed = cues.map((cue, i) => ({ cue, number: i + 1, low: false })).filter(({ cue }) => cue.kind === 'timed');
  const inOrder = [...timed].sort((a, b) => a.cue.hour - b.cue.hour);
  inOrder.forEach((pin, i) => {
    const before = inOrder[i - 1];
    pin.low = before !== undefined && !before.low && x(pin.cue.hour) - x(before.cue.hour) < FLAG_PX;
  });
  return timed;
}
