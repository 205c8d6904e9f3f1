import { useDeferredValue, useMemo, useState, type ReactNode } from 'react';

/** Changes in a row without a rest from which on rows are drawn with each: as the day runs or a hand drags, they would wait until it ends. */
const IN_A_ROW = 2;

/**
 * Rows that follow a change as soon as nothing more urgent is to do. They are there at once where they are of another subject, so that no hand sets
 * what is no longer shown, and while one change comes after another.
 *
 * @returns the rows to show, and whether they are still to follow
 */
export function useFollowed(rows: ReactNode, subject: unknown): [shown: ReactNode, isBehind: boolean] {
  const now = useMemo(() => ({ subject, rows }), [subject, rows]);
  const followed = useDeferredValue(now);
  const [last, setLast] = useState({ now, inARow: 0 });
  if (last.now !== now) setLast({ now, inARow: followed === last.now ? 1 : last.inARow + 1 });
  const isBehind = followed !== now && followed.subject === subject && last.inARow < IN_A_ROW;
  return [isBehind ? followed.rows : rows, isBehind];
}
