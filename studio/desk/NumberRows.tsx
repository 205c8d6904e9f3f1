import { NumberRow } from './NumberRow';
import type { Quantity } from './quantity';

/** A number of a thing of several kinds, and what the thing is with another one. */
export interface NumberOf<T> {
  label: string;
  value: number;
  quantity: Quantity;
  hint: string;
  set(value: number): T;
}

interface Props<T> {
  rows: readonly NumberOf<T>[];
  /** Name of the kind: rows of another kind are others. */
  kind: string;
  change(what: string, next: T, key: string): void;
}

/** Numbers of a thing, each a row; edits of one of them are one step under `kind label`. */
export function NumberRows<T>({ rows, kind, change }: Props<T>) {
  return rows.map(({ label, value, quantity, hint, set }) => (
    <NumberRow
      key={`${kind} ${label}`}
      label={label}
      value={value}
      preset={value}
      quantity={quantity}
      hint={hint}
      onChange={(v) => change(`${label.toLowerCase()} ${quantity.format(v)}`, set(v), `${kind} ${label}`)}
    />
  ));
}
