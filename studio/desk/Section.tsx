'use client';

import { createContext, useContext, type ReactNode } from 'react';
import { useFolds } from './folds';
import { useFollowed } from './useFollowed';
import styles from './desk.module.css';

interface Props {
  title: string;
  /** Says in a word how the group stands, folded or not. */
  note?: ReactNode;
  /** For what is rarely needed: folded until it is opened. */
  rare?: boolean;
  /** What stands beside the heading and is used without unfolding. */
  aside?: ReactNode;
  children: ReactNode;
}

/** What the rows of a desk set (see {@link useFollowed}). */
export const DeskSubject = createContext<unknown>(null);

/**
 * A group of the desk under its heading, which folds and unfolds it. A change is answered by the picture and the headings first: the rows follow as
 * soon as nothing more urgent is to do, so what is typed must be held by a part inside.
 */
export function Section({ title, note, rare = false, aside, children }: Props) {
  const folded = useFolds((s) => s.folded[title] ?? rare);
  const fold = useFolds((s) => s.fold);
  const [rows, isBehind] = useFollowed(children, useContext(DeskSubject));
  return (
    <section className={styles.section} aria-label={title} data-folded={folded} data-following={isBehind}>
      <h2>
        <button type="button" className={styles.heading} aria-expanded={!folded} onClick={() => fold(title, !folded)}>
          <span>{title}</span>
          {note && <span className={styles.note}>{note}</span>}
          <i className={styles.foldMark} aria-hidden />
        </button>
        {aside}
      </h2>
      {!folded && rows}
    </section>
  );
}
