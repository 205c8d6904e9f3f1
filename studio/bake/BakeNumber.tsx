import type { Draft } from 'immer';
import { DEFAULT_BAKE, type Rig } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import type { Quantity } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';

/** A number of the bake's settings. */
export function BakeNumber(row: {
  of: 'bounces' | 'texelsPerM' | 'budgetMB';
  label: string;
  hint: string;
  quantity: Quantity;
  /** What setting it is called, by the value as it is written. */
  said(value: string): string;
}) {
  const value = useStudio((s) => s.rig.bake[row.of]);
  const store = useStudioStore();
  const set = (v: number) =>
    store.getState().edit(`Bake: ${row.said(row.quantity.format(v))}`, ({ bake }: Draft<Rig>) => void (bake[row.of] = v), `bake ${row.of}`);
  return <NumberRow label={row.label} value={value} preset={DEFAULT_BAKE[row.of]} quantity={row.quantity} hint={row.hint} onChange={set} />;
}
