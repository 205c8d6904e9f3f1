import type { Scene } from '../bake';
import { newHit, type Tracer } from '../trace';
import type { GroundBox, Vec3 } from '../units';

/** Columns along each side of the grid that floors are looked for on. */
const COLUMNS = 32;
/** Height of the eye over the floor, and the room that a person needs, metres. */
export const EYE_M = 1.65;
const HEADROOM_M = 1.9;
/** What is steeper than this is no floor: the cosine to upright. */
const FLOOR_COSINE = 0.75;
/** Floors on one column that are looked through at the most. */
const MOST_HITS = 40;
/** The step that a person takes up or down, metres. */
const STEP_M = 0.5;

/** A place on a floor, and its column of the grid. */
export interface Floor {
  at: Vec3;
  column: number;
}

/**
 * Places on floors that a person can stand on and walk between, of those that hang together the most, on a grid seen from above.
 *
 * @param box where they are looked for; by default where most of the level's objects stand
 */
export const walkableFloor = (scene: Pick<Scene, 'surfaces' | 'tracer'>, box: GroundBox | null = null): Floor[] =>
  walkable(findFloors(scene, box), scene.tracer);

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
function findFloors({ surfaces, tracer }: Pick<Scene, 'surfaces' | 'tracer'>, box: GroundBox | null): Floor[] {
  const { top, ...middle } = middleOfLevel(surfaces);
  const [min, max] = box
    ? ([
        [box.min[0], 0, box.min[1]],
        [box.max[0], 0, box.max[1]],
      ] as const)
    : [middle.min, middle.max];
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
