import type { Material } from '../../level';
import { RAY, newHit, type Tracer } from '../../trace';
import { LUMINANCE_WEIGHTS } from '../../units';
import { hash32 } from '../sampling/sobol';

/** A ray of a batch, in the order that a tracer takes one: origin, direction, and between which distances. */
function rayAt(rays: Float32Array, i: number): [number, number, number, number, number, number, number, number] {
  const [ox, oy, oz, tMin, dx, dy, dz, tMax] = rays.subarray(i * RAY, (i + 1) * RAY) as unknown as number[];
  return [ox!, oy!, oz!, dx!, dy!, dz!, tMin!, tMax!];
}

/** Whether a material lets light through without being a hole. */
export const isPane = ({ blended, transmission }: Material): boolean => blended || transmission > 0;

/** What a pane lets through at a point, as shares of RGB, 0..1, into `through`. */
type Through = (triangle: number, u: number, v: number, through: Float64Array) => void;

/** Light below this share of itself is not followed through a pane. */
const NOTHING = 1 / 1024;

/** Panes that a ray may pass before it is taken for stopped. */
const MOST = 64;

/** Lets rays through panes, and says what of the light came through. */
export interface Panes {
  /** What came through on the way of the last ray, RGB. */
  passed: Float64Array;
  /** Whether the ray that is under way passes a pane. */
  isPassed(triangle: number, u: number, v: number): boolean;
  /** The luminance of what came through of rays that asked whether anything is in the way, since the last call. */
  through(): number;
  /** A tracer that keeps {@link Panes.passed} by itself. */
  over(tracer: Tracer, pointOf: (triangle: number, u: number, v: number, out: Float64Array) => void): Tracer;
}

/**
 * A ray that asks whether anything is in the way goes through every pane, and what is left of its light is the product of what
 * each lets through. One that asks what is met first passes a pane by chance, as often as the strongest of its three shares says, and what it
 * brings is weighed so that the mean is right in every colour.
 */
export function createPanes(through: Through): Panes {
  const passed = new Float64Array(3).fill(1);
  const share = new Float64Array(3);
  const bits = new Float32Array(2);
  const whole = new Uint32Array(bits.buffer);
  // Panes that the ray under way passed, in no order: some may lie behind what it meets.
  const triangles = new Uint32Array(MOST);
  const places = new Float64Array(MOST * 2);
  const weights = new Float64Array(MOST * 3);
  let count = 0;
  let asksFirst = false;

  function isPassed(triangle: number, u: number, v: number): boolean {
    through(triangle, u, v, share);
    const strongest = Math.max(share[0]!, share[1]!, share[2]!);
    if (strongest < NOTHING) return false;
    if (!asksFirst) {
      for (let c = 0; c < 3; c++) passed[c]! *= share[c]!;
      return true;
    }
    if (strongest < 1) {
      bits[0] = u;
      bits[1] = v;
      if (hash32(hash32(whole[0]!, whole[1]!), triangle) >= strongest * 2 ** 32) return false;
    }
    if (count === MOST) return false;
    triangles[count] = triangle;
    places[count * 2] = u;
    places[count * 2 + 1] = v;
    for (let c = 0; c < 3; c++) weights[count * 3 + c] = share[c]! / strongest;
    count++;
    return true;
  }

  return {
    passed,
    isPassed,
    through() {
      const luminance = LUMINANCE_WEIGHTS.reduce((sum, weight, c) => sum + weight * passed[c]!, 0);
      passed.fill(1);
      return luminance;
    },
    over(tracer, pointOf) {
      const point = new Float64Array(3);
      const hit = newHit();

      const over: Tracer = {
        closest(ox, oy, oz, dx, dy, dz, tMin, tMax, met) {
          asksFirst = true;
          count = 0;
          const found = tracer.closest(ox, oy, oz, dx, dy, dz, tMin, tMax, met);
          passed.fill(1);
          for (let k = 0; k < count; k++) {
            pointOf(triangles[k]!, places[k * 2]!, places[k * 2 + 1]!, point);
            const t = ((point[0]! - ox) * dx + (point[1]! - oy) * dy + (point[2]! - oz) * dz) / (dx * dx + dy * dy + dz * dz);
            if (found && t >= met.t) continue;
            for (let c = 0; c < 3; c++) passed[c]! *= weights[k * 3 + c]!;
          }
          return found;
        },
        occluded(ox, oy, oz, dx, dy, dz, tMin, tMax) {
          asksFirst = false;
          passed.fill(1);
          return tracer.occluded(ox, oy, oz, dx, dy, dz, tMin, tMax);
        },
        closestOf(rays, met, found, shares) {
          for (let i = 0; i < met.length; i++) {
            const is = over.closest(...rayAt(rays, i), hit);
            met[i] = is ? hit.triangle : -1;
            if (is) found.set([hit.t, hit.u, hit.back ? -hit.v : hit.v], i * 3);
            shares?.set(passed, i * 3);
          }
        },
        occludedOf(rays, answers) {
          for (let i = 0; i < answers.length; i++) answers[i] = over.occluded(...rayAt(rays, i)) ? 1 : 0;
        },
        toDiscs(discs) {
          const own = tracer.toDiscs(discs);
          return {
            ...own,
            ask(first, points, offset, step) {
              asksFirst = false;
              passed.fill(1);
              return own.ask(first, points, offset, step);
            },
          };
        },
      };
      return over;
    },
  };
}
