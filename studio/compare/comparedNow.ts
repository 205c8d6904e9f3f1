import { cueById, resolveCue, resolveHour, rigOnDay, type Lighting, type Rig } from '../../core/rig';
import { currentStroll, shownRig, type StudioState } from '../state/studioStore';
import { ALL, heard } from '../viewport/mix/listening';
import type { Compared, ComparedSide } from '../viewport/renderer/compared';
import { isMakingWay, useStrollTool } from '../viewport/walking/strollTool';
import { useCompare, type SideChoice, type SideOf } from './compareStore';

/** Lightings that were worked out, by what they depend on; the last few. */
const known: { key: readonly unknown[]; lighting: Lighting }[] = [];
const KNOWN = 8;

function once(key: readonly unknown[], work: () => Lighting): Lighting {
  const found = known.find((k) => k.key.length === key.length && k.key.every((v, i) => v === key[i]));
  if (found) return found.lighting;
  const lighting = work();
  known.unshift({ key, lighting });
  known.length = Math.min(known.length, KNOWN);
  return lighting;
}

/** The rig that a kept light had on its day. */
const days = new WeakMap<Rig, Map<number, Rig>>();
function onDay(rig: Rig, day: number): Rig {
  if (day === 0) return rig;
  const own = days.get(rig) ?? new Map<number, Rig>();
  days.set(rig, own);
  if (!own.has(day)) own.set(day, rigOnDay(rig, day));
  return own.get(day)!;
}

/** The light of a side; null where its cue or what was kept is gone. */
function lightOf(shown: StudioState, light: SideOf, now: Lighting): Lighting | null {
  const { images } = shown;
  if (light.of === 'now') return now;
  if (light.of === 'kept') {
    const kept = useCompare.getState().kept.find((k) => k.id === light.id);
    if (!kept) return null;
    const rig = onDay(kept.rig, kept.days);
    const { hour, cueId } = kept;
    return once([rig, images, cueId, hour], () =>
      hour === null ? resolveCue(rig, cueById(rig, cueId), images) : resolveHour(rig, hour, images),
    );
  }
  const rig = shownRig(shown);
  if (light.of === 'hour') return once([rig, images, light.hour], () => resolveHour(rig, light.hour, images));
  const cue = rig.cues.find((c) => c.id === light.cueId);
  return cue ? once([rig, images, cue.id], () => resolveCue(rig, cue, images)) : null;
}

const ungradedOf = new WeakMap<Lighting, Lighting>();

/** A lighting without its grade: the same object for the same light. */
function ungraded(lighting: Lighting): Lighting {
  const known = ungradedOf.get(lighting);
  if (known) return known;
  const plain = heard(lighting, { ...ALL, ungraded: true });
  ungradedOf.set(lighting, plain);
  return plain;
}

function sideOf(choice: SideChoice, state: StudioState, now: Lighting): ComparedSide {
  const lighting = lightOf(state, choice.light, now) ?? now;
  return { lighting: choice.ungraded ? ungraded(lighting) : lighting, live: choice.live, bakeId: choice.bakeId };
}

/** What the Compare room shows at this moment; null in the other rooms, and on a stroll or while one is made, which are seen whole. */
export function comparedNow(state: StudioState, now: Lighting): Compared | null {
  if (state.room !== 'compare' || currentStroll(state) || isMakingWay(useStrollTool.getState())) return null;
  const { sides, layout, look, at, ofLight } = useCompare.getState();
  return { sides: [sideOf(sides[0], state, now), sideOf(sides[1], state, now)], layout, look, at, ofLight };
}
