import { aimOf, lampFrame, type Lamp, type LampMotion } from '../../lamps';
import { Failure, anglesFromDirection, turnBack, type Vec3 } from '../../units';
import { DEFAULT_LAMP } from '../document/defaults';
import type { Fixture, PlacedFixture, Rig } from '../document/types';
import { lampsOf, type StandingLamp } from '../resolve/lampsOf';
import { createNamer, freeNumber } from './freeNumber';

type LampRig = Pick<Rig, 'lamps' | 'fixtures' | 'placed' | 'circuits'>;

/** A copy of its own, of drafts too. */
export const copied = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

export const roundedPlace = (v: Vec3): Vec3 => v.map((c) => Number(c.toFixed(4))) as Vec3;
const roundedAngle = (deg: number): number => Number(deg.toFixed(2));

/** The place off a surface that something is put at; on a grid of the level's axes where one is given. */
export function offSurface(point: Vec3, normal: Vec3, standOffM: number, gridM: number): Vec3 {
  const at = point.map((v, c) => v + normal[c]! * standOffM) as Vec3;
  // On the grid along the surface: the axis that the surface faces most is left as it is.
  const main = normal.reduce((best, v, c) => (Math.abs(v) > Math.abs(normal[best]!) ? c : best), 0);
  return roundedPlace(gridM > 0 ? (at.map((v, c) => (c === main ? v : Math.round(v / gridM) * gridM)) as Vec3) : at);
}

/** The circuit of that id; null where it is not there any more. */
export const circuitIn = ({ circuits }: Pick<Rig, 'circuits'>, id: string | null): string | null =>
  circuits.some((c) => c.id === id) ? id : null;

/** A copy that is opened in place, with its fixture: its lamps are edited where they stand. */
interface Opened {
  copy: PlacedFixture;
  fixture: Fixture;
}

/** The copy of that id and its fixture; null where none is opened, or it is not there any more. */
export function openedCopy(rig: Pick<Rig, 'fixtures' | 'placed'>, openId: string | null): Opened | null {
  const copy = rig.placed.find((p) => p.id === openId);
  const fixture = copy && rig.fixtures.find((f) => f.id === copy.fixtureId);
  return copy && fixture ? { copy, fixture } : null;
}

/** A point of the level in the space of a copy's fixture. */
const insideCopy = (copy: PlacedFixture, point: Vec3): Vec3 => turnBack(point.map((v, c) => v - copy.at[c]!) as Vec3, copy);

/** The aim of a lamp in the space of a copy's fixture that it has in the level. */
function aimInside(copy: PlacedFixture, aim: Lamp['aim']): Lamp['aim'] {
  const { forward, right } = lampFrame(aim);
  const { azimuthDeg, elevationDeg, rollDeg } = aimOf({ forward: turnBack(forward, copy), right: turnBack(right, copy) });
  return { azimuthDeg: roundedAngle(azimuthDeg), elevationDeg: roundedAngle(elevationDeg), rollDeg: roundedAngle(rollDeg) };
}

/** Lamps of an opened copy's fixture by the ids that they have as they stand. */
const lampsInside = ({ copy, fixture }: Opened, ids: ReadonlySet<string>): Lamp[] =>
  fixture.lamps.filter((l) => ids.has(`${copy.id}.${l.id}`));

/**
 * Puts a lamp like another one (or a plain one) off a surface, aimed away from it; answers the id that it stands with.
 *
 * @param circuitId that it goes into; where it is null, that of the other one
 * @param openId a copy that is opened in place: the lamp becomes one of its fixture's
 */
export function placeLamp(
  rig: LampRig,
  at: Vec3,
  normal: Vec3,
  like: Lamp | null,
  circuitId: string | null,
  openId: string | null = null,
): string {
  const opened = openedCopy(rig, openId);
  const list = opened ? opened.fixture.lamps : rig.lamps;
  const { azimuthDeg, elevationDeg } = anglesFromDirection(normal);
  const aim = { azimuthDeg: roundedAngle(azimuthDeg), elevationDeg: roundedAngle(elevationDeg), rollDeg: like?.aim.rollDeg ?? 0 };
  const { shape, output, color, reachM, kept, motion } = copied(like ?? DEFAULT_LAMP);
  const lamp: Lamp = {
    shape,
    output,
    color,
    reachM,
    kept,
    motion,
    ...freeNumber(opened ? 'Lamp' : (like?.name ?? 'Lamp'), list),
    at: opened ? roundedPlace(insideCopy(opened.copy, at)) : at,
    aim: opened ? aimInside(opened.copy, aim) : aim,
    // A lamp of a fixture burns with the copy's circuit unless it has one of its own.
    circuitId: opened ? null : (circuitIn(rig, circuitId) ?? like?.circuitId ?? null),
  };
  list.push(lamp);
  return opened ? `${opened.copy.id}.${lamp.id}` : lamp.id;
}

