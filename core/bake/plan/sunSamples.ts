import { Delaunay } from 'd3-delaunay';
import { bodiesAt, cueSuns, type Rig } from '../../rig';
import { DEG, angleBetween, anglesFromDirection, directionFromAngles, type Vec3 } from '../../units';
import type { BakedSun } from './bakePlan';

/** Apart along the course of a sun and of a moon, degrees; measured, see the page on the bake. */
const APART_DEG = { sun: 6, moon: 15 } as const;
/**
 * A low sun clears hills and walls within a degree or two, and all light with it: at the horizon its samples stand this share of the
 * distance apart, from an elevation on the whole of it, evenly in between, and never closer than the least. A low moon gives too little
 * light for that.
 */
const LOW = { share: 0.1, fromDeg: 45, leastDeg: 1.2 } as const;

function apartAt(kind: 'sun' | 'moon', elevationDeg: number): number {
  if (kind === 'moon') return APART_DEG.moon;
  const apart = APART_DEG.sun * Math.min(1, LOW.share + ((1 - LOW.share) * elevationDeg) / LOW.fromDeg);
  return Math.max(LOW.leastDeg, apart);
}

/** Samples spread over the whole dome, for suns that a cue puts anywhere: how many, and how far from any other at least. */
const DOME = { count: 14, around: 8, apartDeg: 24 } as const;
/** Two suns no farther apart than this, degrees, and of discs no more different, are one. */
export const SAME_SUN_DEG = 0.02;

/**
 * Suns of cues that the sky gets functions about: those that stand no higher, and no nearer in azimuth to another such. How high they stand
 * makes hardly any difference to what the functions fit; measured, see the page on the bake.
 */
const AUREOLE = { highestDeg: 45, apartDeg: 4 } as const;

const SAMPLE_DISC_DEG = 0.533;
const directionOf = (sun: Pick<BakedSun, 'azimuthDeg' | 'elevationDeg'>): Vec3 => directionFromAngles(sun.azimuthDeg, sun.elevationDeg);

/**
 * The directions that a rig's suns and moons are traced from: where each cue has its main light, along the courses of all bodies of the
 * day, and thinly over the rest of the dome.
 */
export function sunsToBake(rig: Rig): BakedSun[] {
  const suns: BakedSun[] = [];
  const standing: Vec3[] = [];
  for (const cue of rig.cues) {
    if (cue.kind === 'bench') continue;
    const [main] = cueSuns(rig, cue);
    if (!main) continue;
    const same = suns.find(
      (s, i) => angleBetween(standing[i]!, main.direction) <= SAME_SUN_DEG && Math.abs(s.discDeg - main.discDeg) <= SAME_SUN_DEG,
    );
    if (same) same.cues.push(cue.id);
    else {
      const { azimuthDeg } = anglesFromDirection(main.direction);
      suns.push({ azimuthDeg, elevationDeg: main.elevationDeg, discDeg: main.discDeg, cues: [cue.id] });
      standing.push(main.direction);
    }
  }
  const low: BakedSun[] = [];
  for (const sun of suns) {
    if (sun.elevationDeg > AUREOLE.highestDeg || low.some((l) => azimuthBetween(l, sun) < AUREOLE.apartDeg)) continue;
    sun.aureole = true;
    low.push(sun);
  }
  const addSample = (direction: Vec3, apartDeg: number) => {
    const near = Math.cos(apartDeg * DEG);
    if (standing.some(([x, y, z]) => x * direction[0] + y * direction[1] + z * direction[2] > near)) return;
    const { azimuthDeg, elevationDeg } = anglesFromDirection(direction);
    suns.push({ azimuthDeg, elevationDeg, discDeg: SAMPLE_DISC_DEG, cues: [] });
    standing.push(direction);
  };
  for (const { kind, directions } of coursesOf(rig)) {
    for (const d of directions) addSample(d, apartAt(kind, Math.asin(Math.min(1, d[1])) / DEG));
  }
  for (let i = 0; i < DOME.around; i++) addSample(directionFromAngles((360 * i) / DOME.around, 0), DOME.apartDeg);
  for (let i = 0; i < DOME.count; i++) {
    const up = 1 - (i + 0.5) / DOME.count;
    const level = Math.sqrt(1 - up * up);
    const phi = i * 2.399963229728653;
    addSample([level * Math.cos(phi), up, level * Math.sin(phi)], DOME.apartDeg);
  }
  return suns;
}

const azimuthBetween = (a: BakedSun, b: BakedSun): number => Math.abs(((a.azimuthDeg - b.azimuthDeg + 540) % 360) - 180);

interface Course {
  kind: 'sun' | 'moon';
  directions: Vec3[];
}

/** The last few days asked for, the latest last. */
const known = new Map<string, Course[]>();
const MOST_KNOWN = 8;

