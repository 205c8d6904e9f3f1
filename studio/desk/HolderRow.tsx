'use client';

import { create } from 'zustand';
import type { Holder } from '../../core/rig';
import { PickRow } from './PickRow';

/** What the rows of fog, air and grade set: the cue that is shown, or the day that all cues follow. */
export const useHolder = create<{ sets: 'cue' | 'day' }>(() => ({ sets: 'cue' }));

/** The holder that is set while a cue is shown. */
export function useHolderOf(cueId: string): Holder {
  const sets = useHolder((s) => s.sets);
  return sets === 'day' ? 'day' : { cueId };
}

/** Chooses it. */
export function HolderRow() {
  const sets = useHolder((s) => s.sets);
  return (
    <PickRow
      label="Set for"
      value={sets}
      options={[
        { value: 'cue', label: 'This cue', title: 'Held by this cue alone' },
        { value: 'day', label: 'The day', title: 'What every cue follows that holds nothing of its own' },
      ]}
      onChange={(next) => useHolder.setState({ sets: next })}
    />
  );
}
