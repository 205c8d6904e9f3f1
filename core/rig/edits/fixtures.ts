import { aimOf, lampFrame } from '../../lamps';
import { movedBy, poseOf, turnedBy, type Pose, type Shape } from '../../objects';
import { NO_TURN, turnBy, turnOf, type Turn, type Vec3 } from '../../units';
import type { Fixture, PlacedFixture, Rig } from '../document/types';
import { lampsOfCopy } from '../resolve/lampsOf';
import { createNamer, freeNumber } from './freeNumber';
import { circuitIn, copied, roundedPlace } from './lamps';

type FixtureRig = Pick<Rig, 'lamps' | 'fixtures' | 'placed' | 'circuits'>;

const roundedTurn = ({ turnDeg, tiltDeg, rollDeg }: Turn): Turn => {
  const round = (deg: number) => Number(deg.toFixed(3)) + 0;
  return { turnDeg: round(turnDeg), tiltDeg: round(tiltDeg), rollDeg: round(rollDeg) };
};

const fixtureOf = ({ fixtures }: Pick<Rig, 'fixtures'>, id: string): Fixture => {
  const fixture = fixtures.find((f) => f.id === id);
  if (!fixture) throw new RangeError(`The rig has no fixture "${id}".`);
  return fixture;
};

/** Puts a copy of a fixture at a place, and in a circuit where one is given; answers the id of its first lamp. */
export function placeFixture(rig: FixtureRig, fixtureId: string, at: Vec3, turnDeg: number, circuitId: string | null): string {
  const fixture = fixtureOf(rig, fixtureId);
  const named = freeNumber(fixture.name, rig.placed);
  rig.placed.push({ ...named, fixtureId, at, ...NO_TURN, turnDeg, object: null, level: 1, circuitId: circuitIn(rig, circuitId) });
  return `${named.id}.${fixture.lamps[0]?.id ?? ''}`;
}

/** Makes a fixture of lamps of the level's own, about their middle, and puts a copy of it where they stood; answers its id. */
export function makeFixture(rig: FixtureRig, ids: ReadonlySet<string>, name: string): string {
  const lamps = rig.lamps.filter((l) => ids.has(l.id));
  const middle = [0, 1, 2].map((c) => lamps.reduce((sum, l) => sum + l.at[c]!, 0) / lamps.length) as Vec3;
  const fixture: Fixture = {
    ...freeNumber(name, rig.fixtures),
    lamps: copied(lamps).map((l) => ({ ...l, at: roundedPlace(l.at.map((v, c) => v - middle[c]!) as Vec3) })),
    model: null,
    without: [],
  };
  rig.fixtures.push(fixture);
  rig.lamps = rig.lamps.filter((l) => !ids.has(l.id));
  placeFixture(rig, fixture.id, roundedPlace(middle), 0, null);
  return fixture.id;
}

/**
 * Makes an object of the level what a fixture looks like, as it stands about the fixture's copy that is nearest to a point; about
 * that point where there is no copy.
 */
export function takeModel(rig: FixtureRig, fixtureId: string, object: string, point: Vec3): void {
  const far = ({ at }: { at: Vec3 }) => Math.hypot(...at.map((v, c) => v - point[c]!));
  const [nearest] = rig.placed.filter((p) => p.fixtureId === fixtureId).sort((a, b) => far(a) - far(b));
  const { at, turnDeg, tiltDeg, rollDeg } = nearest ?? { at: roundedPlace(point), ...NO_TURN };
  fixtureOf(rig, fixtureId).model = { from: 'level', object, at: [...at], turnDeg, tiltDeg, rollDeg };
}

