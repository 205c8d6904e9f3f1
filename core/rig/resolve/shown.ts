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
