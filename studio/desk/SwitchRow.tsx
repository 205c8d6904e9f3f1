'use client';

import { Switch } from 'antd';
import type { ReactNode } from 'react';
import { useAsked } from './useAsked';
import styles from './desk.module.css';

interface Props {
  label: ReactNode;
  /** What the switch is called where the label alone does not say it. */
  name?: string;
  on: boolean;
  disabled?: boolean;
  onChange(on: boolean): void;
}

/** One thing of the desk that is on or off. */
export function SwitchRow({ label, name, on, disabled, onChange }: Props) {
  const [shown, ask] = useAsked(on, onChange);
  return (
    <div className={styles.pick}>
      <span>{label}</span>
      <Switch
        size="small"
        aria-label={name ?? (typeof label === 'string' ? label : undefined)}
        checked={shown}
        disabled={disabled}
        onChange={ask}
      />
    </div>
  );
}
