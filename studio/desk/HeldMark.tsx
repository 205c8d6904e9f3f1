'use client';

import styles from './desk.module.css';

interface Props {
  /** Of the row. */
  label: string;
  held: { is: boolean; release(): void; follows?: string };
  hold(): void;
}

/** Says whether the cue holds a row's value or takes the day's; a click holds it as it stands, or lets it follow the day again. */
export function HeldMark({ label, held, hold }: Props) {
  const follows = held.follows ?? 'the day';
  return (
    <button
      type="button"
      className={styles.heldMark}
      aria-pressed={held.is}
      aria-label={`${label}: ${held.is ? 'held' : `follows ${follows}`}`}
      title={held.is ? `Held. Click to follow ${follows}` : `Follows ${follows}. Click to hold it as it stands`}
      onClick={() => (held.is ? held.release() : hold())}
    />
  );
}