/** Turns placed copies into lamps of the level's own, just as they stand; answers the lamps' ids. */
export function unlink(rig: FixtureRig, placedIds: ReadonlySet<string>): string[] {
  const ids: string[] = [];
  const named = createNamer(rig.lamps);
  for (const copy of rig.placed.filter((p) => placedIds.has(p.id))) {
    for (const { placedId: from, ...lamp } of lampsOfCopy(copied(copy), copied(fixtureOf(rig, copy.fixtureId)))) {
      const { id } = named(from ?? lamp.name);
      const { forward, right } = lampFrame(lamp.aim);
      rig.lamps.push({ ...lamp, id, at: roundedPlace(lamp.at), aim: aimOf({ forward, right }) });
      ids.push(id);
    }
  }
  rig.placed = rig.placed.filter((p) => !placedIds.has(p.id));
  return ids;
}

/** An object of the level and how it lies that is equal to another one. */
export interface EqualObject {
  name: string;
  pose: Pose;
}

/** The objects that are equal to one of them, itself left out, each with how it lies. */
export function equalObjects(name: string, shapes: ReadonlyMap<string, Shape>): EqualObject[] {
  const own = shapes.get(name);
  if (!own) return [];
  return [...shapes].flatMap(([other, shape]) => {
    const pose = other === name ? null : poseOf(own, shape);
    return pose ? [{ name: other, pose }] : [];
  });
}

/** A copy as it stands at another object just as it stands at its own. */
function copyAt(copy: PlacedFixture, { pose }: EqualObject): Pick<PlacedFixture, 'at'> & Turn {
  return { at: roundedPlace(movedBy(pose, copy.at)), ...roundedTurn(turnOf((v) => turnedBy(pose, turnBy(v, copy)))) };
}

/** The copies of a fixture's at objects, by the objects' names. */
export const objectsWithCopy = ({ placed }: Pick<Rig, 'placed'>, fixtureId: string): Set<string> =>
  new Set(placed.flatMap((p) => (p.fixtureId === fixtureId && p.object !== null ? [p.object] : [])));

/**
 * Puts a copy at each of some equal objects as one stands at the first: with the same offset, turned as the object is. An object that has
 * a copy of the fixture is left as it is.
 *
 * @param copyId the copy that stands at the first
 * @param without names of equal objects that are to have none, now and later
 */
export function putAtObjects(
  rig: FixtureRig,
  copyId: string,
  object: string,
  equal: readonly EqualObject[],
  without: readonly string[] = [],
): void {
  const copy = rig.placed.find((p) => p.id === copyId);
  if (!copy) throw new RangeError(`The rig has no copy "${copyId}".`);
  copy.object = object;
  const fixture = fixtureOf(rig, copy.fixtureId);
  const taken = objectsWithCopy(rig, fixture.id);
  const named = createNamer(rig.placed);
  for (const other of equal) {
    if (taken.has(other.name)) continue;
    rig.placed.push({ ...copied(copy), ...named(fixture.name), ...copyAt(copy, other), object: other.name });
  }
  leaveWithout(rig, fixture.id, without);
}

/** Lets objects have no copy of a fixture: they are not offered one again. */
export function leaveWithout(rig: Pick<Rig, 'fixtures'>, fixtureId: string, objects: readonly string[]): void {
  const fixture = fixtureOf(rig, fixtureId);
  fixture.without = [...new Set([...fixture.without, ...objects])];
}

/** A fixture some of whose copies stand at objects, and the objects equal to these that have none: those of a newer level. */
export interface CopiesWanted {
  fixtureId: string;
  /** The copy that the others would stand like, and its object. */
  copyId: string;
  object: string;
  equal: EqualObject[];
}

/** What of a level might have a copy of a fixture and has none. */
export function copiesWanted({ fixtures, placed }: Pick<Rig, 'fixtures' | 'placed'>, shapes: ReadonlyMap<string, Shape>): CopiesWanted[] {
  return fixtures.flatMap(({ id: fixtureId, without }) => {
    const first = placed.find((p) => p.fixtureId === fixtureId && p.object !== null && shapes.has(p.object));
    if (!first) return [];
    const taken = objectsWithCopy({ placed }, fixtureId);
    const equal = equalObjects(first.object!, shapes).filter(({ name }) => !taken.has(name) && !without.includes(name));
    return equal.length > 0 ? [{ fixtureId, copyId: first.id, object: first.object!, equal }] : [];
  });
}
