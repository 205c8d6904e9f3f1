import type { LevelSummary, Surfaces } from '../level';
import { LUMINANCE_WEIGHTS, type Vec3 } from '../units';
import { newHit } from '../trace';
import { CLEAR_TEXELS, chartGaps } from './chartGaps';
import type { ReadyRole, RoleTarget } from '../roles';
import { proposeRoles } from './proposeRoles';
import { cosineDirection, hash32, samplePair, startOffset, type Scene } from '../bake';

/** Something about a level that would spoil its bake, or cost what nobody sees. */
export interface PreflightLine {
  code:
    | 'opening'
    | 'helper'
    | 'damaged'
    | 'broken-texture'
    | 'second-uv'
    | 'tight-charts'
    | 'zero-area'
    | 'density'
    | 'inside'
    | 'seen-from-behind'
    | 'no-sky'
    | 'black'
    | 'white'
    | 'fineness'
    | 'unlit'
    | 'missing'
    | 'sun-twice'
    | 'budget';
  /** The object it is about; null for the whole level. */
  object: string | null;
  /** In words, with a remedy. */
  text: string;
  /** Where to look, level space; null for the whole level. */
  atM: Vec3 | null;
  /** A role that would mend it. */
  role?: { target: RoleTarget; as: ReadyRole };
}

/** Points of each object that are looked from, and rays from each. */
const POINTS = 64;
const RAYS = 24;
/**
 * Share of a point's rays that meet the inside of something before it counts as buried, and of such points before the object is worth
 * a word: beams that end in walls are as they should be.
 */
const BURIED = { rays: 0.5, points: 0.5 };
/** Rays that met an object, and the share of them that met its back, before it counts as open. */
const OPEN = { rays: 24, share: 0.25 };
/** How many times denser or thinner than the level's own density an object's texels may be. */
const DENSITY = 3;
/** Objects smaller than this, square metres, are not worth a word about their density. */
const SMALL_M2 = 0.25;
/** Share of an object's texels that lie too close to another chart before it is worth a word. */
const TIGHT = 0.02;
/** Diffuse reflectances that no real surface has. */
const ALBEDO = { black: 0.02, white: 0.9 };

interface ObjectFacts {
  triangles: number[];
  /** Area of each of its triangles, summed up, square metres. */
  sums: number[];
  area: number;
  /** Texels that it takes up. */
  texels: number;
  middle: Vec3;
}

/** Gathers what is known of each object from its triangles alone. */
function readObjects({ positions, lightmapUv, indices, objectOf, objects, mapOf, maps }: Surfaces): ObjectFacts[] {
  const facts = objects.map((): ObjectFacts => ({ triangles: [], sums: [], area: 0, texels: 0, middle: [0, 0, 0] }));
  for (let t = 0; t < objectOf.length; t++) {
    const own = facts[objectOf[t]!]!;
    const map = maps[mapOf[t]!];
    const [a, b, c] = [indices[t * 3]!, indices[t * 3 + 1]!, indices[t * 3 + 2]!];
    const edge = (from: number, to: number): Vec3 => [0, 1, 2].map((k) => positions[to * 3 + k]! - positions[from * 3 + k]!) as Vec3;
    const [u, v] = [edge(a, b), edge(a, c)];
    const area = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
    own.triangles.push(t);
    own.area += area;
    own.sums.push(own.area);
    for (let k = 0; k < 3; k++) own.middle[k]! += (area * (positions[a * 3 + k]! + positions[b * 3 + k]! + positions[c * 3 + k]!)) / 3;
    if (map) {
      const at = (vertex: number, k: number) => lightmapUv[vertex * 2 + k]!;
      const cross = (at(b, 0) - at(a, 0)) * (at(c, 1) - at(a, 1)) - (at(b, 1) - at(a, 1)) * (at(c, 0) - at(a, 0));
      own.texels += (Math.abs(cross) / 2) * map.width * map.height;
    }
  }
  for (const own of facts) if (own.area > 0) own.middle = own.middle.map((v) => v / own.area) as Vec3;
  return facts;
}

/**
 * Where most of the texels are: how many a metre half of them have more than, and whether a place is among them. What stands far off
 * may well be coarser.
 */
function mostTexels(facts: readonly ObjectFacts[]): { density: number; near: (at: Vec3) => boolean } {
  const laid = facts.filter((f) => f.area > 0 && f.texels > 0).map((f) => ({ ...f, density: Math.sqrt(f.texels / f.area) }));
  const all = laid.reduce((sum, f) => sum + f.texels, 0);
  laid.sort((a, b) => a.density - b.density);
  let left = all / 2;
  const density = laid.find((f) => (left -= f.texels) <= 0)?.density ?? 0;
  const middle = [0, 1, 2].map((c) => laid.reduce((sum, f) => sum + f.texels * f.middle[c]!, 0) / all);
  const far = (at: Vec3) => Math.hypot(...at.map((v, c) => v - middle[c]!));
  const spread = Math.sqrt(laid.reduce((sum, f) => sum + f.texels * far(f.middle) ** 2, 0) / all);
  return { density, near: (at) => far(at) <= 2 * spread };
}

