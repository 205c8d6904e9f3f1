import { create } from 'zustand';
import type { Quantity } from './quantity';

/** A value that is to be tried at several steps. */
export interface LadderAsked {
  label: string;
  value: number;
  quantity: Quantity;
  /** The cue that its pictures are of; without one they are of what is shown. */
  cueId?: string;
  /** Sets the value, as the row that it belongs to does. */
  set(value: number): void;
}

/** The value of a desk that a ladder is of, while one is. */
export const useLadder = create<{ asked: LadderAsked | null }>(() => ({ asked: null }));

/** Asks for a ladder of a value. */
export const ladderOf = (asked: LadderAsked): void => useLadder.setState({ asked });