/** The courses of a rig's day, worked out once for as long as the day is the same: stale or fresh is asked at every change. */
function coursesOf(rig: Rig): Course[] {
  const key = JSON.stringify([rig.place, rig.day.course, rig.day.drawn, rig.day.moonAgeDays, rig.day.others]);
  const courses = known.get(key) ?? followBodies(rig);
  known.delete(key);
  known.set(key, courses);
  if (known.size > MOST_KNOWN) known.delete(known.keys().next().value!);
  return courses;
}

/** Where the bodies of the day pass over the horizon: places close together, and each of the hours they rise and set. */
function followBodies(rig: Rig): Course[] {
  const steps = 24 * 20;
  const courses = bodiesAt(rig, 0).map(({ kind }): Course => ({ kind, directions: [] }));
  for (let i = 0; i <= steps; i++) {
    bodiesAt(rig, (24 * i) / steps).forEach(({ azimuthDeg, elevationDeg }, b) => {
      if (elevationDeg > 0) courses[b]!.directions.push(directionFromAngles(azimuthDeg + rig.place.northDeg, elevationDeg));
    });
  }
  return courses;
}

/** The plane that the dome is projected on from the nadir: circles become circles, so its Delaunay triangles are the sphere's. */
const project = ([x, y, z]: Readonly<Vec3>): [number, number] => [x / (1 + Math.max(0, y)), z / (1 + Math.max(0, y))];

interface Mesh {
  points: [number, number][];
  delaunay: Delaunay<[number, number]>;
}

const meshes = new WeakMap<readonly BakedSun[], Mesh>();

function meshOf(suns: readonly BakedSun[]): Mesh {
  let mesh = meshes.get(suns);
  if (!mesh) {
    const points = suns.map((s) => project(directionOf(s)));
    meshes.set(suns, (mesh = { points, delaunay: Delaunay.from(points) }));
  }
  return mesh;
}

/** A traced direction, by its place in the plan, and what it counts for. */
export type SunShare = [index: number, share: number];

/**
 * What bounced light of a sun anywhere over the horizon is blended from: the three traced directions around it, each by its barycentric
 * weight, so that a sun at one of them has just its own. Beyond the outermost ones, those of the nearest edge. Shares sum to 1; empty
 * where nothing was traced.
 */
export function sunShares(suns: readonly BakedSun[], direction: Readonly<Vec3>): SunShare[] {
  if (suns.length === 0) return [];
  const { points, delaunay } = meshOf(suns);
  const p = project(direction);
  // One or two directions, or all in a line, make no triangle.
  const triangles = points.length < 3 ? [] : delaunay.triangles;
  let nearest: { shares: SunShare[]; lowest: number } | null = null;
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!] as const;
    const weights = barycentric(p, points[corners[0]]!, points[corners[1]]!, points[corners[2]]!);
    if (!weights) continue;
    const lowest = Math.min(...weights);
    if (!nearest || lowest > nearest.lowest) nearest = { shares: corners.map((c, k) => [c, weights[k]!]), lowest };
    if (lowest >= -1e-12) break;
  }
  if (!nearest || nearest.lowest < -1e-12) return onEdge(delaunay, points, p);
  return nearest.shares.filter(([, share]) => share > 1e-9);
}

function barycentric(
  p: readonly number[],
  a: readonly number[],
  b: readonly number[],
  c: readonly number[],
): [number, number, number] | null {
  const area = (b[0]! - a[0]!) * (c[1]! - a[1]!) - (b[1]! - a[1]!) * (c[0]! - a[0]!);
  if (area === 0) return null;
  const u = ((p[0]! - a[0]!) * (c[1]! - a[1]!) - (p[1]! - a[1]!) * (c[0]! - a[0]!)) / area;
  const v = ((b[0]! - a[0]!) * (p[1]! - a[1]!) - (b[1]! - a[1]!) * (p[0]! - a[0]!)) / area;
  return [1 - u - v, u, v];
}

/** The place of the outline nearest to a point outside, as shares of the ends of its edge. */
function onEdge({ hull }: Delaunay<[number, number]>, points: readonly [number, number][], p: readonly number[]): SunShare[] {
  let best: { shares: SunShare[]; far: number } = { shares: [[0, 1]], far: Infinity };
  const outline = points.length < 3 ? points.map((_, i) => i) : Array.from(hull);
  outline.forEach((from, k) => {
    const to = outline[(k + 1) % outline.length]!;
    const [a, b] = [points[from]!, points[to]!];
    const length = (b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2;
    const t = length > 0 ? Math.min(1, Math.max(0, ((p[0]! - a[0]) * (b[0] - a[0]) + (p[1]! - a[1]) * (b[1] - a[1])) / length)) : 0;
    const far = Math.hypot(a[0] + (b[0] - a[0]) * t - p[0]!, a[1] + (b[1] - a[1]) * t - p[1]!);
    if (far >= best.far) return;
    const shares: SunShare[] = [
      [from, 1 - t],
      [to, t],
    ];
    best = { far, shares: shares.filter(([, share]) => share > 0) };
  });
  return best.shares;
}
