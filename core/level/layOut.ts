import * as watlas from 'watlas';
import { Failure } from '../units';
import { pick, uvArea, worldArea, type Instance } from './instances';
import { secondUvFault, shareOneLayout } from './secondUv';
import { NO_MAP, type MapSize } from './types';

export interface LayoutOptions {
  /** Lightmap texels per metre. */
  texelsPerM: number;
  /** Longest side of one map, in texels. */
  maxMapSize: number;
  /** Factors on the density of objects, by their names; 1 for the others, 0 for those that are left out and have no lightmap. */
  densities?: Record<string, number>;
}

/** Lightmap coordinates for one instance. Vertices are split where charts part, so they are listed anew. */
export interface InstanceLayout {
  /** For each new vertex: the instance's vertex it copies. */
  source: Uint32Array;
  /** 2 per new vertex, 0..1 in its map. */
  uv: Float32Array;
  /** 3 per triangle, into the new vertices. */
  indices: Uint32Array;
  /** 1 per triangle. */
  mapOf: Uint16Array;
}

export interface Layout {
  maps: MapSize[];
  /** Whose coordinates these are: the file's own layout, the file's own charts packed together, or charts made here. */
  origin: 'file' | 'packed' | 'made';
  instances: InstanceLayout[];
}

/** Told the share done, 0..1. */
type Progress = (share: number) => void;

/** Texels kept free between charts, so that each can be dilated by two. */
const GUTTER = 4;

/** A map's side in texels: whole blocks of four, so that compressed textures fit. */
const wholeBlocks = (texels: number, cap: number) => Math.min(cap, Math.max(16, Math.ceil(texels / 4) * 4));

/**
 * The file's own layout, taken as it is; each map is as large as the density asks, up to the cap, and square unless the
 * level says that it was laid out for another shape.
 */
function ownLayout(instances: Instance[], { texelsPerM, maxMapSize }: LayoutOptions, before: MapSize[]): Layout {
  const maps: MapSize[] = [];
  for (let map = 0; map <= Math.max(...instances.map((i) => i.map)); map++) {
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
    instances: instances.map(({ uv2, indices, map }) => ({
      source: Uint32Array.from({ length: uv2!.length / 2 }, (_, i) => i),
      uv: uv2!.slice(),
      indices,
      mapOf: new Uint16Array(indices.length / 3).fill(map),
    })),
  };
}

function readAtlas(atlas: watlas.Atlas, count: number, origin: Layout['origin']): Layout {
  // Each map is cut to what is used of it; coordinates come in texels.
  const used = Array.from({ length: atlas.atlasCount }, () => [0, 0] as [number, number]);
  const cap = [atlas.width, atlas.height] as const;
  const inTexels = Array.from({ length: count }, (_, index) => {
    const mesh = atlas.getMesh(index);
    const indices = new Uint32Array(mesh.indexCount);
    mesh.getIndexArray(indices);
    const source = new Uint32Array(mesh.vertexCount);
    const uv = new Float32Array(mesh.vertexCount * 2);
    // A triangle without area gets no chart (-1); it holds no texel, so any map will do.
    const mapOfVertex = new Uint16Array(mesh.vertexCount);
    for (let v = 0; v < mesh.vertexCount; v++) {
      const vertex = mesh.getVertex(v);
      source[v] = vertex.xref;
      uv.set(vertex.uv, v * 2);
      mapOfVertex[v] = Math.max(0, vertex.atlasIndex);
      const extent = used[mapOfVertex[v]!]!;
      for (let c = 0; c < 2; c++) extent[c] = Math.max(extent[c]!, vertex.uv[c]!);
    }
    return { source, uv, indices, mapOfVertex };
  });
  const maps = used.map(([x, y]) => ({ width: wholeBlocks(x + GUTTER / 2, cap[0]), height: wholeBlocks(y + GUTTER / 2, cap[1]) }));
  return {
    maps,
    origin,
    instances: inTexels.map(({ source, uv, indices, mapOfVertex }) => ({
      source,
      uv: uv.map((texels, i) => {
        const { width, height } = maps[mapOfVertex[i >> 1]!]!;
        return texels / (i & 1 ? height : width);
      }),
      indices,
      mapOf: Uint16Array.from({ length: indices.length / 3 }, (_, t) => mapOfVertex[indices[t * 3]!]!),
    })),
  };
}

