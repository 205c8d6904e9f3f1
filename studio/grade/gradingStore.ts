import { create } from 'zustand';
import type { GradePart } from '../../core/grade';
import { useListening } from '../viewport/mix/listening';

/** What is at hand while grading; nothing of it is stored. */
export interface Grading {
  /** The part that was changed last: the one that a key switches off and on. */
  last: GradePart;
  /** Whether what bloom spreads is marked in the picture. */
  markBloom: boolean;
  /** Whether the next click in the picture says what should be neutral. */
  picking: boolean;
}

export const useGrading = create<Grading>(() => ({ last: 'cdl', markBloom: false, picking: false }));

/** Switches a part of the grade off for judging, or on again. */
export const flipPart = (part: GradePart): void =>
  useListening.setState(({ off }) => ({ off: off.includes(part) ? off.filter((p) => p !== part) : [...off, part] }));
