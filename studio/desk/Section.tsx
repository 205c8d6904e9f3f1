import type { ReactNode } from 'react';
import styles from './desk.module.css';

/** A group of the desk under its heading; `note` says in a word how it stands. */
export function Section({ title, note, children }: { title: string; note?: ReactNode; children: ReactNode }) {
  return (
    <section className={styles.section} aria-label={title}>
      <header>
        <h2>{title}</h2>
        {note && <span className={styles.note}>{note}</span>}
      </header>
      {children}
    </section>
  );
}
