'use client';

import type { Flicker } from '../../core/rig';
import { NumberRows, type NumberOf } from '../desk/NumberRows';
import { PickRow } from '../desk/PickRow';
import { linear, logarithmic } from '../desk/quantity';

const SHARE = linear('', 0, 1, 0.01, 2);
const OUT = linear('', 0, 0.9, 0.01, 2);
const ON = linear('', 0.01, 1, 0.01, 2);
const RATE = logarithmic('Hz', 0.05, 30, { digits: 2 });
const PER_MIN = logarithmic('/min', 0.1, 600, { digits: 2 });
const PERIOD = logarithmic('s', 0.1, 600, { digits: 2 });

/** Where each kind begins: a calm flame, a tube that blinks now and then, a slow beacon. */
const KINDS: { value: Flicker['as'] | 'steady'; label: string; flicker: Flicker | null }[] = [
  { value: 'steady', label: 'none', flicker: null },
  { value: 'flame', label: 'flame', flicker: { as: 'flame', amount: 0.2, rateHz: 3 } },
  { value: 'failing', label: 'failing tube', flicker: { as: 'failing', offShare: 0.08, perMin: 40 } },
  { value: 'pulse', label: 'beacon', flicker: { as: 'pulse', periodS: 4, onShare: 0.4, softness: 0.6 } },
];

interface Props {
  flicker: Flicker | null;
  change(what: string, flicker: Flicker | null, key?: string): void;
}

/** The flicker of a circuit's light. */
export function FlickerRows({ flicker, change }: Props) {
  const rows = (): NumberOf<Flicker>[] => {
    switch (flicker?.as) {
      case 'flame':
        return [
          {
            label: 'Amount',
            value: flicker.amount,
            quantity: SHARE,
            hint: 'Of its light, about the mean',
            set: (amount) => ({ ...flicker, amount }),
          },
          {
            label: 'Rate',
            value: flicker.rateHz,
            quantity: RATE,
            hint: 'Slowest of its movements',
            set: (rateHz) => ({ ...flicker, rateHz }),
          },
        ];
      case 'failing':
        return [
          {
            label: 'Out for',
            value: flicker.offShare,
            quantity: OUT,
            hint: 'Share of the time',
            set: (offShare) => ({ ...flicker, offShare }),
          },
          {
            label: 'Drops out',
            value: flicker.perMin,
            quantity: PER_MIN,
            hint: 'Times a minute',
            set: (perMin) => ({ ...flicker, perMin }),
          },
        ];
      case 'pulse':
        return [
          {
            label: 'Period',
            value: flicker.periodS,
            quantity: PERIOD,
            hint: 'From one pulse to the next',
            set: (periodS) => ({ ...flicker, periodS }),
          },
          {
            label: 'On for',
            value: flicker.onShare,
            quantity: ON,
            hint: 'Share of the period',
            set: (onShare) => ({ ...flicker, onShare }),
          },
          {
            label: 'Softness',
            value: flicker.softness,
            quantity: SHARE,
            hint: 'Of its edges',
            set: (softness) => ({ ...flicker, softness }),
          },
        ];
      default:
        return [];
    }
  };
  return (
    <>
      <PickRow<Flicker['as'] | 'steady'>
        label="Flicker"
        as="list"
        value={flicker?.as ?? 'steady'}
        options={KINDS.map(({ value, label }) => ({ value, label }))}
        onChange={(as) => change(KINDS.find((k) => k.value === as)!.label, KINDS.find((k) => k.value === as)!.flicker)}
      />
      {flicker && <NumberRows rows={rows()} kind={flicker.as} change={change} />}
    </>
  );
}
