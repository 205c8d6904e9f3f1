import type { LayoutOptions } from '../../level';
import { mappedRules } from '../../roles';
import type { Lamp, Profile } from '../../lamps';
import { NO_CIRCUIT, type Rig } from '../../rig';
import { NO_TURN, angleBetween, directionFromAngles, orderedJson, sameJson, samePlacing, type Vec3 } from '../../units';
import { SAME_SUN_DEG } from './sunSamples';
import { aureoleKey, circuitKey, stemParts, sunKey, tracedParts } from '../stems/stemParts';
import { planBake } from './planBake';
import { type BakePlan, type BakedGlow, type BakedSun } from './bakePlan';

/**
 * A traced sun sample covers a wanted one within this many times the wanted spacing (the distance between neighbouring wanted
 * samples); beyond that the course of the suns has moved.
 */
const COURSE_MOVED = 1.3;
/** Share of the sun samples that may be missing before all of them are placed anew. */
const COURSE_NEW = 1 / 3;

/** What a bake of a rig is to trace, beside one that is done. */
export interface BakeChange {
  /** Why that one no longer answers to the rig, in words; empty while it is fresh. */
  reasons: string[];
  /** Keys of those parts that are stale: their light is another, or they are not there. */
  stale: string[];
  /** The plan of the bake that answers to the rig. */
  plan: BakePlan;
  /** What has to be traced for it: the whole plan, or a part of it, the rest being kept. */
  trace: BakePlan;
  /** The plan of a bake that takes in some objects alone; null where the whole level has to be baked for it. */
  some: BakePlan | null;
}

/** What changed since a bake was made, and what of it has to be traced anew. */
export function bakeChange(baked: { plan: BakePlan; layout: LayoutOptions }, rig: Rig): BakeChange {
  const wanted = planBake(rig);
  const then = baked.plan;
  const { suns, added } = sunsOver(then.suns, wanted.suns);
  const { reasons, moved, lamps, glows } = allReasons(then, wanted, added > 0, rig);
  const { texelsPerM, maxMapSize, densities, groupDensities } = rig.bake;
  const laidOut = [
    texelsPerM !== baked.layout.texelsPerM || maxMapSize !== baked.layout.maxMapSize ? ['the texel density or map size changed'] : [],
    densityReasons(baked.layout.densities ?? {}, densities),
    sameJson(baked.layout.groupDensities ?? {}, groupDensities) ? [] : ['the texel density of a group changed'],
    samePlacing(baked.layout.placing, rig.placing) ? [] : ['the unit or the upright axis of the level changed'],
    sameJson(baked.layout.mapped ?? [], mappedRules(rig.roles)) ? [] : ['what has a lightmap by its role changed'],
  ].flat();
  const another = [
    laidOut,
    wanted.paths !== then.paths || wanted.bounces !== then.bounces || wanted.noise !== then.noise ? ['the quality or bounces changed'] : [],
  ].flat();
  const left = then.left ?? { reasons: [], stale: [] };
  const changed = then.changed ?? [];
  const isNew = changed.length === 0 ? [] : [`${named(changed)}: changed in this version of the level`];
  const all = [...reasons, ...another, ...left.reasons, ...isNew];
  const plan = { ...wanted, suns };
  const has = new Set(stemParts(then).map((p) => p.key));
  // What the sky has of its own about low suns may be missing: a bake made before it was known goes on without.
  const withSameSky = { ...plan, suns: plan.suns.map((s) => (s.aureole && !has.has(aureoleKey(s)) ? { ...s, aureole: undefined } : s)) };
  const some =
    laidOut.length > 0 || moved || stemParts(withSameSky).some((p) => !has.has(p.key))
      ? null
      : { ...withSameSky, ...(changed.length > 0 ? { changed } : {}) };
  if (some && isNew.length === all.length && all.length > 0) {
    const rest: BakePlan = { ...some, changed: undefined };
    return { reasons: all, stale: stemParts(rest).map((p) => p.key), plan: rest, trace: { ...rest, only: changed }, some };
  }
  const whole = another.length > 0 || isNew.length > 0 || moved || left.stale.includes('sky');
  if (whole || all.length === 0) {
    return {
      reasons: all,
      stale: whole ? stemParts(wanted).map((p) => p.key) : [],
      plan: whole ? wanted : plan,
      trace: whole ? wanted : plan,
      some,
    };
  }
  const isFresh = (key: string) => has.has(key) && !left.stale.includes(key);
  const touched = (c: BakePlan['circuits'][number]) => lamps.has(c.id) || !isFresh(circuitKey(c)) || glows.has(c.id);
  const partly: BakePlan = {
    ...plan,
    partly: { glow: glows.size > 0 || left.stale.includes('glow') },
    suns: suns.filter((s) => !isFresh(sunKey(s)) || (s.aureole && !isFresh(aureoleKey(s)))),
    circuits: wanted.circuits.filter(touched),
  };
  partly.lamps = wanted.lamps.filter((l) => partly.circuits.some((c) => c.id === (l.circuitId ?? NO_CIRCUIT)));
  return { reasons: all, stale: tracedParts(partly), plan, trace: partly, some };
}

