import type { Holds, Rig } from '../document/types';

type Held = readonly { holds: Holds; share: number }[];

/** What the cue with the greater share holds: what is shown is there or it is not, and does not blend. */
const nearest = (held: Held): Holds | undefined =>
  held.reduce<Held[number] | null>((best, one) => (best && best.share >= one.share ? best : one), null)?.holds;

/** Objects that are not seen at a moment, by their names: those that the day hides and the moment's cue does not show, and those that it hides. */
export function hiddenObjects({ hidden }: Pick<Rig, 'hidden'>, held: Held): readonly string[] {
  const own = nearest(held)?.objects;
  if (!own) return hidden;
  const names = Object.keys(own);
  return [...hidden.filter((name) => own[name] !== true), ...names.filter((name) => own[name] === false && !hidden.includes(name))];
}

const NONE: readonly string[] = [];

/** The openings among hidden objects, sorted by their names. */
export const openOf = ({ openings }: Pick<Rig, 'openings'>, hidden: readonly string[]): readonly string[] =>
  openings.length === 0 ? NONE : openings.filter((name) => hidden.includes(name)).sort();

/** A set of openings that are open together, sorted, and the cues that it is so in. */
export interface OpenState {
  open: readonly string[];
  cueIds: string[];
}

/** The sets of openings that are open together in a cue, in the order of the cues. */
export function openStates(rig: Pick<Rig, 'openings' | 'hidden' | 'cues'>): OpenState[] {
  const states = new Map<string, OpenState>();
  for (const { id, holds } of rig.cues) {
    const open = openOf(rig, hiddenObjects(rig, [{ holds, share: 1 }]));
    if (open.length === 0) continue;
    const key = JSON.stringify(open);
    const state = states.get(key) ?? { open, cueIds: [] };
    state.cueIds.push(id);
    states.set(key, state);
  }
  return [...states.values()];
}

/** What the level's surfaces are shown with in place of what the file has. */
export interface ShownMaterials {
  /** Name of the variant; '' for none. */
  variant: string;
  /** Names of materials, by those that they are shown in place of. A variant goes first. */
  looks: Readonly<Record<string, string>>;
}

const NO_LOOKS = {};

/** The materials that are shown at a moment. */
export function shownMaterials({ variant }: Pick<Rig, 'variant'>, held: Held): ShownMaterials {
  const own = nearest(held);
  return { variant: own?.variant ?? variant, looks: own?.looks ?? NO_LOOKS };
}
