'use client';

import { Button, ColorPicker, Select, Switch } from 'antd';
import { useState, type KeyboardEvent, type Ref } from 'react';
import type { Leaf } from '../../core/rig';
import { evaluate } from '../desk/expression';
import { colorOf } from './heldText';
import desk from '../desk/desk.module.css';

interface Props {
  label: string;
  /** Undefined where the cue follows the day. */
  value: Leaf | undefined;
  /** What another cue holds there: a value is of the same kind. */
  like: Leaf | undefined;
  /** What may be chosen, where it is one of a list. */
  choices: { value: string; label: string }[] | null;
  /** Whether the value can be given where there is none yet. */
  canBegin: boolean;
  ref: Ref<HTMLElement>;
  onChange(value: Leaf): void;
  /** Goes back to the table. */
  onLeave(): void;
}

/** Edits one value of the table, by its kind. */
export function LeafField({ label, value, like, choices, canBegin, ref, onChange, onLeave }: Props) {
  if (!canBegin) return <span>part of what this cue does not hold: copy it from one that does</span>;
  const shown = value ?? like;
  const color = colorOf(shown);
  if (choices)
    return (
      <Select
        ref={ref as never}
        size="small"
        aria-label={label}
        style={{ width: 190 }}
        value={shown as string}
        options={choices}
        onChange={onChange}
      />
    );
  if (color)
    return (
      <ColorPicker size="small" disabledAlpha value={color} onChange={(next) => onChange(next.toHexString())}>
        <Button ref={ref as never} size="small" aria-label={`${label}, ${color}`}>
          {value === undefined ? 'Set a colour' : color}
        </Button>
      </ColorPicker>
    );
  if (typeof shown === 'boolean')
    return <Switch ref={ref as never} size="small" aria-label={label} checked={value === true} onChange={onChange} />;
  if (typeof shown !== 'number') return <span>{value === undefined ? 'the day’s' : 'chosen on the desk'}</span>;
  return (
    <NumberField label={label} value={typeof value === 'number' ? value : null} inputRef={ref} onChange={onChange} onLeave={onLeave} />
  );
}

interface NumberProps {
  label: string;
  value: number | null;
  inputRef: Ref<HTMLElement>;
  onChange(value: number): void;
  onLeave(): void;
}

/** A number, typed or as an expression over the one that stands. */
function NumberField({ label, value, inputRef, onChange, onLeave }: NumberProps) {
  const [text, setText] = useState<string | null>(null);
  const typed = text === null ? value : evaluate(text, value ?? 0);
  const accept = () => {
    if (text === null || typed === null) return;
    setText(null);
    if (typed !== value) onChange(typed);
  };
  const onKey = (event: KeyboardEvent) => {
    event.stopPropagation();
    if (event.key === 'Enter') accept();
    if (event.key === 'Escape') setText(null);
    if (event.key === 'Enter' || event.key === 'Escape') onLeave();
  };
  return (
    <span className={desk.field} data-wrong={text !== null && typed === null}>
      <input
        ref={inputRef as Ref<HTMLInputElement>}
        aria-label={label}
        aria-invalid={text !== null && typed === null}
        placeholder="the day’s"
        value={text ?? (value === null ? '' : String(Number(value.toPrecision(6))))}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => setText(event.currentTarget.value)}
        onBlur={accept}
        onKeyDown={onKey}
      />
    </span>
  );
}
