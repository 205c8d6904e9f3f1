import type { Draft } from 'immer';
import { aimOf, lampFrame, type Lamp } from '../../core/lamps';
import { DEFAULT_LAMP, lampsOf, lampsOfCopy, type Rig, type StandingLamp } from '../../core/rig';
import { anglesFromDirection, type Vec3 } from '../../core/units';

/** A name of that stem with a number that none of the others has, and an id for it. */
export function freeNumber(stem: string, taken: { id: string; name: string }[]): { id: string; name: string } {
  const bare = stem.replace(/ \d+$/, '');
  const slug =
    bare
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || 'lamp';
  const [ids, names] = [new Set(taken.map((t) => t.id)), new Set(taken.map((t) => t.name))];
  for (let n = 1; ; n++) if (!ids.has(`${slug}-${n}`) && !names.has(`${bare} ${n}`)) return { id: `${slug}-${n}`, name: `${bare} ${n}` };
}

/** A copy of its own, of drafts too. */
const copied = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

const rounded = (v: Vec3): Vec3 => v.map((c) => Number(c.toFixed(4))) as Vec3;

/** The place off a surface that something is put at; on a grid of the level's axes where one is given. */
export function offSurface(point: Vec3, normal: Vec3, standOffM: number, gridM: number): Vec3 {
  const at = point.map((v, c) => v + normal[c]! * standOffM) as Vec3;
  // On the grid along the surface: the axis that the surface faces most is left as it is.
  const main = normal.reduce((best, v, c) => (Math.abs(v) > Math.abs(normal[best]!) ? c : best), 0);
  return rounded(gridM > 0 ? (at.map((v, c) => (c === main ? v : Math.round(v / gridM) * gridM)) as Vec3) : at);
}

/** The circuit of that id; null where it is not there any more. */
const circuitOf = ({ circuits }: Draft<Rig>, id: string | null): string | null => (circuits.some((c) => c.id === id) ? id : null);

/**
 * Puts a lamp like another one (or a plain one) off a surface, aimed away from it; answers its id.
 *
 * @param circuitId that it goes into; where it is null, that of the other one
 */
export function placeLamp(rig: Draft<Rig>, at: Vec3, normal: Vec3, like: Lamp | null, circuitId: string | null): string {
  const named = freeNumber(like?.name ?? 'Lamp', rig.lamps);
  const { azimuthDeg, elevationDeg } = anglesFromDirection(normal);
  const lamp: Lamp = {
    ...copied(like ?? DEFAULT_LAMP),
    ...named,
    at,
    circuitId: circuitOf(rig, circuitId) ?? like?.circuitId ?? null,
    aim: { azimuthDeg: Number(azimuthDeg.toFixed(2)), elevationDeg: Number(elevationDeg.toFixed(2)), rollDeg: like?.aim.rollDeg ?? 0 },
  };
  rig.lamps.push(lamp);
  return lamp.id;
}

/** Puts a copy of a fixture at a place, and in a circuit where one is given; answers the id of its first lamp. */
export function placeFixture(rig: Draft<Rig>, fixtureId: string, at: Vec3, turnDeg: number, circuitId: string | null): string {
  const fixture = rig.fixtures.find((f) => f.id === fixtureId)!;
  const named = freeNumber(fixture.name, rig.placed);
  rig.placed.push({ ...named, fixtureId, at, turnDeg, level: 1, circuitId: circuitOf(rig, circuitId) });
  return `${named.id}.${fixture.lamps[0]!.id}`;
}

/** Moves standing lamps by as much; those of a fixture take their whole copy with them, once. */
export function moveStanding(rig: Draft<Rig>, standing: readonly StandingLamp[], by: Vec3): void {
  const copies = new Set(standing.flatMap((s) => s.placedId ?? []));
  const own = new Set(standing.filter((s) => s.placedId === null).map((s) => s.id));
  for (const thing of [...rig.lamps.filter((l) => own.has(l.id)), ...rig.placed.filter((p) => copies.has(p.id))])
    thing.at = rounded(thing.at.map((v, c) => v + by[c]!) as Vec3);
}

/** Aims the lamps of the level's own at a point. */
export function aimAt(rig: Draft<Rig>, ids: ReadonlySet<string>, point: Vec3): void {
  for (const lamp of rig.lamps) {
    if (!ids.has(lamp.id)) continue;
    const to = point.map((v, c) => v - lamp.at[c]!) as Vec3;
    if (Math.hypot(...to) < 1e-6) continue;
    const { azimuthDeg, elevationDeg } = anglesFromDirection(to);
    Object.assign(lamp.aim, { azimuthDeg: Number(azimuthDeg.toFixed(2)), elevationDeg: Number(elevationDeg.toFixed(2)) });
  }
}

