import { Failure } from '../units';
import { chartAndPack, packCharts, wholeBlocks, type Charted, type ChartedMesh, type MeshToChart, type PackedMaps } from './atlas';
import { joinPieces, piecesOf, type Piece } from './chartPieces';
import { uvArea, worldArea, type Instance } from './instances';
import { secondUvFault, shareOneLayout, type UvFault } from './secondUv';
import type { MappedRule } from '../roles';
import type { Placing } from '../units';
import { NO_MAP, type MapSize } from './types';

export interface LayoutOptions {
  /** Lightmap texels per metre. */
  texelsPerM: number;
  /** Longest side of one map, in texels. */
  maxMapSize: number;
  /** Factors on the density of objects, by their names; 1 for the others, 0 for those that are left out and have no lightmap. */
  densities?: Record<string, number>;
  /** The same by names of the nodes that objects lie under, the nearest first; an object's own comes before. */
  groupDensities?: Record<string, number>;
  /** How the file lies in metres with Y up; as glTF says where it is not given. */
  placing?: Placing;
  /** What of the level has no lightmap by its role; all has one where it is not given. */
  mapped?: MappedRule[];
}

export interface Layout {
  maps: MapSize[];
  /** Whose coordinates these are: the file's own layout, the file's own charts packed together, or charts made here. */
  origin: 'file' | 'packed' | 'made';
  /** Lightmap coordinates of each instance. */
  instances: Charted[];
  /** What keeps each instance's own second UV set from carrying a lightmap; null where nothing does, or where it needs none. */
  faults: (UvFault | null)[];
}

/** Told the share done, 0..1. */
type Progress = (share: number) => void;

/**
 * The file's own layout, taken as it is; each map is as large as the density asks, up to the cap, and square unless the
 * level says that it was laid out for another shape.
 */
function ownLayout(instances: Instance[], { texelsPerM, maxMapSize }: LayoutOptions, before: MapSize[]): Omit<Layout, 'faults'> {
  const maps: MapSize[] = [];
  for (let map = 0; map <= instances.reduce((most, i) => Math.max(most, i.map), 0); map++) {
    const here = instances.filter((i) => i.map === map);
    const metres = here.reduce((sum, i) => sum + worldArea(i) * i.density ** 2, 0);
    const units = here.reduce((sum, i) => sum + uvArea(i.uv2!, i.indices), 0);
    const side = units > 0 ? texelsPerM * Math.sqrt(metres / units) : 16;
    const { width, height } = before[map] ?? { width: 1, height: 1 };
    const stretch = Math.sqrt(width / height);
    maps.push({ width: wholeBlocks(side * stretch, maxMapSize), height: wholeBlocks(side / stretch, maxMapSize) });
  }
  return {
    maps,
    origin: 'file',
    instances: instances.map(ownPlace),
  };
}

/** An instance whole, with the charts that it brings, each brought to the level's density. */
function ownCharts(instance: Instance, owner: number, texelsPerM: number): Piece {
  const { uv2, indices, density } = instance;
  const area = worldArea(instance);
  const perUnit = density * Math.sqrt(area / Math.max(uvArea(uv2!, indices), 1e-12));
  return {
    owner,
    triangles: Uint32Array.from({ length: indices.length / 3 }, (_, t) => t),
    vertices: Uint32Array.from({ length: uv2!.length / 2 }, (_, v) => v),
    texels: area * (density * texelsPerM) ** 2,
    mesh: { uv: uv2!.map((v) => v * perUnit), indices },
  };
}

/** Maps that one run of the packer fills: it slows down with the square of what it is given. */
const BATCH_MAPS = 2;
/** Texels that a map takes for each of its charts' area, before the first run has told. */
const FIRST_RATIO = 1.8;

const isCharted = ({ mesh }: Piece): boolean => 'uv' in mesh;