/** Names of objects, or how many there are. */
const named = (names: readonly string[]): string => (names.length > NAMED ? `${names.length} objects` : names.join(', '));

/** Objects whose own texel density is another than it was. */
function densityReasons(then: Readonly<Record<string, number>>, now: Readonly<Record<string, number>>): string[] {
  const all = [...new Set([...Object.keys(then), ...Object.keys(now)])].filter((name) => (then[name] ?? 1) !== (now[name] ?? 1));
  const out = all.filter((name) => now[name] === 0);
  const back = all.filter((name) => then[name] === 0);
  const other = all.filter((name) => !out.includes(name) && !back.includes(name));
  const say = (names: string[], one: string, many: string) => {
    if (names.length === 0) return [];
    return [names.length > NAMED ? `${names.length} objects ${many}` : `${names.join(', ')}: ${one}`];
  };
  return [
    ...say(other, 'another texel density', 'have another texel density'),
    ...say(out, 'left out now', 'are left out now'),
    ...say(back, 'no longer left out', 'are no longer left out'),
  ];
}

/** Why a bake no longer answers to a rig, in words; empty while it is fresh. */
export const staleReasons = (baked: { plan: BakePlan; layout: LayoutOptions }, rig: Rig): string[] => bakeChange(baked, rig).reasons;

/**
 * The suns of a plan beside a bake: what was traced stays where it is, as long as it lies close enough to what is wanted, and what is
 * missing is added. The sun that a cue has left stays where no other sample covers that place. `added` is how many samples are new.
 */
function sunsOver(then: readonly BakedSun[], wanted: BakedSun[]): { suns: BakedSun[]; added: number } {
  const cues = wanted.filter((w) => w.cues.length > 0);
  const others = then.filter((s) => !cues.some((c) => apart(c, s) <= SAME_SUN_DEG));
  const suns = [...cues, ...others.filter((s) => s.cues.length === 0)];
  const asked = wanted.map(directionOf);
  const standing = suns.map(directionOf);
  const spare = others.map((s) => (s.cues.length > 0 ? directionOf(s) : null));
  let added = 0;
  wanted.forEach((sample, i) => {
    if (sample.cues.length > 0) return;
    const own = asked[i]!;
    const next = Math.max(-1, ...asked.map((d, k) => (k === i ? -1 : dot(own, d))));
    // One that stands alone is covered by any.
    const near = Math.cos(Math.min(Math.PI, COURSE_MOVED * Math.acos(Math.min(1, next))));
    if (standing.some((d) => dot(own, d) >= near)) return;
    const left = spare.findIndex((d) => d !== null && dot(own, d) >= near);
    if (left < 0) added++;
    const taken = left < 0 ? sample : others[left]!;
    suns.push(taken);
    standing.push(directionOf(taken));
  });
  return added > COURSE_NEW * (wanted.length - cues.length) ? { suns: wanted, added } : { suns, added };
}

