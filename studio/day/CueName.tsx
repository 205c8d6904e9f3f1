'use client';

import { useName } from '../desk/useName';
import desk from '../desk/desk.module.css';
import styles from './day.module.css';

interface Props {
  name: string;
  /** Names of the other cues. */
  taken: string[];
  /** Its hour, as it is shown. */
  clock: string;
  onRename(name: string): void;
}

/** The name of the cue over its desk: a click edits it. */
export function CueName({ name, taken, clock, onRename }: Props) {
  const { wrong, field } = useName(name, taken, onRename);
  return (
    <header className={styles.cueName}>
      <input className={desk.nameField} aria-label="Name of the cue" {...field} />
      <span>{clock}</span>
      {wrong && <p role="alert">{wrong}</p>}
    </header>
  );
}