/** Moves standing lamps by as much; those of a fixture take their whole copy with them, once, but where it is opened they move in it. */
export function moveStanding(rig: LampRig, standing: readonly StandingLamp[], by: Vec3, openId: string | null = null): void {
  const opened = openedCopy(rig, openId);
  const copies = new Set(standing.flatMap((s) => (s.placedId === openId ? [] : (s.placedId ?? []))));
  const own = new Set(standing.filter((s) => s.placedId === null).map((s) => s.id));
  for (const thing of [...rig.lamps.filter((l) => own.has(l.id)), ...rig.placed.filter((p) => copies.has(p.id))])
    thing.at = roundedPlace(thing.at.map((v, c) => v + by[c]!) as Vec3);
  if (!opened) return;
  const inside = turnBack(by, opened.copy);
  for (const lamp of lampsInside(opened, new Set(standing.map((s) => s.id))))
    lamp.at = roundedPlace(lamp.at.map((v, c) => v + inside[c]!) as Vec3);
}

/** Aims lamps of the level's own, and of a copy that is opened, at a point. */
export function aimAt(rig: LampRig, ids: ReadonlySet<string>, point: Vec3, openId: string | null = null): void {
  const aim = (lamp: Lamp, at: Vec3) => {
    const to = at.map((v, c) => v - lamp.at[c]!) as Vec3;
    if (Math.hypot(...to) < 1e-6) return;
    const { azimuthDeg, elevationDeg } = anglesFromDirection(to);
    Object.assign(lamp.aim, { azimuthDeg: roundedAngle(azimuthDeg), elevationDeg: roundedAngle(elevationDeg) });
  };
  for (const lamp of rig.lamps) if (ids.has(lamp.id)) aim(lamp, point);
  const opened = openedCopy(rig, openId);
  if (opened) for (const lamp of lampsInside(opened, ids)) aim(lamp, insideCopy(opened.copy, point));
}

/** Changes every lamp of the level's own, and of a copy that is opened, by the same recipe. */
export function changeLamps(rig: LampRig, ids: ReadonlySet<string>, recipe: (lamp: Lamp) => void, openId: string | null = null): void {
  for (const lamp of rig.lamps) if (ids.has(lamp.id)) recipe(lamp);
  const opened = openedCopy(rig, openId);
  if (opened) lampsInside(opened, ids).forEach(recipe);
}

/** Lets a lamp move, or stand still again. What moves is live alone, as no light of it can be baked. */
export function setMotion(lamp: Lamp, motion: LampMotion | null): void {
  lamp.motion = motion;
  if (motion) lamp.kept = 'nothing';
}

/** Lets the path of lamps of the level's own, and of a copy that is opened, go on to a point of the level; lamps without a path are left. */
export function addPathPoint(rig: LampRig, ids: ReadonlySet<string>, point: Vec3, openId: string | null = null): void {
  const opened = openedCopy(rig, openId);
  const add = (lamp: Lamp, to: Vec3) => {
    if (lamp.motion?.as === 'path') lamp.motion.through.push(roundedPlace(to.map((v, c) => v - lamp.at[c]!) as Vec3));
  };
  for (const lamp of rig.lamps) if (ids.has(lamp.id)) add(lamp, point);
  if (opened) for (const lamp of lampsInside(opened, ids)) add(lamp, insideCopy(opened.copy, point));
}

/**
 * Takes away standing lamps; those of a fixture go with their whole copy, but from a copy that is opened they are taken out of the
 * fixture. Throws a `bad-input` Failure where none would be left in it.
 */