/** What rays from the points of every object meet. */
interface Seen {
  /** For each object: points looked from, those of them that are buried, and one of these. */
  points: number;
  buried: number;
  buriedAt: Vec3 | null;
  /** Rays that met it, those that met its back, and where one did. */
  met: number;
  back: number;
  backAt: Vec3 | null;
}

/** Looks around from points spread over every object by area; answers what was seen of each, and how many rays came to the sky. */
function lookAround(scene: Scene, facts: readonly ObjectFacts[]): { seen: Seen[]; sky: number } {
  const { tracer, surfaces } = scene;
  const seen = facts.map((): Seen => ({ points: 0, buried: 0, buriedAt: null, met: 0, back: 0, backAt: null }));
  const hit = newHit();
  const [position, normal, face, direction] = [0, 1, 2, 3].map(() => new Float64Array(3)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const pair = new Float64Array(2);
  const struck: { object: number; back: boolean; at: Vec3 }[] = [];
  let sky = 0;
  facts.forEach(({ triangles, sums, area }, object) => {
    if (!(area > 0)) return;
    for (let p = 0; p < POINTS; p++) {
      const seed = hash32(object, p + 1);
      const wanted = ((p + 0.5) / POINTS) * area;
      const place = sums.findIndex((s) => s >= wanted);
      const triangle = triangles[Math.max(0, place)]!;
      // One sequence for all of an object, so that its points are spread evenly over a large triangle.
      samplePair(p, 0, object, pair);
      const root = Math.sqrt(pair[0]!);
      const [u, v] = [root * (1 - pair[1]!), root * pair[1]!];
      scene.point(triangle, u, v, position);
      scene.normal(triangle, u, v, normal);
      scene.faceNormal(triangle, face);
      const offset = startOffset(position[0]!, position[1]!, position[2]!);
      const at: Vec3 = [position[0]!, position[1]!, position[2]!];
      const from = at.map((x, c) => x + face[c]! * offset) as Vec3;
      let inside = 0;
      struck.length = 0;
      for (let r = 0; r < RAYS; r++) {
        samplePair(r, 1, seed, pair);
        cosineDirection(normal[0]!, normal[1]!, normal[2]!, pair[0]!, pair[1]!, direction);
        if (!tracer.closest(...from, direction[0]!, direction[1]!, direction[2]!, 0, Infinity, hit)) {
          sky++;
          continue;
        }
        const back = hit.back && !scene.doubleSided(hit.triangle);
        if (back) inside++;
        struck.push({ object: surfaces.objectOf[hit.triangle]!, back, at: [0, 1, 2].map((c) => from[c]! + direction[c]! * hit.t) as Vec3 });
      }
      const own = seen[object]!;
      own.points++;
      if (inside > BURIED.rays * RAYS) {
        own.buried++;
        own.buriedAt ??= at;
        continue;
      }
      // Only what is in the open can tell whether something else is.
      for (const { object: other, back, at: where } of struck) {
        seen[other]!.met++;
        if (!back) continue;
        seen[other]!.back++;
        seen[other]!.backAt ??= where;
      }
    }
  });
  return { seen, sky };
}

/** Roles that surfaces seem to have, as lines. */
function roleLines(scene: Scene): PreflightLine[] {
  return proposeRoles(scene).map(({ target, as, triangles, atM }) => ({
    code: as === 'opening' ? 'opening' : 'helper',
    object: target.name,
    text:
      as === 'opening'
        ? `${target.name} (${triangles} triangles) seems to mark only where the sky is, and shuts it out: as an opening it lets the sky in.`
        : `${target.name} (${triangles} triangles) seems to be no surface that is seen: as a helper it is ignored.`,
    atM,
    role: { target, as },
  }));
}

/** What of a level's file was left behind as it was read. */
function leftLines(left: LevelSummary['left']): PreflightLine[] {
  if (!left) return [];
  const { damaged, textures, flat } = left;
  return [
    ...damaged.map(({ object, fault }): PreflightLine => ({
      code: 'damaged',
      object,
      text: `${fault} It was left behind: mend it and export the level again.`,
      atM: null,
    })),
    ...textures.map(({ fault }): PreflightLine => ({ code: 'broken-texture', object: null, text: fault, atM: null })),
    ...(flat.triangles > 0
      ? [
          {
            code: 'zero-area' as const,
            object: null,
            text: `${flat.triangles} ${flat.triangles === 1 ? 'triangle' : 'triangles'} of ${flat.objects} ${flat.objects === 1 ? 'object' : 'objects'} had no area: they carry no light.`,
            atM: null,
          },
        ]
      : []),
  ];
}

const unlitLine = (name: string): PreflightLine => ({
  code: 'unlit',
  object: null,
  text: `The material ${name} is to be shown without light: here it is lit as others are, and shines only by what it emits.`,
  atM: null,
});

/**
 * Looks a prepared level over before it is baked: what of it was left behind, second UV sets that could not be used, densities far from
 * the level's own, surfaces that lie inside of something, walls seen from behind, levels that see no sky, and albedos that no real
 * surface has. What rays find is found from {@link POINTS} points of each object, always the same ones.
 *
 * @param summary what {@link prepareLevel} told of it
 */
export function preflight(
  scene: Scene,
  { lightmaps, left, unlit = [] }: Pick<LevelSummary, 'lightmaps' | 'left' | 'unlit'>,
): PreflightLine[] {
  const { surfaces } = scene;
  const facts = readObjects(surfaces);
  const lines: PreflightLine[] = [...roleLines(scene), ...leftLines(left), ...unlit.map(unlitLine)];
  const middleOf = (name: string) => facts[surfaces.objects.indexOf(name)]?.middle ?? null;
  for (const { object, fault } of lightmaps.faults)
    lines.push({
      code: 'second-uv',
      object,
      text: `The second UV set of ${object} is ${fault}, so another was made: mend it, or leave it out of the file.`,
      atM: middleOf(object),
    });
  // Layouts that are made or packed here keep their charts apart.
  if (lightmaps.origin === 'file') {
    for (const [index, { texels, triangle }] of chartGaps(surfaces)) {
      if (texels < TIGHT * facts[index]!.texels) continue;
      const object = surfaces.objects[index]!;
      const corner = surfaces.indices[triangle * 3]! * 3;
      lines.push({
        code: 'tight-charts',
        object,
        text: `Charts of ${object} lie closer than ${CLEAR_TEXELS} texels to others on the lightmap, and light bleeds across: give them more room in the second UV set, raise the density, or take the set out so that Basil makes one.`,
        atM: [surfaces.positions[corner]!, surfaces.positions[corner + 1]!, surfaces.positions[corner + 2]!],
      });
    }
  }
  const { seen, sky } = lookAround(scene, facts);
  const { density: usual, near } = mostTexels(facts);
  surfaces.objects.forEach((object, i) => {
    const { area, texels, middle } = facts[i]!;
    const add = (code: PreflightLine['code'], text: string, atM: Vec3 = middle) => lines.push({ code, object, text, atM });
    const density = area > 0 ? Math.sqrt(texels / area) : usual;
    if (area > SMALL_M2 && texels > 0 && near(middle) && (density > usual * DENSITY || density < usual / DENSITY))
      add(
        'density',
        `${object} has ${density.toPrecision(2)} texels a metre where the level has ${usual.toPrecision(2)}: its light will look ${density > usual ? 'sharper' : 'blurrier'} than what is beside it.`,
      );
    const { points, buried, buriedAt, met, back, backAt } = seen[i]!;
    if (buried > BURIED.points * points)
      add(
        'inside',
        `About ${Math.round((100 * buried) / points)} % of ${object} lies inside of something: nobody sees it, and it costs texels.`,
        buriedAt!,
      );
    if (met >= OPEN.rays && back > OPEN.share * met)
      add(
        'seen-from-behind',
        `${object} is seen from behind: close it, turn its faces, or make its material double-sided, or it lets light through.`,
        backAt!,
      );
  });
  if (sky === 0 && facts.some((f) => f.area > 0))
    lines.push({
      code: 'no-sky',
      object: null,
      text: 'No sky is seen from anywhere: sky and sun will light nothing in this level.',
      atM: null,
    });
  const paints = meanVertexColors(surfaces);
  surfaces.materials.forEach(({ name, baseColor, baseColorTexture, transmission }, i) => {
    const triangle = surfaces.materialOf.indexOf(i);
    if (triangle < 0 || baseColorTexture !== null || transmission > 0) return;
    const painted = paints[i]!;
    const albedo = baseColor.reduce((sum, v, c) => sum + v * painted[c]! * LUMINANCE_WEIGHTS[c]!, 0);
    if (albedo >= ALBEDO.black && albedo <= ALBEDO.white) return;
    const object = surfaces.objects[surfaces.objectOf[triangle]!]!;
    const remedy =
      albedo < ALBEDO.black ? 'it sends no light back; real ones send 2 % or more' : 'light never dies there; real ones send 90 % at most';
    lines.push({
      code: albedo < ALBEDO.black ? 'black' : 'white',
      object,
      text: `The material ${name} reflects ${(100 * albedo).toFixed(0)} %: ${remedy}.`,
      atM: middleOf(object),
    });
  });
  return lines;
}

/** Mean of the vertices' colours on each material, linear RGB: what its base colour is multiplied by. */
function meanVertexColors({ materials, materialOf, indices, colors }: Surfaces): number[][] {
  const sums = materials.map(() => [0, 0, 0, 0]);
  materialOf.forEach((material, t) => {
    const sum = sums[material]!;
    for (let k = t * 3; k < t * 3 + 3; k++) for (let c = 0; c < 3; c++) sum[c]! += colors[indices[k]! * 3 + c]!;
    sum[3]! += 3;
  });
  return sums.map(([r, g, b, count]) => [r!, g!, b!].map((v) => v / Math.max(1, count!)));
}
