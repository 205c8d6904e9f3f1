import { sameJson } from '../../units';
import type { Cue, Rig } from '../document/types';
import { heldDifferences } from './cues';

/** One thing that two rigs differ in. */
export interface RigDifference {
  part: keyof Rig;
  /** Name of the thing, where the part is a list of named ones. */
  name: string | null;
  how: 'added' | 'removed' | 'changed' | 'moved';
  /** For a cue that was changed: how many of the values that it holds are others. */
  values: number | null;
}

interface Listed {
  id: string;
  name?: string;
  material?: string;
}

const isListed = (value: unknown): value is Listed[] =>
  Array.isArray(value) && value.every((v) => typeof (v as Listed | null)?.id === 'string');
const nameOf = ({ id, name, material }: Listed) => name ?? material ?? id;

/** What changed from one rig to another, thing by thing: in lists by their ids, the rest part by part. */
export function rigDifferences(from: Rig, to: Rig): RigDifference[] {
  const parts = (Object.keys(to) as (keyof Rig)[]).filter((part) => !sameJson(from[part], to[part]));
  return parts.flatMap((part): RigDifference[] => {
    const [before, after] = [from[part], to[part]] as unknown[];
    return isListed(before) && isListed(after)
      ? listDifferences(part, before, after)
      : [{ part, name: null, how: 'changed', values: null }];
  });
}

function listDifferences(part: keyof Rig, before: Listed[], after: Listed[]): RigDifference[] {
  const told = (thing: Listed, how: RigDifference['how'], values: number | null = null) => ({ part, name: nameOf(thing), how, values });
  const was = new Map(before.map((thing) => [thing.id, thing]));
  const stays = new Set(after.map(({ id }) => id));
  const changes = [
    ...before.filter(({ id }) => !stays.has(id)).map((thing) => told(thing, 'removed')),
    ...after.flatMap((thing) => {
      const earlier = was.get(thing.id);
      if (!earlier) return [told(thing, 'added')];
      if (sameJson(earlier, thing)) return [];
      return [told(thing, 'changed', part === 'cues' ? heldDifferences(earlier as Cue, thing as Cue).length : null)];
    }),
  ];
  // Nothing but the order: it is that of keys and of the rail.
  return changes.length > 0 ? changes : [{ part, name: null, how: 'moved', values: null }];
}