export function removeStanding(rig: LampRig, standing: readonly StandingLamp[], openId: string | null = null): void {
  const ids = new Set(standing.map((s) => s.id));
  const opened = openedCopy(rig, openId);
  if (opened) {
    const gone = new Set(lampsInside(opened, ids).map((l) => l.id));
    if (gone.size === opened.fixture.lamps.length)
      throw new Failure(
        'bad-input',
        `${opened.fixture.name} would have no lamp.`,
        'Take its copies away instead, or place another lamp in it first.',
      );
    opened.fixture.lamps = opened.fixture.lamps.filter((l) => !gone.has(l.id));
  }
  const copies = new Set(standing.flatMap((s) => (s.placedId === openId ? [] : (s.placedId ?? []))));
  rig.lamps = rig.lamps.filter((l) => !ids.has(l.id));
  rig.placed = rig.placed.filter((p) => !copies.has(p.id));
}

/**
 * Sets standing lamps, and copies of fixtures, once more beside themselves, moved by so much; answers the ids that the new ones stand with.
 *
 * @param times how many, each moved by as much from the one before
 */
export function repeatStanding(
  rig: LampRig,
  standing: readonly StandingLamp[],
  by: Vec3,
  times = 1,
  openId: string | null = null,
): string[] {
  const made: string[] = [];
  const opened = openedCopy(rig, openId);
  const named = { lamps: createNamer(rig.lamps), inside: createNamer(opened?.fixture.lamps ?? []), placed: createNamer(rig.placed) };
  const ids = new Set(standing.map((s) => s.id));
  const moved = (at: Vec3, step: Vec3, time: number) => roundedPlace(at.map((v, c) => v + step[c]! * time) as Vec3);
  for (let time = 1; time <= times; time++) {
    // Read as they stand, not from the rig that is changed, where each value read is watched: hundreds are set at once.
    for (const { placedId, ...lamp } of standing) {
      if (placedId !== null) continue;
      const own = named.lamps(lamp.name);
      rig.lamps.push({ ...copied(lamp), ...own, at: moved(lamp.at, by, time) });
      made.push(own.id);
    }
    if (opened) {
      const inside = turnBack(by, opened.copy);
      for (const lamp of lampsInside(opened, ids)) {
        const own = named.inside(lamp.name);
        opened.fixture.lamps.push({ ...copied(lamp), ...own, at: moved(lamp.at, inside, time) });
        made.push(`${opened.copy.id}.${own.id}`);
      }
    }
    const copies = new Set(standing.flatMap((s) => (s.placedId === openId ? [] : (s.placedId ?? []))));
    for (const copy of rig.placed.filter((p) => copies.has(p.id))) {
      const own = named.placed(copy.name);
      rig.placed.push({ ...copied(copy), ...own, object: null, at: moved(copy.at, by, time) });
      made.push(...rig.fixtures.find((f) => f.id === copy.fixtureId)!.lamps.map((l) => `${own.id}.${l.id}`));
    }
  }
  return made;
}

/** Gives lamps the values of another one: all but name, place, aim and circuit. */
export function pasteValues(rig: LampRig, ids: ReadonlySet<string>, from: Lamp, openId: string | null = null): void {
  const { shape, output, color, reachM, kept, motion } = copied(from);
  changeLamps(rig, ids, (lamp) => Object.assign(lamp, copied({ shape, output, color, reachM, kept, motion })), openId);
}

/** Puts standing lamps into a circuit, or none: own lamps by themselves, copies of fixtures as told otherwise than their fixture. */
export function moveToCircuit(rig: LampRig, ids: ReadonlySet<string>, circuitId: string | null): void {
  const copies = new Set(lampsOf(rig).flatMap((l) => (ids.has(l.id) && l.placedId ? [l.placedId] : [])));
  for (const lamp of rig.lamps) if (ids.has(lamp.id)) lamp.circuitId = circuitId;
  for (const copy of rig.placed) if (copies.has(copy.id)) copy.circuitId = circuitId;
}

/** Takes a circuit away: its lamps and glows are in none then, and no cue dims it. */
export function removeCircuit(
  rig: Pick<Rig, 'circuits' | 'lamps' | 'fixtures' | 'placed' | 'cues' | 'glows' | 'calls'>,
  circuitId: string,
): void {
  rig.circuits = rig.circuits.filter((c) => c.id !== circuitId);
  for (const lamp of [...rig.lamps, ...rig.fixtures.flatMap((f) => f.lamps), ...rig.placed, ...rig.glows])
    if (lamp.circuitId === circuitId) lamp.circuitId = null;
  for (const { holds } of rig.cues) {
    if (holds.dimmers) delete holds.dimmers[circuitId];
    if (holds.dimmers && Object.keys(holds.dimmers).length === 0) delete holds.dimmers;
  }
  for (const { circuits } of rig.calls) delete circuits[circuitId];
}
