'use client';

import type { Moment } from '../../core/rig';
import { NumberRow } from './NumberRow';
import { PickRow } from './PickRow';
import { clockText, hourOfDay, linear } from './quantity';

const AFTER = linear('h', -6, 6, 0.25, 2);
const HOUR = { ...hourOfDay, format: (v: number) => clockText(v, false) };

/** A moment of the day: an hour, or some hours after sunrise or sunset. */
export function MomentRows({ label, moment, onChange }: { label: string; moment: Moment; onChange(moment: Moment): void }) {
  return (
    <>
      <PickRow<Moment['at']>
        label={label}
        as="list"
        value={moment.at}
        options={[
          { value: 'hour', label: 'an hour' },
          { value: 'sunrise', label: 'sunrise' },
          { value: 'sunset', label: 'sunset' },
        ]}
        onChange={(at) => onChange(at === 'hour' ? { at, hour: 20 } : { at, plusH: 0 })}
      />
      {moment.at === 'hour' ? (
        <NumberRow
          label={`${label} hour`}
          value={moment.hour}
          preset={moment.hour}
          quantity={HOUR}
          onChange={(hour) => onChange({ at: 'hour', hour })}
        />
      ) : (
        <NumberRow
          label={`${label} after`}
          value={moment.plusH}
          preset={0}
          quantity={AFTER}
          hint="Hours after; before where negative"
          onChange={(plusH) => onChange({ at: moment.at, plusH })}
        />
      )}
    </>
  );
}
