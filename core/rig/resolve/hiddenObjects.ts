import type { Holds, Rig } from '../document/types';

/**
 * Objects that are not seen at a moment, by their names: those that the day hides and the moment's cue does not show, and those that it hides. Between
 * cues the one with the greater share decides: an object is there or it is not.
 */
export function hiddenObjects({ hidden }: Pick<Rig, 'hidden'>, held: readonly { holds: Holds; share: number }[]): readonly string[] {
  const near = held.reduce<(typeof held)[number] | null>((best, one) => (best && best.share >= one.share ? best : one), null);
  const own = near?.holds.objects;
  if (!own) return hidden;
  const names = Object.keys(own);
  return [...hidden.filter((name) => own[name] !== true), ...names.filter((name) => own[name] === false && !hidden.includes(name))];
}
