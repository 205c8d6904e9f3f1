'use client';

import { useRef, type KeyboardEvent, type PointerEvent as ReactPointerEvent } from 'react';
import styles from './wipeLine.module.css';

/** What an arrow key moves the line by, as a share of the width. */
const KEY_STEP = 0.02;

interface Props {
  /** Where it stands, 0..1 from the left of what it lies over. */
  at: number;
  label: string;
  onChange(at: number): void;
}

/** The upright line between two pictures, which is dragged or moved by the arrow keys. */
export function WipeLine({ at, label, onChange }: Props) {
  const line = useRef<HTMLDivElement>(null);
  const put = (to: number) => onChange(Math.min(1, Math.max(0, to)));
  const follow = (event: ReactPointerEvent<HTMLElement>) => {
    if (event.buttons === 0) return;
    const { left, width } = line.current!.parentElement!.getBoundingClientRect();
    put((event.clientX - left) / width);
  };
  const byKey = (event: KeyboardEvent) => {
    const step = { ArrowLeft: -KEY_STEP, ArrowRight: KEY_STEP }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    put(at + step);
  };
  return (
    <div
      ref={line}
      className={styles.line}
      style={{ left: `${at * 100}%` }}
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(at * 100)}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={follow}
      onKeyDown={byKey}
    />
  );
}
