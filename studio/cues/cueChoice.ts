import { create } from 'zustand';

/** Cues that are chosen beside the one that is shown: what is set in the table of values is set in all of them. Nothing of it is stored. */
export const useCueChoice = create<{ chosen: readonly string[] }>(() => ({ chosen: [] }));

/** Takes a cue into the choice, or out of it. */
export const flipChosen = (id: string) =>
  useCueChoice.setState(({ chosen }) => ({ chosen: chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id] }));

/** Whether the table of values by cues is open. */
export const useCueTable = create<{ open: boolean }>(() => ({ open: false }));
