import type { Grade, GradePart } from '../../core/grade';

/** What a section of the grade is given: the grade that is set, and how to set a part of it. */
export interface GradeRows {
  grade: Grade;
  /** Sets a part as one named step. */
  set<P extends GradePart>(part: P, value: Grade[P], what: string, key: string): void;
  /** Whether the cue holds a part, and how it lets go of it; not while the day is set. */
  held(part: GradePart): { is: boolean; release(): void } | undefined;
}
