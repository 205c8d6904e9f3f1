import { releasePart, setPart, type Cue, type PartByField, type Rig } from '../../core/rig';
import type { ChangeRig } from '../state/useRigEdit';
import { useHolderOf } from './HolderRow';

/** Works a part of the rig that a cue may hold field by field over the day's: what is set, how it is set and let go of. */
export function useHeldPart<P extends PartByField>(part: P, cue: Cue, day: Rig[P], changeRig: ChangeRig) {
  const holder = useHolderOf(cue.id);
  const isDay = holder === 'day';
  const own = cue.holds[part] as Partial<Rig[P]> | undefined;
  const called = isDay ? part.charAt(0).toUpperCase() + part.slice(1) : `${cue.name}: ${part}`;
  const release = (what: string, key?: string) => changeRig(`${cue.name}: ${what} by the day`, (r) => releasePart(r, cue.id, part, key));
  return {
    isDay,
    /** What stands now: the day's fields, or the cue's over them. */
    values: { ...day, ...(isDay ? {} : own) } as Rig[P],
    /** Whether the cue holds any of it. */
    isHeld: !isDay && own !== undefined,
    /** Sets fields as one named step. */
    edit: (fields: Partial<Rig[P]>, what: string, key: string) =>
      changeRig(`${called} ${what}`, (r) => setPart(r, holder, part, fields), `${part} ${isDay ? 'day' : cue.id} ${key}`),
    /** For a row: whether the cue holds its field, and how it lets go of it; not while the day is set. */
    held: (key: keyof Rig[P] & string, label: string) =>
      isDay ? undefined : { is: own?.[key] !== undefined, release: () => release(label.toLowerCase(), key) },
    /** Lets the cue follow the day in all of it. */
    releaseAll: () => release(part),
  };
}