const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const directionOf = (sun: BakedSun): Vec3 => directionFromAngles(sun.azimuthDeg, sun.elevationDeg);
const apart = (a: BakedSun, b: BakedSun): number => angleBetween(directionOf(a), directionOf(b));

interface Reasons {
  reasons: string[];
  /** Whether what stands in the level is another. */
  moved: boolean;
  /** Ids of circuits whose lamps are others. */
  lamps: Set<string>;
  /** Ids of the lights whose glow may be another, null for that of what glows by itself. */
  glows: Set<string | null>;
}

function allReasons(then: BakePlan, wanted: BakePlan, courseMoved: boolean, rig: Rig): Reasons {
  const reasons: string[] = [];
  const traced = new Set(then.suns.filter((b) => b.cues.length > 0).map(sunKey));
  for (const now of wanted.suns.filter((s) => s.cues.length > 0)) {
    if (traced.has(sunKey(now))) continue;
    for (const id of now.cues) {
      const name = rig.cues.find((c) => c.id === id)!.name;
      const before = then.suns.find((b) => b.cues.includes(id));
      if (!before) reasons.push(`${name} is not baked yet`);
      else if (apart(now, before) > SAME_SUN_DEG) {
        const by = apart(now, before);
        reasons.push(`${name}: its light moved by ${by < 1 ? by.toFixed(1) : Math.round(by)}°`);
      } else if (Math.abs(now.discDeg - before.discDeg) > SAME_SUN_DEG) reasons.push(`${name}: its light's disc changed`);
    }
  }
  if (courseMoved) reasons.push('the course of the suns or the moon moved');
  return { ...lampReasons(then, wanted, rig, reasons) };
}

/** Ids of those lamps whose direct light is in a bake just as they shine now. */
export function bakedLamps(lamps: readonly Lamp[], profiles: readonly Profile[], plan: Pick<BakePlan, 'lamps' | 'profiles'>): Set<string> {
  const before = new Map(plan.lamps.map((l) => [l.id, l]));
  const isSame = (lamp: Lamp) => {
    const then = before.get(lamp.id);
    return then?.kept === 'all' && then.circuitId === lamp.circuitId && lampChange(then, lamp, plan.profiles, profiles) === null;
  };
  return new Set(lamps.filter(isSame).map((l) => l.id));
}

/** What of a lamp's light is another than it was, in a word; null where it is the same. Its name does not matter. */
function lampChange(then: Lamp, now: Lamp, before: readonly Profile[], after: readonly Profile[]): string | null {
  if (!sameJson(then.at, now.at)) return 'moved';
  if (!sameJson(then.aim, now.aim)) return 'is aimed elsewhere';
  if (!sameJson(then.output, now.output)) return 'has another strength';
  if (!sameJson(then.color, now.color)) return 'has another colour';
  const profileOf = (lamp: Lamp, shelf: readonly Profile[]) =>
    lamp.shape.kind === 'measured' ? shelf.find((p) => p.id === (lamp.shape as { profileId: string }).profileId)?.ies : '';
  if (!sameJson(then.shape, now.shape) || profileOf(then, before) !== profileOf(now, after)) return 'has another shape';
  if (then.reachM !== now.reachM) return 'has another reach';
  return then.kept !== now.kept ? 'is kept otherwise' : null;
}

/** Most lamps that are named one by one for each reason. */
const NAMED = 3;

/** A model of a stored plan: those of early ones say no tilt and no roll, as all stood upright. */
const asStanding = (model: BakePlan['models'][number]) => ({ ...NO_TURN, ...model });