/** Changes every chosen lamp of the level's own by the same recipe. */
export function changeLamps(rig: Draft<Rig>, ids: ReadonlySet<string>, recipe: (lamp: Draft<Lamp>) => void): void {
  for (const lamp of rig.lamps) if (ids.has(lamp.id)) recipe(lamp);
}

/** Takes away standing lamps; those of a fixture go with their whole copy. */
export function removeStanding(rig: Draft<Rig>, standing: readonly StandingLamp[]): void {
  const ids = new Set(standing.map((s) => s.id));
  const copies = new Set(standing.flatMap((s) => s.placedId ?? []));
  rig.lamps = rig.lamps.filter((l) => !ids.has(l.id));
  rig.placed = rig.placed.filter((p) => !copies.has(p.id));
}

/** Makes a fixture of lamps of the level's own, about their middle, and puts a copy of it where they stood; answers its id. */
export function makeFixture(rig: Draft<Rig>, ids: ReadonlySet<string>, name: string): string {
  const lamps = rig.lamps.filter((l) => ids.has(l.id));
  const middle = [0, 1, 2].map((c) => lamps.reduce((sum, l) => sum + l.at[c]!, 0) / lamps.length) as Vec3;
  const named = freeNumber(name, rig.fixtures);
  const fixture = {
    ...named,
    lamps: copied(lamps).map((l) => ({ ...l, at: rounded(l.at.map((v, c) => v - middle[c]!) as Vec3) })),
    model: null,
  };
  rig.fixtures.push(fixture);
  rig.lamps = rig.lamps.filter((l) => !ids.has(l.id));
  placeFixture(rig, fixture.id, rounded(middle), 0, null);
  return fixture.id;
}

/**
 * Makes an object of the level what a fixture looks like, as it stands about the fixture's copy that is nearest to a point; about
 * that point where there is no copy.
 */
export function takeModel(rig: Draft<Rig>, fixtureId: string, object: string, point: Vec3): void {
  const far = ({ at }: { at: Vec3 }) => Math.hypot(...at.map((v, c) => v - point[c]!));
  const [nearest] = rig.placed.filter((p) => p.fixtureId === fixtureId).sort((a, b) => far(a) - far(b));
  const { at, turnDeg } = nearest ?? { at: rounded(point), turnDeg: 0 };
  rig.fixtures.find((f) => f.id === fixtureId)!.model = { from: 'level', object, at: [...at], turnDeg };
}

/** Puts standing lamps into a circuit: own lamps by themselves, copies of fixtures as told otherwise than their fixture. */
export function moveToCircuit(rig: Draft<Rig>, ids: ReadonlySet<string>, circuitId: string): void {
  const copies = new Set(lampsOf(rig).flatMap((l) => (ids.has(l.id) && l.placedId ? [l.placedId] : [])));
  for (const lamp of rig.lamps) if (ids.has(lamp.id)) lamp.circuitId = circuitId;
  for (const copy of rig.placed) if (copies.has(copy.id)) copy.circuitId = circuitId;
}

/** Turns placed copies into lamps of the level's own, just as they stand; answers the lamps' ids. */
export function unlink(rig: Draft<Rig>, placedIds: ReadonlySet<string>): string[] {
  const ids: string[] = [];
  for (const copy of rig.placed.filter((p) => placedIds.has(p.id))) {
    const fixture = rig.fixtures.find((f) => f.id === copy.fixtureId)!;
    for (const { placedId: from, ...lamp } of lampsOfCopy(copied(copy), copied(fixture))) {
      const { id } = freeNumber(from ?? lamp.name, rig.lamps);
      const { forward, right } = lampFrame(lamp.aim);
      rig.lamps.push({ ...lamp, id, at: rounded(lamp.at), aim: aimOf({ forward, right }) });
      ids.push(id);
    }
  }
  rig.placed = rig.placed.filter((p) => !placedIds.has(p.id));
  return ids;
}

/** Takes a circuit away: its lamps are in none then, and no cue dims it. */
export function removeCircuit(rig: Draft<Rig>, circuitId: string): void {
  rig.circuits = rig.circuits.filter((c) => c.id !== circuitId);
  for (const lamp of [...rig.lamps, ...rig.fixtures.flatMap((f) => f.lamps), ...rig.placed])
    if (lamp.circuitId === circuitId) lamp.circuitId = null;
  for (const { holds } of rig.cues) {
    if (holds.dimmers) delete holds.dimmers[circuitId];
    if (holds.dimmers && Object.keys(holds.dimmers).length === 0) delete holds.dimmers;
  }
}
