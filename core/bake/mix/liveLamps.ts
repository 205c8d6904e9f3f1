import type { Lamp, Profile } from '../../lamps';
import { NO_CIRCUIT, gainOfLamp, type Lighting } from '../../rig';
import type { Rgb } from '../../units';
import { bakedLamps } from '../plan/staleReasons';
import type { BakePlan } from '../plan/bakePlan';

/** Direct light of a lamp that the mix of the stems leaves out. */
export interface LiveLamp {
  lamp: Lamp;
  profiles: readonly Profile[];
  /** What its light is multiplied by; under nought where it takes away what the stems still hold of a lamp as it was. */
  gain: Rgb;
}

let last: { lamps: readonly Lamp[]; profiles: readonly Profile[]; plan: BakePlan; baked: Set<string> } | null = null;

/** Which lamps are in a bake, worked out once for as long as neither changes: it is asked for with every picture. */
function bakedOnce(lamps: readonly Lamp[], profiles: readonly Profile[], plan: BakePlan): Set<string> {
  if (last?.lamps !== lamps || last.profiles !== profiles || last.plan !== plan)
    last = { lamps, profiles, plan, baked: bakedLamps(lamps, profiles, plan) };
  return last.baked;
}

/**
 * The lamps whose direct light has to be drawn live for a moment, under a bake or without one: those of which no direct light is
 * kept, those that are not baked yet, and those that changed since - once as they are now and once, taken away, as they were.
 * Lamps of circuits that do not burn are left out.
 */
export function liveLamps(
  { lamps, profiles, circuits, mix }: Pick<Lighting, 'lamps' | 'profiles' | 'circuits' | 'mix'>,
  plan: BakePlan | null,
): LiveLamp[] {
  const gains = new Map(circuits.map((c) => [c.id, c]));
  const live: LiveLamp[] = [];
  const add = (lamp: Lamp, shelf: readonly Profile[], sign: 1 | -1) => {
    const circuit = gains.get(lamp.circuitId ?? NO_CIRCUIT);
    const gain = circuit && gainOfLamp(circuit, lamp.id);
    if (gain?.some((v) => v > 0)) live.push({ lamp, profiles: shelf, gain: gain.map((v, c) => v * sign * mix.lamps[c]!) as Rgb });
  };
  const baked = plan ? bakedOnce(lamps, profiles, plan) : new Set<string>();
  for (const lamp of lamps) if (!baked.has(lamp.id)) add(lamp, profiles, 1);
  for (const lamp of plan?.lamps ?? []) if (lamp.kept === 'all' && !baked.has(lamp.id)) add(lamp, plan!.profiles, -1);
  return live;
}