/** Lays pieces on maps, some at a time, so that what it takes grows with their number and no faster. */
async function packPieces(
  pieces: readonly Piece[],
  options: LayoutOptions,
  progress: Progress,
): Promise<{ maps: MapSize[]; charted: Map<Piece, Charted> }> {
  const maps: MapSize[] = [];
  const charted = new Map<Piece, Charted>();
  const all = pieces.reduce((sum, p) => sum + p.texels + p.triangles.length, 0);
  let done = 0;
  for (const kind of [pieces.filter((p) => !isCharted(p)), pieces.filter(isCharted)]) {
    let [next, ratio] = [0, FIRST_RATIO];
    while (next < kind.length) {
      const batch: Piece[] = [];
      let [texels, triangles] = [0, 0];
      const most = (BATCH_MAPS * options.maxMapSize ** 2) / ratio;
      while (next < kind.length && (batch.length === 0 || (texels < most && triangles < BATCH_TRIANGLES && batch.length < BATCH_PIECES))) {
        texels += kind[next]!.texels;
        triangles += isCharted(kind[next]!) ? 0 : kind[next]!.triangles.length;
        batch.push(kind[next++]!);
      }
      const packed = await packBatch(batch, options);
      if (!packed) continue;
      if (texels > 0) ratio = Math.max(1, packed.maps.reduce((sum, m) => sum + m.width * m.height, 0) / texels);
      packed.meshes.forEach((mesh, i) => charted.set(batch[i]!, { ...mesh, mapOf: mesh.mapOf.map((m) => m + maps.length) }));
      maps.push(...packed.maps);
      done += batch.reduce((sum, p) => sum + p.texels + p.triangles.length, 0);
      progress(done / all);
    }
  }
  return { maps, charted };
}
/** Pieces, and triangles that charts are made for, of one run at the most, however small they are. */
const BATCH_PIECES = 1000;
const BATCH_TRIANGLES = 100_000;

/** Lays a batch out; null where none of it has a surface. */
async function packBatch(batch: readonly Piece[], options: LayoutOptions): Promise<PackedMaps | null> {
  if (!batch.some((p) => p.texels > 0)) return null;
  const meshes = batch.map((p) => p.mesh);
  return isCharted(batch[0]!) ? packCharts(meshes as ChartedMesh[], options) : chartAndPack(meshes as MeshToChart[], options);
}

/** What copies of one geometry have in common: where they stand, turn and are mirrored does not change their charts. */
function copyKey({ primitive, node, density }: Instance, ids: Map<object, number>): string {
  if (!ids.has(primitive)) ids.set(primitive, ids.size);
  const m = node.getWorldMatrix();
  const dot = (a: number, b: number) => m[a]! * m[b]! + m[a + 1]! * m[b + 1]! + m[a + 2]! * m[b + 2]!;
  const lengths = [dot(0, 0), dot(4, 4), dot(8, 8), dot(0, 4), dot(4, 8), dot(8, 0)];
  return [ids.get(primitive), density, ...lengths.map((v) => v.toPrecision(4))].join(' ');
}

/** Most pieces of geometries with copies that charts are made for in one run. */
const CHART_PIECES = 500;

/** Pieces of instances without charts of their own. Copies of one geometry share the charts that are made for the first of them. */
async function piecesToChart(
  owners: readonly number[],
  instances: readonly Instance[],
  options: LayoutOptions,
  progress: Progress,
): Promise<Piece[]> {
  const ids = new Map<object, number>();
  const groups = new Map<string, number[]>();
  for (const owner of owners) {
    const key = copyKey(instances[owner]!, ids);
    const group = groups.get(key);
    if (group) group.push(owner);
    else groups.set(key, [owner]);
  }
  let cuts = 0;
  const cut = (owner: number) => {
    progress((0.5 * ++cuts) / groups.size);
    return piecesOf(instances[owner]!, owner, options.texelsPerM, options.maxMapSize);
  };
  const single = [...groups.values()].filter((g) => g.length === 1).flatMap(([owner]) => cut(owner!));
  const shared = [...groups.values()].filter((g) => g.length > 1).map((group) => ({ group, pieces: cut(group[0]!) }));
  const toChart = shared.flatMap(({ pieces }) => pieces.filter((p) => !isCharted(p) && p.texels > 0));
  const charts = new Map<Piece, Pick<Piece, 'vertices' | 'mesh'>>();
  for (let i = 0; i < toChart.length; i += CHART_PIECES) {
    const batch = toChart.slice(i, i + CHART_PIECES);
    // On one map as large as need be: only its charts are used.
    const { maps, meshes } = await chartAndPack(
      batch.map((p) => p.mesh as MeshToChart),
      { ...options, maxMapSize: 0 },
    );
    const [{ width, height }] = maps as [MapSize];
    meshes.forEach(({ source, uv, indices }, k) => {
      const piece = batch[k]!;
      const metres = uv.map((v, c) => (v * (c & 1 ? height : width)) / options.texelsPerM);
      charts.set(piece, { vertices: source.map((v) => piece.vertices[v]!), mesh: { uv: metres, indices } });
    });
    progress(Math.min(1, 0.5 + (0.5 * (i + CHART_PIECES)) / toChart.length));
  }
  return [
    ...single,
    ...shared.flatMap(({ group, pieces }) => group.flatMap((owner) => pieces.map((piece) => ({ ...piece, ...charts.get(piece), owner })))),
  ].sort((a, b) => a.owner - b.owner);
}

