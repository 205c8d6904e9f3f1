import type { Vec3 } from '../../units';
import { STROLL, type Stroll, type StrollPlace } from '../document/strollTypes';
import type { Rig } from '../document/types';
import { strollView } from '../resolve/strolls';
import { freeNumber } from './freeNumber';

type StrollRig = Pick<Rig, 'strolls'>;

/** How far the eye and the direction of a thinned walk may be from those that were walked: metres, and metres at one metre before the eye. */
const OFF = { eyeM: 0.02, aheadM: 0.01 };
/** Places that are spared in a row at the most. */
const SPARED = 60;

const away = (a: Readonly<Vec3>, b: Readonly<Vec3>) => Math.hypot(...a.map((v, c) => v - b[c]!));
const aheadOf = ({ eye, target }: Pick<StrollPlace, 'eye' | 'target'>): Vec3 => {
  const to = target.map((v, c) => v - eye[c]!) as Vec3;
  const length = Math.hypot(...to) || 1;
  return to.map((v) => v / length) as Vec3;
};

/** A walk without the places that lie where one is anyhow between those about them. */
export function thinned(places: readonly StrollPlace[]): StrollPlace[] {
  const kept = places.slice(0, 1);
  let from = 0;
  for (let to = 2; to < places.length; to++) {
    const ends = { places: [places[from]!, places[to]!].map((p) => ({ ...p, atS: p.atS - places[from]!.atS })), pace: 1, fovDeg: 50 };
    const isStraight = places.slice(from + 1, to).every((place) => {
      const view = strollView(ends, place.atS - places[from]!.atS);
      return away(view.eye, place.eye) <= OFF.eyeM && away(aheadOf(view), aheadOf(place)) <= OFF.aheadM;
    });
    if (isStraight && to - from <= SPARED) continue;
    from = to - 1;
    kept.push(places[from]!);
  }
  if (places.length > 1) kept.push(places.at(-1)!);
  return kept;
}

const rounded = (v: Readonly<Vec3>): Vec3 => v.map((x) => Math.round(x * 1000) / 1000) as Vec3;

/**
 * Keeps a walk as a stroll, named by a number; answers its id. Times begin at its first place, and what lies past {@link STROLL}'s bounds is left out.
 *
 * @param places two at least, in the order of their times
 * @param hour of the day that it begins at
 */
export function addStroll(rig: StrollRig, places: readonly StrollPlace[], fovDeg: number, hour: number): string {
  const named = freeNumber('Stroll 1', rig.strolls);
  const begin = places[0]!.atS;
  const own = thinned(places)
    .map(({ atS, eye, target }) => ({ atS: Math.round((atS - begin) * 1000) / 1000, eye: rounded(eye), target: rounded(target) }))
    .filter(({ atS }, i, all) => atS <= STROLL.seconds && (i === 0 || atS > all[i - 1]!.atS))
    .slice(0, STROLL.places);
  rig.strolls.push({ ...named, fovDeg, pace: 1, light: { by: 'day', fromHour: hour, hours: 24 }, places: own });
  return named.id;
}

/** Changes a stroll. Throws a RangeError where it is not there. */
export function changeStroll(rig: StrollRig, id: string, change: Partial<Omit<Stroll, 'id'>>): void {
  const stroll = rig.strolls.find((s) => s.id === id);
  if (!stroll) throw new RangeError(`The rig has no stroll "${id}".`);
  Object.assign(stroll, change);
}

export function removeStroll(rig: StrollRig, id: string): void {
  rig.strolls = rig.strolls.filter((s) => s.id !== id);
}
