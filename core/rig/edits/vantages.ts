import type { Cue, NamedVantage, Rig, Vantage } from '../document/types';
import { freeNumber } from './freeNumber';

/** Where a cue's picture is taken from: the vantage it names, or the rig's first; null where there is none. */
export function vantageOfCue({ vantages }: Pick<Rig, 'vantages'>, { vantageId }: Pick<Cue, 'vantageId'>): NamedVantage | null {
  return vantages.find((v) => v.id === vantageId) ?? vantages[0] ?? null;
}

/** Saves a view as a vantage of its own, named by a number; answers its id. */
export function addVantage(rig: Pick<Rig, 'vantages'>, view: Vantage): string {
  const named = freeNumber('Vantage 1', rig.vantages);
  rig.vantages.push({ ...named, ...view });
  return named.id;
}

/** Sets a vantage to another view. Throws a RangeError where it is not there. */
export function moveVantage(rig: Pick<Rig, 'vantages'>, id: string, { eye, target, fovDeg }: Vantage): void {
  const vantage = rig.vantages.find((v) => v.id === id);
  if (!vantage) throw new RangeError(`The rig has no vantage "${id}".`);
  Object.assign(vantage, { eye, target, fovDeg });
}

/** Takes a vantage away; cues that named it name none. */
export function removeVantage(rig: Pick<Rig, 'vantages' | 'cues'>, id: string): void {
  rig.vantages = rig.vantages.filter((v) => v.id !== id);
  for (const cue of rig.cues) if (cue.vantageId === id) cue.vantageId = null;
}
