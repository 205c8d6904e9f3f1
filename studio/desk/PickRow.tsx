'use client';

import { Segmented, Select } from 'antd';
import { useId, type ReactNode } from 'react';
import { HeldMark } from './HeldMark';
import { useAsked } from './useAsked';
import styles from './desk.module.css';

interface Choice<T> {
  value: T;
  label: ReactNode;
  title?: string;
}

interface Props<T> {
  label: ReactNode;
  value: T;
  options: readonly Choice<T>[];
  disabled?: boolean;
  /** A list that opens, for many choices or long ones. */
  as?: 'segments' | 'list';
  /** Says so on the row where something is held, and lets go of it by a double click on the label. */
  held?: { is: boolean; release(): void; follows?: string };
  onChange(value: T): void;
}

/** One choice of the desk. */
export function PickRow<T extends string | number>({ label, value, options, disabled, as = 'segments', held, onChange }: Props<T>) {
  const id = useId();
  const [shown, ask] = useAsked(value, onChange);
  return (
    <div className={styles.pick} data-differs={held?.is ?? false} data-holds={held !== undefined}>
      {held && <HeldMark label={typeof label === 'string' ? label : ''} held={held} hold={() => ask(shown)} />}
      <span id={id} onDoubleClick={() => held?.is && held.release()}>
        {label}
      </span>
      {as === 'segments' ? (
        <Segmented<T> size="small" value={shown} options={[...options]} disabled={disabled} onChange={ask} aria-labelledby={id} />
      ) : (
        <Select<T>
          aria-labelledby={id}
          size="small"
          style={{ width: 190 }}
          value={shown}
          disabled={disabled}
          options={[...options]}
          onChange={ask}
        />
      )}
    </div>
  );
}
