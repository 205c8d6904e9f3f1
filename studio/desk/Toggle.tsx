'use client';

import styles from './desk.module.css';

interface Props {
  on: boolean;
  /** What it does, in whole words. */
  label: string;
  /** The word that it shows. */
  mark: string;
  onClick(): void;
}

/** A small switch that is a word, in rows with several. */
export function Toggle({ on, label, mark, onClick }: Props) {
  return (
    <button type="button" className={styles.toggle} aria-pressed={on} aria-label={label} title={label} onClick={onClick}>
      {mark}
    </button>
  );
}
