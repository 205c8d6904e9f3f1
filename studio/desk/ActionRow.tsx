'use client';

import type { ReactNode } from 'react';
import styles from './desk.module.css';

interface Props {
  label: ReactNode;
  /** What the button says. */
  action: ReactNode;
  title?: string;
  disabled?: boolean;
  onClick(): void;
}

/** A line of the desk that says how something stands, with what can be done about it. */
export function ActionRow({ label, action, title, disabled, onClick }: Props) {
  return (
    <div className={styles.pick}>
      <span>{label}</span>
      <button type="button" className={styles.quiet} title={title} disabled={disabled} onClick={onClick}>
        {action}
      </button>
    </div>
  );
}
