import { ColorPicker } from 'antd';
import type { ReactNode } from 'react';
import { PLAIN_TRIM, setTrim, type StemName, type Trim } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { logarithmic } from '../desk/quantity';
import { useShownCue } from '../state/shownCue';
import { STEM_LABELS } from './looking';
import styles from './bake.module.css';

export const LEVEL = logarithmic('×', 0.125, 8, { zero: true, digits: 3 });

interface Props {
  stem: StemName;
  /** How it reads where the stem's own name does not fit. */
  label?: string;
  /** What stands before it. */
  children?: ReactNode;
}

/** Level and tint of a stem under the cue: one value, wherever its row stands. */
export function TrimRow({ stem, label = STEM_LABELS[stem], children }: Props) {
  const { cue, change } = useShownCue();
  const trim = cue.holds.mix?.[stem] ?? PLAIN_TRIM;
  const set = (next: Trim, what: string, key: string) => change(what, ({ holds }) => setTrim(holds, stem, next), `mix ${stem} ${key}`);
  return (
    <div className={styles.trim}>
      {children}
      <ColorPicker
        value={trim.tint}
        disabledAlpha
        size="small"
        onChange={(color) => set({ ...trim, tint: color.toHexString() }, `${STEM_LABELS[stem]} in ${color.toHexString()}`, 'tint')}
      >
        <button
          type="button"
          className={styles.tint}
          aria-label={`Tint of ${STEM_LABELS[stem]}, ${trim.tint}`}
          style={{ background: trim.tint }}
        />
      </ColorPicker>
      <NumberRow
        label={label}
        value={trim.level}
        preset={PLAIN_TRIM.level}
        quantity={LEVEL}
        hint="Share of what it is by itself; it never asks for a bake"
        onChange={(level) => set({ ...trim, level }, `${STEM_LABELS[stem]} × ${LEVEL.format(level)}`, 'level')}
      />
    </div>
  );
}
