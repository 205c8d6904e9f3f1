import { newHit } from '../../trace';
import { sunDirection, type BakePlan } from '../plan/bakePlan';
import { inTriangle, mappedParts, objectParts, triangleAt } from '../sampling/objectPoints';
import { cosineDirection, hash32, samplePair } from '../sampling/sobol';
import { luma } from './paths';
import { startOffset, type Scene } from './scene';
import { SurfacePoint, keepOutside } from './surfacePoint';

/** Points of an object that paths are followed from: at most, of all objects together, and at least. */
const POINTS = { most: 128, ofAll: 150_000, least: 16 } as const;
/** Paths from each point, and how often they bounce. */
const PATHS = 16;
const BOUNCES = 3;
/** Points of an opening that straight light is followed through, and the lamps nearest to each of them whose light it is. */
const THROUGH = 512;
const LAMPS = 16;
/** Share of what its paths bring an object through openings that has it traced anew. */
const AFFECTED = 0.01;
/** The same of one point: where a part of a large object lies behind an opening, some points of it tell. */
const POINT_AFFECTED = 0.2;
const POINT_HITS = 2;
const FEW = 2;
/** Surfaces of openings that a ray goes on behind. */
const MOST_PASSED = 16;

/**
 * Which objects get another light where some objects are gone: those that light of a sun or a lamp comes to through them alone, or of whose paths to
 * the sky a hundredth goes through them, directly or by up to three bounces. It is found by some paths from some points of each object, and errs
 * towards more objects: what lies behind an opening is not asked for.
 *
 * @param scene with the openings in it
 * @param names of the openings
 * @returns names of the objects, without the openings themselves
 */
export function litThrough(scene: Scene, plan: Pick<BakePlan, 'suns' | 'lamps'>, names: readonly string[]): string[] {
  const { objects } = scene.surfaces;
  const isOpening = Uint8Array.from(objects, (name) => (names.includes(name) ? 1 : 0));
  if (!isOpening.includes(1)) return [];
  const straight = litStraight(scene, plan, isOpening);
  const bounced = litByPaths(scene, isOpening);
  return objects.filter((_, object) => isOpening[object] === 0 && (straight.has(object) || bounced(object)));
}

/** Numbers of the objects that light of a sun or of a near lamp comes to through openings, with nothing else in its way. */
function litStraight(scene: Scene, { suns, lamps }: Pick<BakePlan, 'suns' | 'lamps'>, isOpening: Uint8Array): Set<number> {
  const { surfaces, tracer } = scene;
  const { objectOf } = surfaces;
  const found = new Set<number>();
  const [hit, at, from, towards] = [newHit(), new Float64Array(3), new Float64Array(3), new Float64Array(3)];

  /** The first triangle on a ray from `at` that is no opening's; -1 where there is none. */
  function firstOther(d: Float64Array, sign: 1 | -1, length: number): number {
    const offset = startOffset(at[0]!, at[1]!, at[2]!);
    let left = length;
    for (let c = 0; c < 3; c++) from[c] = at[c]! + sign * d[c]! * offset;
    for (let passed = 0; passed < MOST_PASSED && left > 0; passed++) {
      if (!tracer.closest(from[0]!, from[1]!, from[2]!, sign * d[0]!, sign * d[1]!, sign * d[2]!, 0, left, hit)) return -1;
      if (isOpening[objectOf[hit.triangle]!] === 0) return hit.triangle;
      const step = hit.t + offset;
      left -= step;
      for (let c = 0; c < 3; c++) from[c]! += sign * d[c]! * step;
    }
    return -1;
  }

  /** Notes what light that comes to `at` from a direction, unless something stands in its way, falls on behind the openings there. */
  function note(d: Float64Array, length: number): void {
    if (firstOther(d, 1, length) >= 0) return;
    const lit = firstOther(d, -1, Infinity);
    if (lit >= 0 && (!hit.back || scene.doubleSided(lit))) found.add(objectOf[lit]!);
  }

  const directions = suns.flatMap((sun) => {
    const d = sunDirection(sun);
    return d ? [Float64Array.from(d)] : [];
  });
  for (const [object, part] of objectParts(surfaces, (t) => isOpening[objectOf[t]!] === 1).entries()) {
    if (part.areaM2 === 0) continue;
    for (let i = 0; i < THROUGH; i++) {
      scene.point(triangleAt(part, (i + 0.5) / THROUGH), ...inTriangle(hash32(object, i), 0), at);
      for (const d of directions) note(d, Infinity);
      const near = lamps
        .map((lamp) => ({ lamp, distance: Math.hypot(lamp.at[0] - at[0]!, lamp.at[1] - at[1]!, lamp.at[2] - at[2]!) }))
        .sort((a, b) => a.distance - b.distance)
        .slice(0, LAMPS);
      for (const { lamp, distance } of near) {
        if (!(distance > 1e-3)) continue;
        for (let c = 0; c < 3; c++) towards[c] = (lamp.at[c]! - at[c]!) / distance;
        note(towards, distance);
      }
    }
  }
  return found;
}

/** Tells of an object, by its number, whether enough of its paths to the sky goes through openings. */
function litByPaths(scene: Scene, isOpening: Uint8Array): (object: number) => boolean {
  const { surfaces } = scene;
  const parts = mappedParts(surfaces);
  const count = Math.max(POINTS.least, Math.min(POINTS.most, Math.floor(POINTS.ofAll / parts.length)));
  const here = new SurfacePoint(scene);
  const [hit, direction, pair, rgb] = [newHit(), new Float64Array(3), new Float64Array(2), new Float64Array(3)];

  /** Follows a path from where `here` stands: what of it reaches the sky, or meets an opening. */
  function follow(sample: number, seed: number): { sky: number; through: number } {
    let carried = 1;
    for (let bounce = 0; bounce <= BOUNCES; bounce++) {
      samplePair(sample, bounce, seed, pair);
      cosineDirection(here.normal[0]!, here.normal[1]!, here.normal[2]!, pair[0]!, pair[1]!, direction);
      keepOutside(direction, here.face);
      if (!here.meets(direction, hit)) return { sky: carried, through: 0 };
      const { triangle, u, v, back } = hit;
      if (isOpening[surfaces.objectOf[triangle]!] === 1) return { sky: 0, through: carried };
      if (back && !scene.doubleSided(triangle)) break;
      scene.albedo(triangle, u, v, rgb);
      carried *= luma(rgb[0]!, rgb[1]!, rgb[2]!);
      here.stand(triangle, u, v, back);
    }
    return { sky: 0, through: 0 };
  }

  return (object) => {
    const own = parts[object]!;
    if (own.areaM2 === 0) return false;
    let [sky, through, behind] = [0, 0, 0];
    for (let i = 0; i < count; i++) {
      const seed = hash32(object, i);
      const triangle = triangleAt(own, (i + 0.5) / count);
      const at = inTriangle(seed, 0);
      const ofPoint = { sky: 0, through: 0, hits: 0 };
      for (const back of scene.doubleSided(triangle) ? [false, true] : [false]) {
        for (let k = 0; k < PATHS; k++) {
          here.stand(triangle, ...at, back);
          const path = follow(k, seed);
          ofPoint.sky += path.sky;
          ofPoint.through += path.through;
          if (path.through > 0) ofPoint.hits++;
        }
      }
      sky += ofPoint.sky;
      through += ofPoint.through;
      if (ofPoint.hits >= POINT_HITS && ofPoint.through > POINT_AFFECTED * (ofPoint.sky + ofPoint.through)) behind++;
    }
    return behind >= FEW || (through > 0 && through > AFFECTED * (sky + through));
  };
}
