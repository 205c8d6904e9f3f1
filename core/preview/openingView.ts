import type { Scene } from '../bake';
import type { Vantage } from '../rig';
import { newHit, type Tracer } from '../trace';
import { DEG, type Vec3 } from '../units';

/** Columns along each side of the grid that floors are looked for on. */
const COLUMNS = 32;
/** Height of the eye over the floor, and the room that a person needs, metres. */
const EYE_M = 1.65;
const HEADROOM_M = 1.9;
/** What is steeper than this is no floor: the cosine to upright. */
const FLOOR_COSINE = 0.75;
/** Floors on one column that are looked through at the most. */
const MOST_HITS = 40;
/** The step that a person takes up or down, metres. */
const STEP_M = 0.5;
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

interface Floor {
  at: Vec3;
  column: number;
}

/**
 * Where a person would stand in a level: at eye height on the largest floor that one can walk over, where most is seen, looking rather to the
 * sun's side. Null where there is no such floor.
 *
 * @param sun direction to the sun, where one shines
 */
export function openingView(scene: Pick<Scene, 'surfaces' | 'tracer' | 'doubleSided'>, sun: Readonly<Vec3> | null): Vantage | null {
  const floors = findFloors(scene);
  const largest = walkable(floors, scene.tracer);
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

/** Where most of a level's objects stand: their middles without the outermost, with some room about them. */
function middleOfLevel({ positions, indices, objectOf, objects }: Scene['surfaces']): { min: Vec3; max: Vec3; top: number } {
  const [low, high] = [new Float64Array(objects.length * 3).fill(Infinity), new Float64Array(objects.length * 3).fill(-Infinity)];
  let top = -Infinity;
  for (let k = 0; k < indices.length; k++) {
    const object = objectOf[Math.floor(k / 3)]!;
    for (let c = 0; c < 3; c++) {
      const v = positions[indices[k]! * 3 + c]!;
      low[object * 3 + c] = Math.min(low[object * 3 + c]!, v);
      high[object * 3 + c] = Math.max(high[object * 3 + c]!, v);
      if (c === 1) top = Math.max(top, v);
    }
  }
  const range = (axis: number): [number, number] => {
    const ends = objects.map((_, i) => [low[i * 3 + axis]!, high[i * 3 + axis]!] as const).filter(([a]) => Number.isFinite(a));
    const middles = ends.map(([a, b]) => (a + b) / 2).sort((a, b) => a - b);
    // A level of few objects is looked through whole.
    if (middles.length < 12) return [Math.min(...ends.map(([a]) => a)), Math.max(...ends.map(([, b]) => b))];
    const [a, b] = [middles[Math.floor(middles.length * 0.05)]!, middles[Math.ceil(middles.length * 0.95) - 1]!];
    const room = Math.max(4, (b - a) * 0.1);
    return [a - room, b + room];
  };
  const [x, z] = [range(0), range(2)];
  return { min: [x[0], 0, z[0]], max: [x[1], 0, z[1]], top };
}

/** Places on floors with room for a person over them, on a grid seen from above. */
function findFloors({ surfaces, tracer }: Pick<Scene, 'surfaces' | 'tracer'>): Floor[] {
  const { min, max, top } = middleOfLevel(surfaces);
  const hit = newHit();
  const floors: Floor[] = [];
  const { positions: p, indices } = surfaces;
  const risesAt = (t: number) => {
    const [a, b, c] = [indices[t * 3]! * 3, indices[t * 3 + 1]! * 3, indices[t * 3 + 2]! * 3];
    const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx] as const;
    return Math.abs(n[1]) / (Math.hypot(...n) || 1);
  };
  for (let column = 0; column < COLUMNS * COLUMNS; column++) {
    const x = min[0] + (((column % COLUMNS) + 0.5) / COLUMNS) * (max[0] - min[0]);
    const z = min[2] + ((Math.floor(column / COLUMNS) + 0.5) / COLUMNS) * (max[2] - min[2]);
    let [from, over] = [top + 1, Infinity];
    for (let k = 0; k < MOST_HITS && tracer.closest(x, from, z, 0, -1, 0, 0, Infinity, hit); k++) {
      const y = from - hit.t;
      if (!hit.back && over - y >= HEADROOM_M && risesAt(hit.triangle) >= FLOOR_COSINE) floors.push({ at: [x, y, z], column });
      over = y;
      from = y - Math.max(1e-3, Math.abs(y) * 1e-5);
    }
  }
  return floors;
}

/** Of floors those that hang together most: from column to column by steps, with nothing between. */
function walkable(floors: readonly Floor[], tracer: Tracer): Floor[] {
  const byColumn = new Map<number, number[]>();
  floors.forEach(({ column }, i) => byColumn.set(column, [...(byColumn.get(column) ?? []), i]));
  const group = floors.map((_, i) => i);
  const root = (i: number): number => (group[i] === i ? i : (group[i] = root(group[i]!)));
  const isOpen = (a: Vec3, b: Vec3) => {
    const d = [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as const;
    const length = Math.hypot(...d) || 1;
    return !tracer.occluded(a[0], a[1] + 1, a[2], d[0] / length, d[1] / length, d[2] / length, 0, length);
  };
  floors.forEach(({ at, column }, i) => {
    const beside = [(column + 1) % COLUMNS === 0 ? -1 : column + 1, column + COLUMNS];
    for (const j of beside.flatMap((c) => byColumn.get(c) ?? [])) {
      const other = floors[j]!.at;
      const away = Math.hypot(other[0] - at[0], other[2] - at[2]);
      if (Math.abs(other[1] - at[1]) <= STEP_M + 0.4 * away && root(i) !== root(j) && isOpen(at, other)) group[root(i)] = root(j);
    }
  });
  const members = new Map<number, Floor[]>();
  floors.forEach((floor, i) => members.set(root(i), [...(members.get(root(i)) ?? []), floor]));
  return [...members.values()].sort((a, b) => b.length - a.length)[0] ?? [];
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
