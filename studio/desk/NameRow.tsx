'use client';

import { useName } from './useName';
import styles from './desk.module.css';

/** A name on the desk; refused where it is empty or another's. */
export function NameRow({
  label,
  value,
  taken,
  onChange,
}: {
  label: string;
  value: string;
  taken: string[];
  onChange(name: string): void;
}) {
  const { wrong, field } = useName(value, taken, onChange);
  return (
    <>
      <label className={styles.pick}>
        {label}
        <span className={styles.field} data-wrong={wrong !== null}>
          <input className={styles.name} {...field} />
        </span>
      </label>
      {wrong && (
        <p className={styles.fault} role="alert">
          {wrong}
        </p>
      )}
    </>
  );
}
