import { directionFromAngles, type Vec3 } from '../units';
import type { SurfaceCast } from './lampFaults';

/** Directions that a way out is looked for in, evenly over the sphere, and most steps that are taken. */
const LOOKED = 96;
const STEPS = 12;

const AROUND: readonly Vec3[] = Array.from({ length: LOOKED }, (_, i) =>
  directionFromAngles((i * 137.50776) % 360, (Math.asin(1 - (2 * (i + 0.5)) / LOOKED) * 180) / Math.PI),
);

const along = (at: Vec3, direction: Vec3, by: number): Vec3 => at.map((v, c) => v + direction[c]! * by) as Vec3;

/**
 * The nearest place for a lamp that is inside of something or too near to a surface: outside, and so far from every surface that is looked at.
 * Null where none is found, as between two surfaces that are nearer to each other than twice as far.
 */
export function wayOut(at: Vec3, offM: number, cast: SurfaceCast): Vec3 | null {
  let place = at;
  for (let step = 0; step < STEPS; step++) {
    const met = AROUND.flatMap((direction) => {
      const hit = cast(place, direction);
      return hit ? [{ ...hit, direction }] : [];
    });
    const backs = met.filter((h) => h.back);
    const [nearest] = [...met].sort((a, b) => a.distanceM - b.distanceM);
    if (backs.length > met.length / 2) {
      const [exit] = backs.sort((a, b) => a.distanceM - b.distanceM);
      place = along(place, exit!.direction, exit!.distanceM + offM);
    } else if (nearest && nearest.distanceM < offM * 0.999) {
      // Away from all that is too near, the nearest most.
      const push: Vec3 = [0, 0, 0];
      for (const { direction, distanceM } of met) if (distanceM < offM) direction.forEach((v, c) => (push[c]! -= v * (offM - distanceM)));
      const length = Math.hypot(...push);
      if (length < 1e-9) return null;
      place = along(place, push.map((v) => v / length) as Vec3, offM - nearest.distanceM);
    } else return place;
  }
  return null;
}
