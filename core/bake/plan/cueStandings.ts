import { openStates, resolveCue, type OpenState, type Rig } from '../../rig';
import { sameJson } from '../../units';
import type { BakePlan } from './bakePlan';
import type { BakeChange } from './staleReasons';

/** How a cue's light stands to a bake: in it as it is now, in it as it was, or not in it. */
export interface CueStanding {
  state: 'baked' | 'out of date' | 'not baked';
  /** What changed, in words; empty where nothing did. */
  why: string;
}

/** A bake that is done, what changed since it was made, and the sets of openings that are baked over it. */
export interface BakedSince {
  plan: BakePlan;
  change: BakeChange;
  opened?: readonly { open: readonly string[] | null }[];
}

/** The sets of openings that cues open and that are not baked. */
export const lackingOpenings = (rig: Rig, opened: NonNullable<BakedSince['opened']>): OpenState[] =>
  rig.openings.length === 0 ? [] : openStates(rig).filter(({ open }) => !opened.some((b) => sameJson(b.open, open)));

/** How each cue stands to a bake and to what changed since, by their ids. A change that a cue has no light of leaves it as it is. */
export function cueStandings(baked: BakedSince | null, rig: Rig): Map<string, CueStanding> {
  const standings = ofClosed(baked, rig);
  if (!baked?.opened) return standings;
  for (const { cueIds } of lackingOpenings(rig, baked.opened))
    for (const id of cueIds)
      if (standings.get(id)!.state === 'baked') standings.set(id, { state: 'out of date', why: 'Its openings are not baked' });
  return standings;
}

/** The same without a look at openings. */
function ofClosed(baked: BakedSince | null, rig: Rig): Map<string, CueStanding> {
  const all = (standing: CueStanding) => new Map(rig.cues.map((c) => [c.id, standing]));
  if (!baked) return all({ state: 'not baked', why: 'Nothing is baked yet' });
  const { reasons, trace } = baked.change;
  if (reasons.length === 0) return all({ state: 'baked', why: '' });
  if (!trace.partly) return all({ state: 'out of date', why: reasons[0]! });
  const changed = new Set(trace.circuits.map((c) => c.id));
  return new Map(
    rig.cues.map((cue): [string, CueStanding] => {
      const own = reasons.find((r) => r.startsWith(`${cue.name}: `) || r === `${cue.name} is not baked yet`);
      if (trace.suns.some((s) => s.cues.includes(cue.id))) {
        const isKnown = baked.plan.suns.some((s) => s.cues.includes(cue.id));
        return [cue.id, { state: isKnown ? 'out of date' : 'not baked', why: own ?? 'Its sun is not traced where it stands' }];
      }
      const burns = changed.size > 0 && resolveCue(rig, cue).circuits.some((c) => changed.has(c.id) && c.gain.some((v) => v > 0));
      return [cue.id, burns || trace.partly!.glow ? { state: 'out of date', why: reasons[0]! } : { state: 'baked', why: '' }];
    }),
  );
}
