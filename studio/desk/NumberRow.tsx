'use client';

import { Slider } from 'antd';
import { useId, useRef, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { evaluate } from './expression';
import { ladderOf } from './ladderAsked';
import { HeldMark } from './HeldMark';
import { rangeText, within, type Quantity } from './quantity';
import { useAsked } from './useAsked';
import styles from './desk.module.css';

interface Props {
  label: string;
  value: number;
  quantity: Quantity;
  /** The value that a double click on the label goes back to; the row is marked while it differs. */
  preset: number;
  /** Marks the row and is called by the double click instead, where going back is more than a value. */
  held?: { is: boolean; release(): void; follows?: string };
  hint?: string;
  onChange(value: number): void;
}

/** Pixels of scrubbing that go from one end of the slider to the other. */
const SCRUB_PX = 600;

/** One number of the desk: its label (drag to scrub, double-click to reset), a slider, and a field that takes expressions. */
export function NumberRow({ label, value: now, quantity, preset, held, hint, onChange }: Props) {
  const [value, ask] = useAsked(now, onChange);
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const scrub = useRef<{ x: number; scale: number } | null>(null);
  const differs = held ? held.is : Math.abs(quantity.snap(value) - quantity.snap(preset)) > 1e-9;

  const offer = (next: number) => ask(within(next, quantity));
  const step = (direction: number, fine: boolean) => {
    const scale = quantity.toScale(value) + direction * (fine ? 0.002 : 0.01);
    const snapped = quantity.snap(quantity.fromScale(scale));
    offer(snapped === quantity.snap(value) ? value + direction * smallest(quantity, value) : snapped);
  };

  const accept = () => {
    if (text === null) return;
    const typed = evaluate(text, value);
    if (typed === null) return setWrong('Not a number. Expressions are understood: 3/4, *1.5, +10');
    if (Math.abs(within(typed, quantity) - typed) > 1e-9 && !quantity.period) return setWrong(`${label} goes ${rangeText(quantity)}`);
    setText(null);
    setWrong(null);
    if (text !== quantity.format(value)) offer(typed);
  };

  const beginScrub = (event: ReactPointerEvent<HTMLElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    scrub.current = { x: event.clientX, scale: quantity.toScale(value) };
  };
  const moveScrub = (event: ReactPointerEvent<HTMLElement>) => {
    if (!scrub.current) return;
    const shift = ((event.clientX - scrub.current.x) / SCRUB_PX) * (event.shiftKey ? 0.1 : 1);
    const scale = scrub.current.scale + shift;
    offer(quantity.snap(quantity.fromScale(quantity.period ? scale : Math.min(1, Math.max(0, scale)))));
  };

  const id = useId();
  return (
    <div className={styles.row} data-differs={differs} data-holds={held !== undefined}>
      {held && <HeldMark label={label} held={held} hold={() => ask(value)} />}
      <label
        htmlFor={id}
        className={styles.scrub}
        title={hint}
        onPointerDown={beginScrub}
        onPointerMove={moveScrub}
        onPointerUp={() => (scrub.current = null)}
        onDoubleClick={() => (held ? held.is && held.release() : ask(preset))}
        onContextMenu={(event) => {
          event.preventDefault();
          ladderOf({ label, value, quantity, set: onChange });
        }}
      >
        {label}
      </label>
      <Slider
        className={styles.slider}
        min={0}
        max={1}
        step={0.001}
        value={quantity.toScale(value)}
        onChange={(scale) => offer(quantity.snap(quantity.fromScale(scale)))}
        tooltip={{ open: false }}
        ariaLabelForHandle={label}
      />
      <span className={styles.field} data-wrong={wrong !== null}>
        <input
          id={id}
          value={text ?? quantity.format(value)}
          aria-invalid={wrong !== null}
          aria-label={quantity.unit ? `${label}, ${quantity.unit}` : label}
          onFocus={(event) => event.currentTarget.select()}
          onChange={(event) => setText(event.currentTarget.value)}
          onBlur={accept}
          onKeyDown={(event) => {
            if (event.key === 'Enter') accept();
            if (event.key === 'Escape') {
              setText(null);
              setWrong(null);
              event.currentTarget.blur();
            }
            if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
              event.preventDefault();
              step(event.key === 'ArrowUp' ? 1 : -1, event.shiftKey);
            }
          }}
        />
        <span className={styles.unit}>{quantity.unit}</span>
      </span>
      {wrong && (
        <p className={styles.refusal} role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}

/** The least change that the quantity's own rounding lets through. */
function smallest(quantity: Quantity, value: number): number {
  let change = 1e-3;
  while (quantity.snap(value + change) === quantity.snap(value) && change < 1e6) change *= 2;
  return change;
}
