import { Failure } from '../../units';
import { defaultRig } from '../document/defaults';
import { checkRig } from '../document/schema';
import type { Cue, Fixture, Rig } from '../document/types';

/** What the shelf keeps for all projects. */
export const SHELF_KINDS = ['air', 'weather', 'grade', 'profile', 'fixture', 'cue'] as const;
export type ShelfKind = (typeof SHELF_KINDS)[number];

/** Where a rig has the things of a kind. */
export const LIST_OF = {
  air: 'airs',
  weather: 'weathers',
  grade: 'grades',
  profile: 'profiles',
  fixture: 'fixtures',
  cue: 'cues',
} as const satisfies Record<ShelfKind, keyof Rig>;

/** A thing as it is kept: a rig that has no other of its kind, and all that it needs of its project. It is upgraded as any rig is. */
export interface Packed {
  name: string;
  rig: Rig;
  /** What of it belongs to the project and is not kept, in words. */
  left: string[];
}

/** A thing of a rig, by its kind and id. Throws a `not-found` {@link Failure}. */
function thingOf(rig: Rig, kind: ShelfKind, id: string): { id: string; name: string } {
  const thing = (rig[LIST_OF[kind]] as { id: string; name: string }[]).find((t) => t.id === id);
  if (!thing) throw new Failure('not-found', `The rig has no ${kind} "${id}".`, 'It may have been removed in another tab.');
  return thing;
}

const copied = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** A rig without anything of a project's own. */
function emptyRig(): Rig {
  const rig = defaultRig();
  return { ...rig, cues: rig.cues.slice(0, 1).map((cue) => ({ ...cue, holds: {} })), airs: [] };
}

function packFixture(rig: Rig, fixture: Fixture): Omit<Packed, 'name'> {
  const ids = new Set(fixture.lamps.flatMap(({ shape }) => (shape.kind === 'measured' ? [shape.profileId] : [])));
  const circuits = new Set(fixture.lamps.flatMap((l) => (l.circuitId === null ? [] : [l.circuitId])));
  const left = [...(fixture.model ? ['what it looks like'] : []), ...(circuits.size > 0 ? ['the circuits of its lamps'] : [])];
  const lamps = fixture.lamps.map((l) => ({ ...l, circuitId: null }));
  return {
    left,
    rig: {
      ...emptyRig(),
      fixtures: [{ ...fixture, lamps, model: null, without: [] }],
      profiles: rig.profiles.filter((p) => ids.has(p.id)),
    },
  };
}

function packCue(rig: Rig, cue: Cue): Omit<Packed, 'name'> {
  const { image, ...holds } = cue.holds;
  const named = (list: readonly { id: string }[], used: object | undefined) => list.filter((t) => used && Object.hasOwn(used, t.id));
  return {
    left: [...(image ? ['its sky image'] : []), ...(cue.vantageId ? ['its vantage'] : [])],
    rig: {
      ...emptyRig(),
      airs: rig.airs.filter((a) => a.id === holds.airId),
      // By their names: circuits and volumes of the same names are dimmed and thinned by it elsewhere.
      circuits: named(rig.circuits, holds.dimmers).map((c) => ({ ...(c as Rig['circuits'][number]), rule: { by: 'off' } })),
      volumes: named(rig.volumes, holds.volumes) as Rig['volumes'],
      cues: [{ ...cue, vantageId: null, holds }],
    },
  };
}

/**
 * Packs a thing of a rig for the shelf, with what it needs: a fixture with its profiles, a cue with its air and the names of the circuits and
 * volumes that it holds. Throws a `not-found` {@link Failure} where there is none.
 */
export function packForShelf(rig: Rig, kind: ShelfKind, id: string): Packed {
  const thing = thingOf(rig, kind, id);
  const packed =
    kind === 'fixture'
      ? packFixture(rig, thing as Fixture)
      : kind === 'cue'
        ? packCue(rig, thing as Cue)
        : { left: [], rig: { ...emptyRig(), [LIST_OF[kind]]: [thing] } };
  return { name: thing.name, left: packed.left, rig: checkRig(copied(packed.rig)) };
}

/** The one thing that a packed rig has of a kind. Throws a `bad-input` {@link Failure} where it has none, or several. */
export function packedThing(rig: Rig, kind: ShelfKind): { id: string; name: string } {
  const list = rig[LIST_OF[kind]] as { id: string; name: string }[];
  const [thing, ...more] = list;
  if (!thing || more.length > 0)
    throw new Failure(
      'bad-input',
      `What is to be kept has ${list.length} things of its kind, and not one.`,
      'Keep it from the studio again.',
    );
  return thing;
}
