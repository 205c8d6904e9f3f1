import type { ReadyRole, RoleTarget } from '../roles';
import type { Scene } from '../bake';
import { newHit } from '../trace';
import type { Vec3 } from '../units';

/** A role that some surfaces seem to have. */
export interface ProposedRole {
  target: RoleTarget;
  as: ReadyRole;
  /** Triangles that have it. */
  triangles: number;
  /** One of their places. */
  atM: Vec3;
}

/** Words of names that say that a surface only marks the sky, or that it is no surface at all. */
const WORDS: Readonly<Record<'opening' | 'helper', RegExp>> = {
  opening: /(?:^|[^a-z]|[a-z](?<!whi|du|hu|ri|fri|mu))(?:sky(?:box|dome)?|skies|heaven)(?:[^a-z]|$)/i,
  helper: /(^|[^a-z])([a-z]*clip|trigger|no ?draw|hint|coll?ision|collider|portal|blocker|invisible|helper|nav ?mesh|occluder)([^a-z]|$)/i,
};
/** Points of the level that the sky is looked for from, and ways up from each. */
const POINTS = 400;
const WAYS: readonly Vec3[] = [
  [0, 1, 0],
  [0.5, 0.866, 0],
  [-0.25, 0.866, 0.433],
  [-0.25, 0.866, -0.433],
];
/** Share of the ways up that one object has to end, with nothing beyond it, before it is taken for the sky's place. */
const ENDS = 0.15;
/** With more of the ways up open than this there is sky enough. */
const OPEN = 0.005;

const placeOf = ({ positions, indices }: Scene['surfaces'], triangle: number): Vec3 =>
  [0, 1, 2].map((c) => [0, 1, 2].reduce((sum, k) => sum + positions[indices[triangle * 3 + k]! * 3 + c]!, 0) / 3) as Vec3;

/**
 * Roles that surfaces seem to have: by common words in the names of materials and objects; and, where almost no sky is seen, what shuts it out
 * with nothing beyond.
 */
export function proposeRoles(scene: Pick<Scene, 'surfaces' | 'tracer'>): ProposedRole[] {
  const { surfaces } = scene;
  const { materials, objects, materialOf, objectOf, traced } = surfaces;
  const found = new Map<string, ProposedRole>();
  for (let t = 0; t < materialOf.length; t++) {
    if (traced?.[t] === 0) continue;
    const [material, object] = [materials[materialOf[t]!]!.name, objects[objectOf[t]!]!];
    for (const as of ['opening', 'helper'] as const) {
      const by = WORDS[as].test(material) ? 'material' : WORDS[as].test(object) ? 'object' : null;
      if (!by) continue;
      const name = by === 'material' ? material : object;
      const own = found.get(`${by} ${name}`) ?? { target: { by, name }, as, triangles: 0, atM: placeOf(surfaces, t) };
      own.triangles++;
      found.set(`${by} ${name}`, own);
      break;
    }
  }
  return found.size > 0 ? [...found.values()] : shutOut(scene);
}

/** Objects that end the ways up from what faces up, with nothing beyond them, where nothing else of the sky is seen. */
function shutOut({ surfaces, tracer }: Pick<Scene, 'surfaces' | 'tracer'>): ProposedRole[] {
  const { positions: p, indices, objectOf, objects } = surfaces;
  const hit = newHit();
  const floors: number[] = [];
  for (let t = 0; t < objectOf.length; t++) {
    const [a, b, c] = [indices[t * 3]! * 3, indices[t * 3 + 1]! * 3, indices[t * 3 + 2]! * 3];
    const up = (p[b + 2]! - p[a + 2]!) * (p[c]! - p[a]!) - (p[b]! - p[a]!) * (p[c + 2]! - p[a + 2]!);
    if (up > 1e-6) floors.push(t);
  }
  const ends = new Map<number, { count: number; triangle: number }>();
  let [ways, open] = [0, 0];
  for (let i = 0; i < floors.length; i += Math.max(1, Math.floor(floors.length / POINTS))) {
    const [x, y, z] = placeOf(surfaces, floors[i]!);
    for (const way of WAYS) {
      ways++;
      if (!tracer.closest(x, y + 0.02, z, ...way, 0, Infinity, hit)) {
        open++;
        continue;
      }
      const { t, triangle } = hit;
      if (objectOf[triangle] === objectOf[floors[i]!]) continue;
      const beyond = t + Math.max(0.01, t * 1e-4);
      if (tracer.occluded(x, y + 0.02, z, ...way, beyond, Infinity)) continue;
      const own = ends.get(objectOf[triangle]!) ?? { count: 0, triangle };
      own.count++;
      ends.set(objectOf[triangle]!, own);
    }
  }
  if (ways === 0 || open > OPEN * ways) return [];
  return [...ends]
    .filter(([, { count }]) => count > ENDS * ways)
    .map(([object, { triangle }]) => ({
      target: { by: 'object', name: objects[object]! },
      as: 'opening',
      triangles: objectOf.reduce((sum, o) => sum + (o === object ? 1 : 0), 0),
      atM: placeOf(surfaces, triangle),
    }));
}
