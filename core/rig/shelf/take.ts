import { freeName, sameJson } from '../../units';
import type { Cue, Fixture, Rig } from '../document/types';
import { LIST_OF, packedThing, type ShelfKind } from './pack';

/** What has been taken into a rig: its id and name there, and what of it found no place, in words. */
export interface Taken {
  id: string;
  name: string;
  left: string[];
}

interface Named {
  id: string;
  name: string;
}

const copied = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
const sameBut = (a: Named, b: Named) => sameJson({ ...a, id: '' }, { ...b, id: '' });

/** The id of an equal thing in a list; the thing is added under a free name where there is none. */
function sharedId<T extends Named>(list: T[], thing: T): string {
  const equal = list.find((one) => sameBut(one, thing));
  if (equal) return equal.id;
  const named = freeName(list, thing.name);
  list.push({ ...copied(thing), ...named });
  return named.id;
}

/** Values held by the ids of one list, by those of the same names in another; names that are not there are answered. */
function byNames<V>(held: Record<string, V>, from: readonly Named[], to: readonly Named[]): { held: Record<string, V>; missing: string[] } {
  const named = Object.entries(held).map(([id, value]) => ({ value, name: from.find((t) => t.id === id)?.name ?? id }));
  const found = named.flatMap(({ value, name }) => {
    const own = to.find((t) => t.name === name);
    return own ? [[own.id, value] as const] : [];
  });
  return { held: Object.fromEntries(found), missing: named.map((n) => n.name).filter((name) => !to.some((t) => t.name === name)) };
}

function takeFixture(rig: Rig, packed: Rig): Omit<Taken, 'left'> {
  const fixture = copied(packedThing(packed, 'fixture') as Fixture);
  const named = freeName(rig.fixtures, fixture.name);
  for (const { shape } of fixture.lamps)
    if (shape.kind === 'measured')
      shape.profileId = sharedId(
        rig.profiles,
        packed.profiles.find((p) => p.id === shape.profileId)!,
      );
  rig.fixtures.push({ ...fixture, ...named });
  return named;
}

function takeCue(rig: Rig, packed: Rig): Taken {
  const cue = copied(packedThing(packed, 'cue') as Cue);
  const { holds } = cue;
  const air = packed.airs.find((a) => a.id === holds.airId);
  // One that ships stays what it is by its id, unless it was another there.
  if (air) holds.airId = sharedId(rig.airs, air);
  const left: string[] = [];
  const rename = (part: 'dimmers' | 'volumes', from: readonly Named[], to: readonly Named[], what: string) => {
    if (!holds[part]) return;
    const { held, missing } = byNames<unknown>(holds[part], from, to);
    left.push(...missing.map((name) => `the ${what} ${name}, which is not here`));
    if (Object.keys(held).length > 0) Object.assign(holds, { [part]: held });
    else delete holds[part];
  };
  rename('dimmers', packed.circuits, rig.circuits, 'circuit');
  rename('volumes', packed.volumes, rig.volumes, 'fog volume');
  const named = freeName(rig.cues, cue.name);
  rig.cues.push({ ...cue, ...named });
  return { ...named, left };
}

/**
 * Takes a copy of a thing of the shelf into a rig, under a name that is free there; what it needs comes with it where nothing equal is there. Throws
 * a `bad-input` Failure for what is no packed thing of that kind.
 */
export function takeFromShelf(rig: Rig, kind: ShelfKind, packed: Rig): Taken {
  if (kind === 'cue') return takeCue(rig, packed);
  if (kind === 'fixture') return { ...takeFixture(rig, packed), left: [] };
  const list = rig[LIST_OF[kind]] as Named[];
  const thing = packedThing(packed, kind);
  const named = freeName(list, thing.name);
  list.push({ ...copied(thing), ...named });
  return { ...named, left: [] };
}
