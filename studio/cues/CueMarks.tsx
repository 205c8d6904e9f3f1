'use client';

import { useState } from 'react';
import desk from '../desk/desk.module.css';
import styles from './cues.module.css';

/** Colours that a cue may be marked with: far apart, none of them that of something selected or wrong. */
const COLORS = ['#4f8fd0', '#9a78d0', '#c76b9b', '#c9b458', '#5cb3a6'];

/** The colour that a cue's card and pin are marked with. */
export function ColorMarks({ value, onChange }: { value: string | null; onChange(color: string | null): void }) {
  return (
    <div className={desk.pick}>
      <span>Mark</span>
      <span className={styles.colors}>
        <button type="button" aria-label="No mark" title="No mark" aria-pressed={value === null} onClick={() => onChange(null)} />
        {COLORS.map((color) => (
          <button
            key={color}
            type="button"
            aria-label={`Mark ${color}`}
            aria-pressed={value === color}
            style={{ background: color }}
            onClick={() => onChange(color)}
          />
        ))}
      </span>
    </div>
  );
}

/** What the artist says of a cue; taken when the field is left. */
export function NoteField({ value, onChange }: { value: string; onChange(note: string): void }) {
  const [text, setText] = useState<string | null>(null);
  const accept = () => {
    if (text !== null && text !== value) onChange(text);
    setText(null);
  };
  return (
    <textarea
      className={styles.note}
      aria-label="Note on the cue"
      placeholder="Note: what this state is for"
      maxLength={1000}
      rows={2}
      value={text ?? value}
      onChange={(event) => setText(event.currentTarget.value)}
      onBlur={accept}
    />
  );
}
