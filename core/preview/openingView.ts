import type { Scene } from '../bake';
import type { Vantage } from '../rig';
import { newHit } from '../trace';
import { DEG, type Vec3 } from '../units';
import { EYE_M, walkableFloor } from './walkableFloor';

/** Views that are compared, and the directions of each. */
const VIEWS = 140;
const AZIMUTHS = 24;
/** Half the width of a view, directions. */
const HALF_VIEW = 3;
/** What lies farther is as far as this, metres; open sky counts as somewhat nearer. */
const FAR_M = 60;
const SKY_M = 18;
/** A level look that meets nothing leads over the level's edge: that direction is worth no more than this, whatever sky is over it. */
const EDGE_M = 4;
/** Nearer than this, metres, something stands before the eye. */
const NEAR_M = 2.5;
/** How much better a view towards the sun is. */
const SUNWARD = 0.2;
/** Share of looks that meet the inside of something before a place counts as within it. */
const INSIDE = 0.2;

/**
 * Where a person would stand in a level: at eye height on the largest floor that one can walk over, where most is seen, looking rather to the
 * sun's side. Null where there is no such floor.
 *
 * @param sun direction to the sun, where one shines
 */
export function openingView(scene: Pick<Scene, 'surfaces' | 'tracer' | 'doubleSided'>, sun: Readonly<Vec3> | null): Vantage | null {
  const largest = walkableFloor(scene);
  let best: { eye: Vec3; azimuth: number; score: number } | null = null;
  const every = Math.max(1, Math.floor(largest.length / VIEWS));
  for (let i = 0; i < largest.length; i += every) {
    const { at } = largest[i]!;
    const eye: Vec3 = [at[0], at[1] + EYE_M, at[2]];
    const view = lookAbout(scene, eye, sun);
    if (view && (!best || view.score > best.score)) best = { eye, ...view };
  }
  if (!best) return null;
  const { eye, azimuth } = best;
  return { eye, target: [eye[0] + 8 * Math.sin(azimuth), eye[1] - 0.3, eye[2] - 8 * Math.cos(azimuth)], fovDeg: 58 };
}

/** The best direction from a place, and how good it is; null within something. */
function lookAbout({ tracer, doubleSided }: Pick<Scene, 'tracer' | 'doubleSided'>, eye: Vec3, sun: Readonly<Vec3> | null) {
  const hit = newHit();
  let inside = 0;
  const depth = Array.from({ length: AZIMUTHS }, (_, i) => {
    const azimuth = (i / AZIMUTHS) * 2 * Math.PI;
    let overEdge = false;
    return [0, 12 * DEG].reduce((sum, rise) => {
      const level = Math.cos(rise);
      if (overEdge) return sum + Math.log(1 + EDGE_M) / 2;
      if (!tracer.closest(...eye, level * Math.sin(azimuth), Math.sin(rise), -level * Math.cos(azimuth), 0, Infinity, hit)) {
        overEdge = rise === 0;
        return sum + Math.log(1 + (overEdge ? EDGE_M : SKY_M)) / 2;
      }
      if (hit.back && !doubleSided(hit.triangle)) inside++;
      return sum + (hit.t < NEAR_M ? -1 : Math.log(1 + Math.min(FAR_M, hit.t))) / 2;
    }, 0);
  });
  if (inside > INSIDE * AZIMUTHS * 2) return null;
  const mean = depth.reduce((a, b) => a + b) / AZIMUTHS;
  const sunward = sun && Math.hypot(sun[0], sun[2]) > 0.05 ? Math.atan2(sun[0], -sun[2]) : null;
  let best = { azimuth: 0, score: -Infinity };
  for (let i = 0; i < AZIMUTHS; i++) {
    const azimuth = (i / AZIMUTHS) * 2 * Math.PI;
    let view = 0;
    for (let k = -HALF_VIEW; k <= HALF_VIEW; k++) view += depth[(i + k + AZIMUTHS) % AZIMUTHS]! / (2 * HALF_VIEW + 1);
    const turned = sunward === null ? 1 : 1 + SUNWARD * Math.max(0, Math.cos(azimuth - sunward));
    const score = (view + 0.4 * mean) * turned;
    if (score > best.score) best = { azimuth, score };
  }
  return best;
}