/** Models that came, went or stand otherwise, by the names of their copies. */
function noteModels(then: BakePlan, now: BakePlan, { placed }: Rig, note: (change: string, name: string) => void): void {
  const before = new Map(then.models.map((m) => [m.placedId, asStanding(m)]));
  const nameOf = new Map(placed.map((p) => [p.id, p.name]));
  for (const model of now.models) {
    const was = before.get(model.placedId);
    before.delete(model.placedId);
    if (sameJson(was, model)) continue;
    const change = !was ? 'its model is not baked yet' : sameJson(was.source, model.source) ? 'moved' : 'has another model';
    note(change, nameOf.get(model.placedId)!);
  }
  for (const { placedId } of before.values()) note('its model is no longer there', nameOf.get(placedId) ?? 'a fixture that was taken away');
}

/** Lights whose glow is another than it was: of glows that changed, and of those that they take surfaces from or leave them to. */
function movedGlows(then: BakePlan, now: BakePlan): { glows: Set<string | null>; materials: string[] } {
  const [before, after] = [then, now].map((plan) => new Map(plan.glows.map((g) => [orderedJson(g), g])));
  const changed = [...[...before!].filter(([key]) => !after!.has(key)), ...[...after!].filter(([key]) => !before!.has(key))].map(
    ([, g]) => g,
  );
  const isMet = (a: BakedGlow, b: BakedGlow) => a.material === null || b.material === null || a.material === b.material;
  const met = [...then.glows, ...now.glows].filter((glow) => changed.some((c) => isMet(c, glow)));
  const materials = [...new Set(changed.map((g) => g.material ?? 'models of fixtures'))];
  return { glows: new Set(changed.length > 0 ? [null, ...met.map((g) => g.lightId)] : []), materials };
}

function lampReasons(then: BakePlan, now: BakePlan, rig: Rig, sunReasons: string[]): Reasons {
  const lamps = new Set<string>();
  const before = new Map(then.lamps.map((l) => [l.id, l]));
  const changes = new Map<string, string[]>();
  const note = (change: string, name: string) => changes.set(change, [...new Set([...(changes.get(change) ?? []), name])]);
  for (const lamp of now.lamps) {
    const was = before.get(lamp.id);
    const another = was?.circuitId !== lamp.circuitId;
    const change = !was ? 'is not baked yet' : another ? 'went to another circuit' : lampChange(was, lamp, then.profiles, rig.profiles);
    if (!change) continue;
    note(change, lamp.name);
    lamps.add(lamp.circuitId ?? NO_CIRCUIT);
    if (was) lamps.add(was.circuitId ?? NO_CIRCUIT);
  }
  const still = new Set(now.lamps.map((l) => l.id));
  for (const lamp of then.lamps) {
    if (still.has(lamp.id)) continue;
    note('is no longer baked', lamp.name);
    lamps.add(lamp.circuitId ?? NO_CIRCUIT);
  }
  const beforeModels = changes.size;
  noteModels(then, now, rig, note);
  const rolesMoved = !sameJson(then.roles ?? [], now.roles ?? []);
  const moved = changes.size > beforeModels || !sameModels(then, now) || rolesMoved;
  const reasons = [...changes].map(([change, names]) =>
    names.length > NAMED ? `${names.length} lamps: each ${change}` : `${names.join(', ')}: ${change}`,
  );
  const { glows, materials } = movedGlows(then, now);
  if (glows.size > 0)
    reasons.push(
      `${materials.length > NAMED ? `${materials.length} materials` : materials.join(', ')}: the glow is not baked as it is set`,
    );
  if (rolesMoved) reasons.push('what light passes or is blocked by, by its role, changed');
  return { reasons: [...sunReasons, ...reasons], moved, lamps, glows };
}

const sameModels = (then: BakePlan, now: BakePlan): boolean =>
  then.models.length === now.models.length &&
  now.models.every((m) => then.models.some((b) => b.placedId === m.placedId && sameJson(asStanding(b), m)));
