import {
  cosineDirection,
  hash32,
  inTriangle,
  mappedParts,
  samplePair,
  startOffset,
  triangleAt,
  type ObjectPart,
  type Scene,
} from '../bake';
import { EYE_M, walkableFloor } from '../preview';
import { newHit } from '../trace';
import type { GroundBox, Vec3 } from '../units';

/** What of texels an object needs, as it is seen and as light changes over it. */
export interface ObjectNeed {
  name: string;
  /** Its surface with a lightmap, and the texels that it has as the level is laid out. */
  areaM2: number;
  texels: number;
  /** Its factor on the level's density. */
  factor: number;
  /** Mean over its surface of 1 / distance squared from the nearest place that sees it, 1/m2; 0 where nobody sees it. */
  seen: number;
  /** Share of its surface where the light of a cue's sun, or what stands close by, is another within a texel: 0..1. */
  detail: number;
}

/** What objects of a level need, seen from where people walk. */
export interface LevelNeeds {
  /** Where walkable floor was looked for; null for the whole level. */
  box: GroundBox | null;
  /** Places that were looked from; 0 where there is no floor to walk on. */
  eyes: number;
  objects: ObjectNeed[];
}

/** Places that are looked from, at most. */
const MOST_EYES = 256;
/** Nearest of them that a point is looked for from, and others farther off. */
const NEAREST = 16;
const FARTHER = 16;
/** Nearer than this is as this, metres: nobody looks at a wall from a hand's breadth. */
const NEAR_M = 1.5;
/** Points of an object: one to so many square metres, how many at least and at most, and fewer at least where there are many objects. */
const POINT_M2 = 2;
const POINTS = { least: 16, most: 48, ofAll: 30_000, fewest: 4 } as const;
/** Rays about a point, and how far these look for what stands close by, metres. */
const CLOSE_RAYS = 6;
const CLOSE_M = 1;

/**
 * Finds what of texels each object needs, by some points of each: how near people come to it, whether they see it, and whether light changes
 * there within a texel of the level's density. It needs no bake.
 *
 * @param suns directions to the suns whose shadows matter
 * @param box where people walk; null for all walkable floor
 * @param factorOf the factor on the density that an object has
 */
export function objectNeeds(
  scene: Scene,
  texelsPerM: number,
  suns: readonly Readonly<Vec3>[],
  box: GroundBox | null,
  factorOf: (object: { name: string; groups: readonly string[] }) => number,
): LevelNeeds {
  const floor = walkableFloor(scene, box);
  const step = Math.max(1, Math.ceil(floor.length / MOST_EYES));
  const eyes = floor.filter((_, i) => i % step === 0).map(({ at: [x, y, z] }): Vec3 => [x, y + EYE_M, z]);
  const { objects, groups } = scene.surfaces;
  const parts = mappedParts(scene.surfaces);
  const least = Math.max(POINTS.fewest, Math.min(POINTS.least, Math.floor(POINTS.ofAll / Math.max(1, objects.length))));
  return {
    box,
    eyes: eyes.length,
    objects: objects.flatMap((name, index): ObjectNeed[] => {
      const own = parts[index]!;
      if (own.areaM2 === 0 || own.texels === 0) return [];
      const count = Math.round(Math.min(POINTS.most, Math.max(least, own.areaM2 / POINT_M2)));
      let [seen, detail] = [0, 0];
      for (let i = 0; i < count; i++) {
        const { here, beside } = pointsOn(scene, own, (i + 0.5) / count, hash32(index, i), 1 / texelsPerM);
        seen += nearness(scene, eyes, here) / count;
        detail += change(scene, suns, here, beside) / count;
      }
      const factor = factorOf({ name, groups: groups[index]! });
      return [{ name, areaM2: own.areaM2, texels: Math.round(own.texels), factor, seen, detail }];
    }),
  };
}

/** A place on a surface, just off it, and its unit normal there. */
interface Place {
  at: Vec3;
  normal: Vec3;
  doubleSided: boolean;
  seed: number;
}

/**
 * A place on an object, and another on the same triangle, no farther away than a texel.
 *
 * @param share of the object's area that lies before the triangle
 */
function pointsOn(scene: Scene, own: ObjectPart, share: number, seed: number, texelM: number): { here: Place; beside: Place } {
  const triangle = triangleAt(own, share);
  const [normal, a, b] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  scene.faceNormal(triangle, normal);
  scene.point(triangle, ...inTriangle(seed, 0), a);
  scene.point(triangle, ...inTriangle(seed, 1), b);
  const away = Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!, b[2]! - a[2]!);
  const part = away > texelM ? texelM / away : 1;
  const place = (along: number): Place => {
    const on = [0, 1, 2].map((k) => a[k]! + along * (b[k]! - a[k]!)) as Vec3;
    const off = startOffset(...on);
    return {
      at: on.map((v, k) => v + off * normal[k]!) as Vec3,
      normal: [normal[0]!, normal[1]!, normal[2]!],
      doubleSided: scene.doubleSided(triangle),
      seed,
    };
  };
  return { here: place(0), beside: place(part) };
}

/** 1 / distance squared to the nearest place that sees another, 1/m2; 0 where none does. */
function nearness({ tracer }: Scene, eyes: readonly Vec3[], { at, normal, doubleSided }: Place): number {
  const before = eyes
    .map((eye) => {
      const d = [eye[0] - at[0], eye[1] - at[1], eye[2] - at[2]] as const;
      return { d, facing: d[0] * normal[0] + d[1] * normal[1] + d[2] * normal[2], away: Math.hypot(...d) };
    })
    .filter(({ facing }) => doubleSided || facing > 0)
    .sort((a, b) => a.away - b.away);
  const apart = Math.max(1, Math.floor((before.length - NEAREST) / FARTHER));
  for (let i = 0; i < before.length; i += i < NEAREST ? 1 : apart) {
    const { d, away } = before[i]!;
    if (!tracer.occluded(...at, d[0] / away, d[1] / away, d[2] / away, 0, away)) return 1 / Math.max(NEAR_M, away) ** 2;
  }
  return 0;
}

/** How much light changes from a place to one beside it: 1 where a sun shines on one alone, and by what stands close by. */
function change({ tracer }: Scene, suns: readonly Readonly<Vec3>[], here: Place, beside: Place): number {
  const isLit = ({ at }: Place, sun: Readonly<Vec3>) => !tracer.occluded(...at, ...sun, 0, Infinity);
  const faces = ({ normal }: Place, sun: Readonly<Vec3>) => normal[0] * sun[0] + normal[1] * sun[1] + normal[2] * sun[2] > 0;
  if (suns.some((sun) => faces(here, sun) && isLit(here, sun) !== isLit(beside, sun))) return 1;
  return Math.abs(closeBy(tracer, here) - closeBy(tracer, beside));
}

/** Share of the hemisphere over a place that something takes within {@link CLOSE_M}. */
function closeBy(tracer: Scene['tracer'], { at, normal, seed }: Place): number {
  const [pair, direction, hit] = [new Float64Array(2), new Float64Array(3), newHit()];
  let met = 0;
  for (let k = 0; k < CLOSE_RAYS; k++) {
    samplePair(k, 2, seed, pair);
    cosineDirection(...normal, pair[0]!, pair[1]!, direction);
    if (tracer.closest(...at, direction[0]!, direction[1]!, direction[2]!, 0, CLOSE_M, hit)) met++;
  }
  return met / CLOSE_RAYS;
}
