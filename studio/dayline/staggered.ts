import type { Cue } from '../../core/rig';

/** Room that a flag's number and edges take, and that each letter of its name takes, pixels. */
const EDGES_PX = 34;
const LETTER_PX = 6.7;
/** From here to the right end flags stand to the left of their pins, pixels. */
export const FLIP_PX = 150;
/** Rows that flags may stand in. */
const ROWS = 3;

/** A timed cue with the number of its key, and the row that its flag stands in. */
export interface PlacedPin {
  cue: Cue;
  number: number;
  row: number;
}

export const flagPx = ({ name }: Pick<Cue, 'name'>): number => EDGES_PX + name.length * LETTER_PX;

/** The timed cues with the numbers of their keys, each flag in the first row where no other one lies under it. */
export function staggered(cues: Cue[], x: (hour: number) => number): PlacedPin[] {
  const timed = cues.map((cue, i) => ({ cue, number: i + 1, row: 0 })).filter(({ cue }) => cue.kind === 'timed');
  const width = x(24);
  const taken: [from: number, to: number][][] = Array.from({ length: ROWS }, () => []);
  for (const pin of [...timed].sort((a, b) => a.cue.hour - b.cue.hour)) {
    const at = x(pin.cue.hour);
    const own: [number, number] = at > width - FLIP_PX ? [at - flagPx(pin.cue), at] : [at, at + flagPx(pin.cue)];
    const free = taken.findIndex((row) => row.every(([from, to]) => own[1] < from || own[0] > to));
    pin.row = free < 0 ? ROWS - 1 : free;
    taken[pin.row]!.push(own);
  }
  return timed;
}
