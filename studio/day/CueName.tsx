'use client';

import { useState } from 'react';
import type { Cue } from '../../core/rig';
import { useStudioStore } from '../state/context';
import styles from './day.module.css';

/** The name of the cue over its desk: a click edits it. */
export function CueName({ cue, clock, onRename }: { cue: Cue; clock: string; onRename(name: string): void }) {
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const store = useStudioStore();

  const accept = () => {
    const name = (text ?? cue.name).trim();
    const others = store.getState().rig.cues.filter((c) => c.id !== cue.id);
    if (name.length === 0 || name.length > 80) return setWrong('A cue needs a name of 1 to 80 letters.');
    if (others.some((c) => c.name.toLowerCase() === name.toLowerCase())) return setWrong('Another cue has that name.');
    setText(null);
    setWrong(null);
    if (name !== cue.name) onRename(name);
  };

  return (
    <header className={styles.cueName}>
      <input
        aria-label="Name of the cue"
        aria-invalid={wrong !== null}
        value={text ?? cue.name}
        onChange={(event) => setText(event.currentTarget.value)}
        onBlur={accept}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key !== 'Escape') return;
          setText(null);
          setWrong(null);
        }}
      />
      <span>{clock}</span>
      {wrong && <p role="alert">{wrong}</p>}
    </header>
  );
}
