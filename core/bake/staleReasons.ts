import type { LayoutOptions } from '../level';
import type { Lamp, Profile } from '../lamps';
import { NO_CIRCUIT, type Rig } from '../rig';
import { angleBetween, directionFromAngles } from '../units';
import { SAME_SUN_DEG } from './mix';
import { planBake, sunDirection, type BakePlan } from './stems';

/** Why a bake no longer answers to a rig, in words; empty while it is fresh. */
export function staleReasons(baked: { plan: BakePlan; layout: LayoutOptions }, rig: Rig): string[] {
  const reasons: string[] = [];
  const wanted = planBake(rig);
  for (const now of wanted.suns) {
    const { name, id } = rig.cues.find((c) => c.id === now.cueId)!;
    const then = baked.plan.suns.find((s) => s.cueId === id);
    if (!then) {
      reasons.push(`${name} is not baked yet`);
      continue;
    }
    if (!sunDirection(now) && !sunDirection(then)) continue;
    const moved = angleBetween(
      directionFromAngles(now.azimuthDeg, now.elevationDeg),
      directionFromAngles(then.azimuthDeg, then.elevationDeg),
    );
    if (moved > SAME_SUN_DEG) reasons.push(`${name}: its light moved by ${moved < 1 ? moved.toFixed(1) : Math.round(moved)}°`);
    else if (Math.abs(now.discDeg - then.discDeg) > SAME_SUN_DEG) reasons.push(`${name}: its light's disc changed`);
  }
  reasons.push(...lampReasons(baked.plan, wanted, rig));
  const { texelsPerM, maxMapSize } = rig.bake;
  if (texelsPerM !== baked.layout.texelsPerM || maxMapSize !== baked.layout.maxMapSize)
    reasons.push('the texel density or map size changed');
  if (wanted.paths !== baked.plan.paths || wanted.bounces !== baked.plan.bounces) reasons.push('the quality or bounces changed');
  return reasons;
}

/** As text, the keys of objects in order: a database gives them back in an order of its own. */
const ordered = (value: unknown): string =>
  JSON.stringify(value, (_, v: unknown) =>
    typeof v === 'object' && v !== null && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1)))
      : v,
  );
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b) || ordered(a) === ordered(b);

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
  if (!same(then.at, now.at)) return 'moved';
  if (!same(then.aim, now.aim)) return 'is aimed elsewhere';
  if (!same(then.output, now.output)) return 'has another strength';
  if (!same(then.color, now.color)) return 'has another colour';
  const profileOf = (lamp: Lamp, shelf: readonly Profile[]) =>
    lamp.shape.kind === 'measured' ? shelf.find((p) => p.id === (lamp.shape as { profileId: string }).profileId)?.ies : '';
  if (!same(then.shape, now.shape) || profileOf(then, before) !== profileOf(now, after)) return 'has another shape';
  if (then.reachM !== now.reachM) return 'has another reach';
  return then.kept !== now.kept ? 'is kept otherwise' : null;
}

/** Most lamps that are named one by one for each reason. */
const NAMED = 3;

/** Models that came, went or stand otherwise, by the names of their copies. */
function noteModels(then: BakePlan, now: BakePlan, { placed }: Rig, note: (change: string, name: string) => void): void {
  const before = new Map(then.models.map((m) => [m.placedId, m]));
  const nameOf = new Map(placed.map((p) => [p.id, p.name]));
  for (const model of now.models) {
    const was = before.get(model.placedId);
    before.delete(model.placedId);
    if (same(was, model)) continue;
    const change = !was ? 'its model is not baked yet' : same(was.source, model.source) ? 'moved' : 'has another model';
    note(change, nameOf.get(model.placedId)!);
  }
  for (const { placedId } of before.values()) note('its model is no longer there', nameOf.get(placedId) ?? 'a fixture that was taken away');
}

function lampReasons(then: BakePlan, now: BakePlan, rig: Rig): string[] {
  const before = new Map(then.lamps.map((l) => [l.id, l]));
  const changes = new Map<string, string[]>();
  const note = (change: string, name: string) => changes.set(change, [...new Set([...(changes.get(change) ?? []), name])]);
  for (const lamp of now.lamps) {
    const was = before.get(lamp.id);
    if (!was) note('is not baked yet', lamp.name);
    else if (was.circuitId !== lamp.circuitId) note('went to another circuit', lamp.name);
    else {
      const change = lampChange(was, lamp, then.profiles, rig.profiles);
      if (change) note(change, lamp.name);
    }
  }
  const still = new Set(now.lamps.map((l) => l.id));
  for (const lamp of then.lamps) if (!still.has(lamp.id)) note('is no longer baked', lamp.name);
  noteModels(then, now, rig, note);
  const reasons = [...changes].map(([change, names]) =>
    names.length > NAMED ? `${names.length} lamps: each ${change}` : `${names.join(', ')}: ${change}`,
  );
  const glows = (plan: BakePlan) => plan.circuits.flatMap((c) => c.glows.map((g) => `${c.id === NO_CIRCUIT ? '' : c.id} ${g}`)).sort();
  if (!same(glows(then), glows(now))) reasons.push('glowing materials went to other circuits');
  return reasons;
}