/** An instance that has no place in any lightmap. */
const leftOut = ({ positions, indices }: Instance): Charted => ({
  source: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
  uv: new Float32Array((positions.length / 3) * 2),
  indices,
  mapOf: new Uint16Array(indices.length / 3).fill(NO_MAP),
});

/**
 * Gives every instance a place in the level's lightmaps at a texel density, on more maps when one is not enough. Those of density 0
 * get none.
 *
 * A second UV set that the file brings is used as it is when all of them share one layout without overlaps; when each is
 * valid only by itself, its charts are kept and packed with the others'; where it is missing or invalid, charts are made.
 */
export async function layOut(
  instances: Instance[],
  options: LayoutOptions,
  before: MapSize[] = [],
  progress: Progress = () => undefined,
): Promise<Layout> {
  const faults = instances.map((i) => (i.density > 0 ? secondUvFault(i) : null));
  const baked = instances.flatMap((i, owner) => (i.density > 0 ? [owner] : []));
  if (baked.length === 0)
    throw new Failure('bad-input', 'Every object is left out of the bake.', 'Give at least one of them a texel density again.');
  const made = baked.filter((owner) => faults[owner] !== null);
  const own = baked.map((owner) => instances[owner]!);
  if (made.length === 0 && shareOneLayout(own)) {
    const layout = ownLayout(own, options, before);
    let next = 0;
    return { ...layout, faults, instances: instances.map((i) => (i.density > 0 ? layout.instances[next++]! : leftOut(i))) };
  }
  const pieces = [
    ...(await piecesToChart(made, instances, options, (share) => progress(0.3 * share))),
    ...baked.filter((owner) => faults[owner] === null).map((owner) => ownCharts(instances[owner]!, owner, options.texelsPerM)),
  ];
  const { maps, charted } = await packPieces(pieces, options, (share) => progress(0.3 + 0.7 * share));
  if (maps.length === 0)
    throw new Failure(
      'bad-input',
      'The level has no surface that could carry light.',
      'All its triangles are without area; mend them and export it again.',
    );
  const ofOwner = new Map<number, { piece: Piece; charted: Charted }[]>();
  for (const piece of pieces) {
    const own = charted.get(piece) ?? withoutChart(piece);
    const list = ofOwner.get(piece.owner);
    if (list) list.push({ piece, charted: own });
    else ofOwner.set(piece.owner, [{ piece, charted: own }]);
  }
  return {
    maps,
    origin: made.length === baked.length ? 'made' : 'packed',
    faults,
    instances: instances.map((instance, owner) => (instance.density > 0 ? joinPieces(instance, ofOwner.get(owner)!) : leftOut(instance))),
  };
}

/**
 * Lays out what of a level is new on maps of its own, beside those that the rest keeps.
 *
 * @param isKept of each instance whether it brings its charts and its place among `maps`
 */
export async function layOutBeside(
  instances: Instance[],
  isKept: readonly boolean[],
  maps: readonly MapSize[],
  options: LayoutOptions,
  progress?: Progress,
): Promise<Layout> {
  const others = instances.filter((_, i) => !isKept[i]);
  const none: Layout = { maps: [], origin: 'file', instances: others.map(leftOut), faults: others.map(() => null) };
  const added = others.some((i) => i.density > 0) ? await layOut(others, options, [], progress) : none;
  let next = 0;
  const placed = instances.map((instance, i) => {
    if (isKept[i]) return { charted: ownPlace(instance), fault: null };
    const { mapOf, ...charted } = added.instances[next]!;
    const fault = added.faults[next++]!;
    return { charted: { ...charted, mapOf: mapOf.map((m) => (m === NO_MAP ? m : m + maps.length)) }, fault };
  });
  return {
    maps: [...maps, ...added.maps],
    origin: added.origin === 'file' ? 'packed' : added.origin,
    instances: placed.map((p) => p.charted),
    faults: placed.map((p) => p.fault),
  };
}

/** An instance as it lies on the map that it says. */
const ownPlace = ({ uv2, positions, indices, map }: Instance): Charted => ({
  source: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
  uv: uv2?.slice() ?? new Float32Array((positions.length / 3) * 2),
  indices,
  mapOf: new Uint16Array(indices.length / 3).fill(map),
});

/** A piece without a surface: it holds no texel, so any map will do. */
const withoutChart = ({ vertices, mesh, triangles }: Piece): Charted => ({
  source: Uint32Array.from(vertices.keys()),
  uv: new Float32Array(vertices.length * 2),
  indices: mesh.indices,
  mapOf: new Uint16Array(triangles.length),
});