/** Runs `fill` on a fresh atlas and reads the layout it packed. */
async function withAtlas(
  count: number,
  origin: Layout['origin'],
  options: LayoutOptions,
  fill: (atlas: watlas.Atlas) => void,
): Promise<Layout> {
  await watlas.Initialize();
  const atlas = new (watlas.Atlas as unknown as { new (): watlas.Atlas })();
  try {
    fill(atlas);
    atlas.packCharts({
      padding: GUTTER,
      texelsPerUnit: options.texelsPerM,
      resolution: options.maxMapSize,
      bilinear: true,
      rotateCharts: true,
    });
    if (atlas.atlasCount === 0)
      throw new Failure(
        'bad-input',
        'The level has no surface that could carry light.',
        'All its triangles are without area; mend them and export it again.',
      );
    return readAtlas(atlas, count, origin);
  } finally {
    atlas.delete();
  }
}

/** Charts made from the geometry itself, in metres times each object's density. */
async function madeLayout(instances: Instance[], options: LayoutOptions, progress: Progress): Promise<Layout> {
  const pieces = instances.flatMap((instance, owner) =>
    cutToPieces(instance).map((triangles) => ({ owner, triangles, ...ownVertices(instance, triangles) })),
  );
  const layout = await withAtlas(pieces.length, 'made', options, (atlas) => {
    for (const { owner, vertices, indexData } of pieces) {
      const { worldPositions, normals, density } = instances[owner]!;
      atlas.addMesh({
        vertexPositionData: pick(vertices, worldPositions, 3).map((v) => v * density),
        vertexNormalData: pick(vertices, normals, 3),
        vertexCount: vertices.length,
        vertexPositionStride: 12,
        vertexNormalStride: 12,
        indexData,
        indexCount: indexData.length,
      });
    }
    progress(0.1);
    atlas.computeCharts({ maxIterations: 2, normalDeviationWeight: 2, normalSeamWeight: 4 });
    progress(0.7);
  });
  return { ...layout, instances: instances.map((instance, owner) => joinPieces(instance, pieces, layout.instances, owner)) };
}

/** A part of an instance that charts are made for by itself. */
interface Piece {
  owner: number;
  triangles: Uint32Array;
  /** The instance's vertices that it uses. */
  vertices: Uint32Array;
}

/** Chart-making slows down with the square of a mesh's size and worse; pieces of this many triangles keep it linear. */
const PIECE_TRIANGLES = 1024;

/** The vertices that some triangles of an instance use, and the triangles' corners among them. */
function ownVertices({ indices }: Instance, triangles: Uint32Array): { vertices: Uint32Array; indexData: Uint32Array } {
  const numbers = new Map<number, number>();
  const indexData = new Uint32Array(triangles.length * 3);
  triangles.forEach((t, k) => {
    for (let c = 0; c < 3; c++) {
      const v = indices[t * 3 + c]!;
      if (!numbers.has(v)) numbers.set(v, numbers.size);
      indexData[k * 3 + c] = numbers.get(v)!;
    }
  });
  return { vertices: Uint32Array.from(numbers.keys()), indexData };
}

/** The triangles of an instance in pieces, halved along the longest side of their extent until each is small enough. */
function cutToPieces({ worldPositions, indices }: Instance): Uint32Array[] {
  const centre = (t: number, axis: number) =>
    worldPositions[indices[t * 3]! * 3 + axis]! +
    worldPositions[indices[t * 3 + 1]! * 3 + axis]! +
    worldPositions[indices[t * 3 + 2]! * 3 + axis]!;
  const done: Uint32Array[] = [];
  const pending = [Uint32Array.from({ length: indices.length / 3 }, (_, t) => t)];
  while (pending.length > 0) {
    const piece = pending.pop()!;
    if (piece.length <= PIECE_TRIANGLES) {
      done.push(piece);
      continue;
    }
    const extents = [0, 1, 2].map((axis) => {
      let [low, high] = [Infinity, -Infinity];
      for (const t of piece) [low, high] = [Math.min(low, centre(t, axis)), Math.max(high, centre(t, axis))];
      return high - low;
    });
    const axis = extents.indexOf(Math.max(...extents));
    piece.sort((a, b) => centre(a, axis) - centre(b, axis) || a - b);
    pending.push(piece.slice(piece.length >> 1), piece.slice(0, piece.length >> 1));
  }
  return done;
}

