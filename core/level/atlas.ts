import * as watlas from 'watlas';
import type { MapSize } from './types';

/** Texels kept free between charts, so that each can be dilated by two. */
export const GUTTER = 4;

/** A map's side in texels: whole blocks of four, so that compressed textures fit. */
export const wholeBlocks = (texels: number, cap: number): number => Math.min(cap, Math.max(16, Math.ceil(texels / 4) * 4));

/** A mesh as its charts lie on maps. Vertices are split where charts part, so they are listed anew. */
export interface Charted {
  /** For each new vertex: the mesh's vertex it copies. */
  source: Uint32Array;
  /** 2 per new vertex, 0..1 in its map. */
  uv: Float32Array;
  /** 3 per triangle, into the new vertices. */
  indices: Uint32Array;
  /** 1 per triangle. */
  mapOf: Uint16Array;
}

export interface PackedMaps {
  maps: MapSize[];
  meshes: Charted[];
}

/** Meshes in metres times their density, that charts are made for. */
export interface MeshToChart {
  positions: Float32Array;
  normals: Float32Array;
  indices: Uint32Array;
}

/** Meshes that bring their charts: coordinates in metres times their density. */
export interface ChartedMesh {
  uv: Float32Array;
  indices: Uint32Array;
}

interface PackOptions {
  texelsPerM: number;
  maxMapSize: number;
}

/** Makes charts for meshes and packs them on as many maps as they need. */
export const chartAndPack = (meshes: readonly MeshToChart[], options: PackOptions): Promise<PackedMaps> =>
  withAtlas(meshes.length, options, (atlas) => {
    for (const { positions, normals, indices } of meshes) {
      atlas.addMesh({
        vertexPositionData: positions,
        vertexNormalData: normals,
        vertexCount: positions.length / 3,
        vertexPositionStride: 12,
        vertexNormalStride: 12,
        indexData: indices,
        indexCount: indices.length,
      });
    }
    atlas.computeCharts({ maxIterations: 2, normalDeviationWeight: 2, normalSeamWeight: 4 });
  });

/** Packs the charts that meshes bring on as many maps as they need. */
export const packCharts = (meshes: readonly ChartedMesh[], options: PackOptions): Promise<PackedMaps> =>
  withAtlas(meshes.length, options, (atlas) => {
    for (const { uv, indices } of meshes)
      atlas.addUvMesh({ vertexUvData: uv, vertexCount: uv.length / 2, vertexStride: 8, indexData: indices, indexCount: indices.length });
    atlas.computeCharts({});
  });

/** Runs `fill` on a fresh atlas, packs it and reads what came of it. */
async function withAtlas(count: number, { texelsPerM, maxMapSize }: PackOptions, fill: (atlas: watlas.Atlas) => void): Promise<PackedMaps> {
  await watlas.Initialize();
  const atlas = new (watlas.Atlas as unknown as { new (): watlas.Atlas })();
  try {
    fill(atlas);
    atlas.packCharts({ padding: GUTTER, texelsPerUnit: texelsPerM, resolution: maxMapSize, bilinear: true, rotateCharts: true });
    return readAtlas(atlas, count);
  } finally {
    atlas.delete();
  }
}

function readAtlas(atlas: watlas.Atlas, count: number): PackedMaps {
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
    meshes: inTexels.map(({ source, uv, indices, mapOfVertex }) => ({
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
