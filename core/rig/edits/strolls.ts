import type { Vec3 } from '../../units';
import { STROLL, type Stroll, type StrollPoint } from '../document/strollTypes';
import type { Rig } from '../document/types';
import { strollView } from '../resolve/strolls';
import { freeNumber } from './freeNumber';

type StrollRig = Pick<Rig, 'strolls'>;

/** How far the eye and the direction of a thinned walk may be from those that were walked: metres, and metres at one metre before the eye. */
const OFF = { eyeM: 0.02, aheadM: 0.01 };
/** Points that are spared in a row at the most. */
const SPARED = 60;

const away = (a: Readonly<Vec3>, b: Readonly<Vec3>) => Math.hypot(...a.map((v, c) => v - b[c]!));
const aheadOf = ({ eye, target }: Pick<StrollPoint, 'eye' | 'target'>): Vec3 => {
  const to = target.map((v, c) => v - eye[c]!) as Vec3;
  const length = Math.hypot(...to) || 1;
  return to.map((v) => v / length) as Vec3;
};

/** A walk without the points that lie where one is anyhow between those about them. */
export function thinned(points: readonly StrollPoint[]): StrollPoint[] {
  const kept = points.slice(0, 1);
  let from = 0;
  for (let to = 2; to < points.length; to++) {
    const ends = { points: [points[from]!, points[to]!].map((p) => ({ ...p, atS: p.atS - points[from]!.atS })), pace: 1, fovDeg: 50 };
    const isStraight = points.slice(from + 1, to).every((point) => {
      const view = strollView(ends, point.atS - points[from]!.atS);
      return away(view.eye, point.eye) <= OFF.eyeM && away(aheadOf(view), aheadOf(point)) <= OFF.aheadM;
    });
    if (isStraight && to - from <= SPARED) continue;
    from = to - 1;
    kept.push(points[from]!);
  }
  if (points.length > 1) kept.push(points.at(-1)!);
  return kept;
}

const rounded = (v: Readonly<Vec3>): Vec3 => v.map((x) => Math.round(x * 1000) / 1000) as Vec3;

/**
 * Keeps a walk as a stroll, named by a number; answers its id. Times begin at its first point, and what lies past {@link STROLL}'s bounds is left out.
 *
 * @param points two at least, in the order of their times
 * @param hour of the day that it begins at
 */
export function addStroll(rig: StrollRig, points: readonly StrollPoint[], fovDeg: number, hour: number): string {
  const named = freeNumber('Stroll 1', rig.strolls);
  const begin = points[0]!.atS;
  const own = thinned(points)
    .map(({ atS, eye, target }) => ({ atS: Math.round((atS - begin) * 1000) / 1000, eye: rounded(eye), target: rounded(target) }))
    .filter(({ atS }, i, all) => atS <= STROLL.seconds && (i === 0 || atS > all[i - 1]!.atS))
    .slice(0, STROLL.points);
  rig.strolls.push({ ...named, fovDeg, pace: 1, light: { by: 'day', fromHour: hour, hours: 24 }, points: own });
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