/** The layouts of an instance's pieces as one, its triangles back in their own order. */
function joinPieces(instance: Instance, pieces: Piece[], layouts: InstanceLayout[], owner: number): InstanceLayout {
  const own = pieces.flatMap((piece, i) => (piece.owner === owner ? [{ ...piece, layout: layouts[i]! }] : []));
  const vertices = own.reduce((sum, { layout }) => sum + layout.source.length, 0);
  const joined: InstanceLayout = {
    source: new Uint32Array(vertices),
    uv: new Float32Array(vertices * 2),
    indices: new Uint32Array(instance.indices.length),
    mapOf: new Uint16Array(instance.indices.length / 3),
  };
  let first = 0;
  for (const { triangles, vertices, layout } of own) {
    joined.source.set(
      layout.source.map((v) => vertices[v]!),
      first,
    );
    joined.uv.set(layout.uv, first * 2);
    triangles.forEach((t, k) => {
      for (let c = 0; c < 3; c++) joined.indices[t * 3 + c] = layout.indices[k * 3 + c]! + first;
      joined.mapOf[t] = layout.mapOf[k]!;
    });
    first += layout.source.length;
  }
  return joined;
}

/** Charts that objects bring themselves, each brought to the level's density and packed with the others. */
function packedLayout(
  charts: { uv: Float32Array; indices: Uint32Array }[],
  instances: Instance[],
  options: LayoutOptions,
): Promise<Layout> {
  return withAtlas(instances.length, 'packed', options, (atlas) => {
    charts.forEach(({ uv, indices }, k) => {
      const instance = instances[k]!;
      const perUnit = instance.density * Math.sqrt(worldArea(instance) / Math.max(uvArea(uv, indices), 1e-12));
      atlas.addUvMesh({
        vertexUvData: uv.map((v) => v * perUnit),
        vertexCount: uv.length / 2,
        vertexStride: 8,
        indexData: indices,
        indexCount: indices.length,
      });
    });
    atlas.computeCharts({});
  });
}

/** An instance that has no place in any lightmap. */
const leftOut = ({ positions, indices }: Instance): InstanceLayout => ({
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
  const baked = instances.filter((i) => i.density > 0);
  if (baked.length === 0)
    throw new Failure('bad-input', 'Every object is left out of the bake.', 'Give at least one of them a texel density again.');
  const layout = await layOutBaked(baked, options, before, progress);
  let next = 0;
  return { ...layout, instances: instances.map((i) => (i.density > 0 ? layout.instances[next++]! : leftOut(i))) };
}

async function layOutBaked(instances: Instance[], options: LayoutOptions, before: MapSize[], progress: Progress): Promise<Layout> {
  const faulty = instances.map((i) => secondUvFault(i) !== null);
  if (faulty.every(Boolean)) return madeLayout(instances, options, progress);
  if (!faulty.some(Boolean) && shareOneLayout(instances)) return ownLayout(instances, options, before);
  const made = faulty.some(Boolean)
    ? await madeLayout(
        instances.filter((_, i) => faulty[i]),
        // One map as large as need be: only its charts are used.
        { ...options, maxMapSize: 0 },
        progress,
      )
    : null;
  let next = 0;
  const sources: InstanceLayout[] = instances.map((instance, i) =>
    faulty[i]
      ? made!.instances[next++]!
      : {
          source: Uint32Array.from({ length: instance.uv2!.length / 2 }, (_, v) => v),
          uv: instance.uv2!,
          indices: instance.indices,
          mapOf: new Uint16Array(),
        },
  );
  const packed = await packedLayout(sources, instances, options);
  return {
    ...packed,
    instances: packed.instances.map((layout, i) => ({ ...layout, source: layout.source.map((v) => sources[i]!.source[v]!) })),
  };
}
