import { gradeNow, mixGrades, type Grade, type GradeNow } from '../../grade';
import { chromaticity, type Rgb } from '../../units';
import type { Holds } from '../document/types';

/** The grade of a cue: the parts that it holds over the day's. */
export const gradeUnder = (day: Grade, held: Holds['grade']): Grade => ({ ...day, ...held });

/**
 * The grade of a moment: that of one cue, or part of the way between two.
 *
 * @param groundLight light on open, level ground, RGB; asked for only where white balance adapts to it
 */
export function resolveGrade(day: Grade, held: readonly { grade: Holds['grade']; share: number }[], groundLight: () => Rgb): GradeNow {
  const grades = held.length > 0 ? held.map(({ grade }) => gradeUnder(day, grade)) : [day];
  const adapts = grades.some(({ whiteBalance }) => whiteBalance.adapt > 0);
  const sceneWhite: Rgb = adapts ? chromaticity(groundLight()) : [1, 1, 1];
  const [first, second] = grades.map((grade) => gradeNow(grade, sceneWhite));
  return second ? mixGrades(first!, second, held[1]!.share) : first!;
}
