import type { Cue, Holds, Rig } from '../document/types';

/** What an edit is for: one cue, by its id, or the day, which every cue follows that holds nothing of its own. */
export type Holder = { cueId: string } | 'day';

/** A cue of a rig. Throws a RangeError where it is not there. */
export function cueOf(rig: Pick<Rig, 'cues'>, cueId: string): Cue {
  const cue = rig.cues.find((c) => c.id === cueId);
  if (!cue) throw new RangeError(`The rig has no cue "${cueId}".`);
  return cue;
}

/** Takes one key, or all, from what a cue holds in parts; what holds nothing is not kept. */
export function letGo<K extends string>(holds: { [key in K]?: object }, part: K, key?: string): void {
  const held = holds[part] as Record<string, unknown> | undefined;
  if (key !== undefined && held) delete held[key];
  if (key === undefined || !held || Object.keys(held).length === 0) delete holds[part];
}

/** Parts of the rig that a cue may hold field by field over the day's. */
export type PartByField = 'fog' | 'night' | 'weather' | 'water';

/** Sets fields of such a part; a cue holds them from then on. */
export function setPart<P extends PartByField>(rig: Pick<Rig, P | 'cues'>, holder: Holder, part: P, fields: Partial<Rig[P]>): void {
  if (holder === 'day') {
    Object.assign(rig[part], fields);
    return;
  }
  const { holds } = cueOf(rig, holder.cueId);
  holds[part] = { ...holds[part], ...fields } as Holds[P];
}

/** Lets a cue follow the day's part again: in one field, or in all. */
export function releasePart(rig: Pick<Rig, 'cues'>, cueId: string, part: PartByField, key?: string): void {
  letGo(cueOf(rig, cueId).holds, part, key);
}
