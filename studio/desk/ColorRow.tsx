'use client';

import { ColorPicker } from 'antd';
import styles from './desk.module.css';

/** One colour of the desk, as the chromaticity that a luminance is given to. */
export function ColorRow({
  label,
  value,
  preset,
  onChange,
}: {
  label: string;
  value: string;
  preset: string;
  onChange(hex: string): void;
}) {
  return (
    <div className={styles.row} data-differs={value.toLowerCase() !== preset.toLowerCase()}>
      <span className={styles.scrub} onDoubleClick={() => onChange(preset)}>
        {label}
      </span>
      <span />
      <ColorPicker
        value={value}
        disabledAlpha
        size="small"
        showText={(color) => color.toHexString()}
        onChange={(color) => onChange(color.toHexString())}
      >
        <button type="button" className={styles.swatch} aria-label={`${label}, ${value}`}>
          <i style={{ background: value }} />
          {value}
        </button>
      </ColorPicker>
    </div>
  );
}
