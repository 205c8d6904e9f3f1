import type { ReactNode } from 'react';
import styles from './desk.module.css';

const idOf = (name: string) => `desk-${name.toLowerCase()}`;

/** Stays at the top of a long desk and leads to each of its parts. */
export function DeskStrip({ parts }: { parts: readonly string[] }) {
  return (
    <nav className={styles.parts} aria-label="Parts of the desk">
      {parts.map((name) => (
        <button key={name} type="button" onClick={() => document.getElementById(idOf(name))?.scrollIntoView({ block: 'start' })}>
          {name}
        </button>
      ))}
    </nav>
  );
}

/** Some groups of a desk that the strip leads to. */
export function DeskPart({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div id={idOf(name)} className={styles.part}>
      {children}
    </div>
  );
}
