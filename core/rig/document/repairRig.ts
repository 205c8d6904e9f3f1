import { glowPlaces } from './glowPlaces';
import { SHIPPED_AIRS } from './airs';
import { strollsAmong } from './strollCues';
import type { GlowRule, Rig } from './types';

type Named = { id: string; name: string };

/** Letters of a name that a number is put after. */
const LONGEST = 70;

/** Gives each of a list a name that none before it has: its own, or with a number. */
function withOwnNames<T extends { name: string }>(list: readonly T[]): T[] {
  const taken = new Set<string>();
  return list.map((thing) => {
    let { name } = thing;
    for (let n = 2; taken.has(name.trim().toLowerCase()); n++) name = `${thing.name.slice(0, LONGEST)} ${n}`;
    taken.add(name.trim().toLowerCase());
    return name === thing.name ? thing : { ...thing, name };
  });
}

/** A list with what of an earlier one is used and was taken away. */
function withUsed<T extends Named>(list: readonly T[], before: readonly T[], used: ReadonlySet<string>): T[] {
  const has = new Set(list.map((t) => t.id));
  return [...list, ...before.filter((t) => used.has(t.id) && !has.has(t.id))];
}

/** The keys of a record that are among some ids; undefined where none is left. */
function among<V>(record: Record<string, V> | undefined, ids: ReadonlySet<string>): Record<string, V> | undefined {
  if (!record) return undefined;
  const own = Object.entries(record).filter(([id]) => ids.has(id));
  return own.length > 0 ? Object.fromEntries(own) : undefined;
}

/** Rules of which none says anything about a surface that one before is about. */
function eachOnce(glows: readonly GlowRule[]): GlowRule[] {
  const known = new Set<string>();
  return glows.flatMap((rule) => {
    const isNew = (objects: string[] | null) => {
      const [place] = glowPlaces({ material: rule.material, objects });
      return !known.has(place!) && known.add(place!);
    };
    if (rule.objects === null) return isNew(null) ? [rule] : [];
    const objects = rule.objects.filter((name) => isNew([name]));
    if (objects.length === rule.objects.length) return [rule];
    return objects.length > 0 ? [{ ...rule, objects }] : [];
  });
}

const idsOf = (list: readonly { id: string }[]): Set<string> => new Set(list.map((t) => t.id));

/**
 * Mends what two changes of one rig, each right by itself, may come to together: a second name gets a number, a lamp whose circuit is gone
 * goes to none, a cue whose vantage is gone names none, a call whose cue is gone switches its circuits alone, what one side took away and the other uses (an air, a profile, a fixture, the last cue) stays, and no surface glows by two rules.
 *
 * @param base what both began at
 */
export function repairRig(rig: Rig, base: Rig): Rig {
  const cues = rig.cues.length > 0 ? rig.cues : base.cues.slice(0, 1);
  const usedAirs = new Set([rig.airId, ...cues.flatMap((c) => c.holds.airId ?? [])]);
  const fixtures = withUsed(rig.fixtures, base.fixtures, new Set(rig.placed.map((p) => p.fixtureId)));
  const allLamps = [...rig.lamps, ...fixtures.flatMap((f) => f.lamps)];
  const usedProfiles = new Set(allLamps.flatMap(({ shape }) => (shape.kind === 'measured' ? [shape.profileId] : [])));
  const circuitIds = idsOf(rig.circuits);
  const volumeIds = idsOf(rig.volumes);
  const vantageIds = idsOf(rig.vantages);
  const cueIds = idsOf(cues);
  const inCircuit = <T extends { circuitId: string | null }>(thing: T): T =>
    thing.circuitId === null || circuitIds.has(thing.circuitId) ? thing : { ...thing, circuitId: null };
  return {
    ...rig,
    airs: withOwnNames(
      withUsed(
        rig.airs,
        base.airs.filter((a) => !SHIPPED_AIRS.some((s) => s.id === a.id)),
        usedAirs,
      ),
    ),
    volumes: withOwnNames(rig.volumes),
    weathers: withOwnNames(rig.weathers),
    grades: withOwnNames(rig.grades),
    profiles: withOwnNames(withUsed(rig.profiles, base.profiles, usedProfiles)),
    fixtures: withOwnNames(fixtures.map((f) => ({ ...f, lamps: f.lamps.map(inCircuit) }))),
    circuits: withOwnNames(rig.circuits),
    vantages: withOwnNames(rig.vantages),
    strolls: withOwnNames(strollsAmong(rig.strolls, cues)),
    glows: eachOnce(rig.glows).map(inCircuit),
    lamps: rig.lamps.map(inCircuit),
    placed: rig.placed.map(inCircuit),
    startCueId: rig.startCueId !== null && cueIds.has(rig.startCueId) ? rig.startCueId : null,
    calls: withOwnNames(rig.calls).map((call) => ({
      ...call,
      cueId: call.cueId !== null && cueIds.has(call.cueId) ? call.cueId : null,
      circuits: among(call.circuits, circuitIds) ?? {},
    })),
    cues: withOwnNames(
      cues.map((cue) => {
        const { dimmers, volumes, ...holds } = cue.holds;
        const own = { dimmers: among(dimmers, circuitIds), volumes: among(volumes, volumeIds) };
        return {
          ...cue,
          vantageId: cue.vantageId !== null && vantageIds.has(cue.vantageId) ? cue.vantageId : null,
          holds: { ...holds, ...(own.dimmers ? { dimmers: own.dimmers } : {}), ...(own.volumes ? { volumes: own.volumes } : {}) },
        };
      }),
    ),
  };
}
